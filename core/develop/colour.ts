import { z } from 'zod';
import { hueTurn } from '../color/hueTurn.ts';
import { CHROMA_FULL } from '../color/oklab.ts';
import type { PointStep } from '../color/pointSteps.ts';
import { smoothstep } from '../kernels/smoothstep.ts';
import { hueWindow } from '../masks/rangeWindow.ts';
import type { SettingRow } from '../refinements/settingRow.ts';
import { defineAdjustment } from './defineAdjustment.ts';

const Share = z.number().min(-1).max(1);

/** Hues, in degrees of Oklab: their middle, how far they reach each way in full, and the shoulder beyond. */
const HueRange = z.strictObject({
  centre: z.number().min(0).max(360),
  width: z.number().min(0).max(180),
  shoulder: z.number().min(0).max(180),
  /** Degrees by which they are turned, and changes of chroma and lightness as shares. */
  turn: z.number().min(-60).max(60),
  saturation: Share,
  lightness: Share,
});
type HueRange = z.infer<typeof HueRange>;

/** Colours of so little chroma have no hue to speak of: hue ranges come in over it, so that noise of greys is left alone. */
const HUELESS = 0.04;
/** Hues are tabled by half degrees. */
const HUES = 720;

/** Numbers of a range of hues. */
export const HUE_ROWS: readonly SettingRow[] = [
  { path: ['centre'], min: 0, max: 360, step: 1, unit: 'degrees', usual: 60 },
  { path: ['width'], min: 0, max: 180, step: 1, unit: 'degrees', usual: 15 },
  { path: ['shoulder'], min: 0, max: 180, step: 1, unit: 'degrees', usual: 25 },
  { path: ['turn'], min: -60, max: 60, step: 0.5, unit: 'degrees', usual: 0 },
  { path: ['saturation'], min: -1, max: 1, step: 0.01, unit: 'share', usual: 0 },
  { path: ['lightness'], min: -1, max: 1, step: 0.01, unit: 'share', usual: 0 },
];

/** Saturation of all colours, less of those that are vivid already, and hue, saturation and lightness of ranges of hues. */
export const colour = defineAdjustment({
  schema: z.strictObject({
    saturation: Share,
    /** How far vivid colours are spared, 0..1. */
    spare: z.number().min(0).max(1),
    ranges: z.array(HueRange).max(8),
  }),
  rest: { saturation: 0, spare: 0.5, ranges: [] },
  isAtRest: ({ saturation, ranges }) =>
    saturation === 0 && ranges.every((each) => each.turn === 0 && each.saturation === 0 && each.lightness === 0),
  rows: [
    { path: ['saturation'], min: -1, max: 1, step: 0.01, unit: 'share', usual: 0 },
    { path: ['spare'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.5 },
  ],
  steps: ({ saturation, spare, ranges }) => {
    const steps: PointStep[] = [];
    if (ranges.length > 0) steps.push(hueStep(ranges));
    if (saturation !== 0)
      steps.push({
        step: 'lab',
        change: (_, a, b) => {
          for (let i = 0; i < a.length; i++) {
            const vivid = Math.min(1, Math.sqrt(a[i] * a[i] + b[i] * b[i]) / CHROMA_FULL);
            const by = 1 + saturation * (1 - spare * vivid);
            a[i] *= by;
            b[i] *= by;
          }
        },
      });
    return steps;
  },
});

function hueStep(ranges: readonly HueRange[]): PointStep {
  const sums = (pick: (range: HueRange) => number) =>
    Float64Array.from({ length: HUES + 1 }, (_, i) =>
      ranges.reduce((sum, range) => sum + pick(range) * hueWindow(range, ((i % HUES) * 360) / HUES), 0),
    );
  const [turns, saturations, lightnesses] = [
    sums(({ turn }) => (turn * Math.PI) / 180),
    sums((range) => range.saturation),
    sums((range) => range.lightness),
  ];
  // Most hues of a picture lie in no range: from one knot of the table to the next nothing is done to them.
  const isChanged = Uint8Array.from({ length: HUES }, (_, i) =>
    [turns, saturations, lightnesses].some((table) => table[i] !== 0 || table[i + 1] !== 0) ? 1 : 0,
  );
  return {
    step: 'lab',
    change: (ls, as, bs) => {
      for (let i = 0; i < ls.length; i++) {
        const a = as[i];
        const b = bs[i];
        const at = hueTurn(a, b) * HUES;
        const left = at >= HUES ? HUES - 1 : at | 0;
        if (isChanged[left] === 0) continue;
        const much = smoothstep(Math.sqrt(a * a + b * b) / HUELESS);
        const share = at - left;
        const angle = much * (turns[left] + (turns[left + 1] - turns[left]) * share);
        const more = saturations[left] + (saturations[left + 1] - saturations[left]) * share;
        const light = lightnesses[left] + (lightnesses[left + 1] - lightnesses[left]) * share;
        const by = Math.max(0, 1 + much * more);
        const cos = by * (angle === 0 ? 1 : Math.cos(angle));
        const sin = by * (angle === 0 ? 0 : Math.sin(angle));
        // Half of what is asked for at most, so that no tones are torn apart.
        ls[i] *= 1 + 0.5 * much * light;
        as[i] = a * cos - b * sin;
        bs[i] = a * sin + b * cos;
      }
    },
  };
}

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
  const sum = (pick: (range: HueRange) => number, hue: number) =>
    ranges.reduce((all, range) => all + pick(range) * hueWindow(range, hue), 0);
  const tabled = (of: (hue: number) => number) =>
    Float64Array.from({ length: HUES + 1 }, (_, i) => of(((i % HUES) * 360) / HUES));
  const turnAt = (hue: number) => (sum(({ turn }) => turn, hue) * Math.PI) / 180;
  const strengthAt = (hue: number) => Math.max(0, 1 + sum(({ saturation }) => saturation, hue));
  // What is added to the axes of colour: share of each of them, and of each to the other.
  const own = tabled((hue) => strengthAt(hue) * Math.cos(turnAt(hue)) - 1);
  const other = tabled((hue) => strengthAt(hue) * Math.sin(turnAt(hue)));
  // Half of what is asked for at most, so that no tones are torn apart.
  const lights = tabled((hue) => 0.5 * sum(({ lightness }) => lightness, hue));
  // Most hues of a picture lie in no range: from one knot of the table to the next nothing is done to them.
  const isChanged = Uint8Array.from({ length: HUES }, (_, i) =>
    [own, other, lights].some((table) => table[i] !== 0 || table[i + 1] !== 0) ? 1 : 0,
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
        const along = much * (own[left] + (own[left + 1] - own[left]) * share);
        const across = much * (other[left] + (other[left + 1] - other[left]) * share);
        ls[i] *= 1 + much * (lights[left] + (lights[left + 1] - lights[left]) * share);
        as[i] = a + a * along - b * across;
        bs[i] = b + a * across + b * along;
      }
    },
  };
}

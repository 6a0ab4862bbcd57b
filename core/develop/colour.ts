import { z } from 'zod';
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
        change: (lab) => {
          const vivid = Math.min(1, Math.sqrt(lab[1] * lab[1] + lab[2] * lab[2]) / CHROMA_FULL);
          const by = 1 + saturation * (1 - spare * vivid);
          lab[1] *= by;
          lab[2] *= by;
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
  const between = (table: Float64Array, at: number) => {
    const left = Math.floor(at);
    return table[left] + (table[left + 1] - table[left]) * (at - left);
  };
  return {
    step: 'lab',
    change: (lab) => {
      const a = lab[1];
      const b = lab[2];
      const much = smoothstep(Math.sqrt(a * a + b * b) / HUELESS);
      if (much === 0) return;
      const turned = Math.atan2(b, a) / (2 * Math.PI);
      const at = (turned < 0 ? turned + 1 : turned) * HUES;
      const angle = much * between(turns, Math.min(HUES - 1e-9, at));
      const by = Math.max(0, 1 + much * between(saturations, Math.min(HUES - 1e-9, at)));
      const [cos, sin] = [Math.cos(angle) * by, Math.sin(angle) * by];
      // Half of what is asked for at most, so that no tones are torn apart.
      lab[0] *= 1 + 0.5 * much * between(lightnesses, Math.min(HUES - 1e-9, at));
      lab[1] = a * cos - b * sin;
      lab[2] = a * sin + b * cos;
    },
  };
}

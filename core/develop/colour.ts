import { z } from 'zod';
import { CHROMA_FULL } from '../color/oklab.ts';
import type { PointStep } from '../color/pointSteps.ts';
import { HUE_KNOTS, HUES, hueOfKnot } from '../kernels/hueKnots.ts';
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
        change: ([, a, b], { kernels }) => kernels.saturate(saturation, spare, CHROMA_FULL, a, b),
      });
    return steps;
  },
});

function hueStep(ranges: readonly HueRange[]): PointStep {
  const sum = (pick: (range: HueRange) => number, hue: number) =>
    ranges.reduce((all, range) => all + pick(range) * hueWindow(range, hue), 0);
  const turnAt = (hue: number) => (sum(({ turn }) => turn, hue) * Math.PI) / 180;
  const strengthAt = (hue: number) => Math.max(0, 1 + sum(({ saturation }) => saturation, hue));
  const table = new Float32Array(4 * HUE_KNOTS);
  for (let knot = 0; knot < HUE_KNOTS; knot++) {
    const hue = hueOfKnot(knot);
    // What is added to the axes of colour: share of each of them, and of each to the other. Of lightness half of what is asked for
    // at most, so that no tones are torn apart.
    const along = strengthAt(hue) * Math.cos(turnAt(hue)) - 1;
    const across = strengthAt(hue) * Math.sin(turnAt(hue));
    table.set([along, across, 0.5 * sum(({ lightness }) => lightness, hue)], 4 * knot);
  }
  // Most hues of a picture lie in no range: from one knot of the table to the next nothing is done to them.
  const isChanged = (knot: number) => table.subarray(4 * knot, 4 * knot + 3).some((value) => value !== 0);
  const changed = Array.from({ length: HUE_KNOTS }, (_, knot) => isChanged(knot));
  for (let knot = 0; knot < HUES; knot++) table[4 * knot + 3] = changed[knot] || changed[knot + 1] ? 1 : 0;
  return { step: 'lab', change: (lab, { kernels, within }) => kernels.changeHues(within(table), HUELESS, lab) };
}

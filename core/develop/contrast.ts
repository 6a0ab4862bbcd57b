import { z } from 'zod';
import { stopsOfLight } from '../color/toneCodes.ts';
import { defineAdjustment } from './defineAdjustment.ts';

/** Stops below white from which on darker tones are moved as far as that one, so that black stays black. */
const DEEPEST = -12;

/** Distances in stops from a chosen middle, times a slope. */
export const contrast = defineAdjustment({
  schema: z.strictObject({
    slope: z.number().min(0.25).max(4),
    /** Stops against white that stay where they are. */
    middle: z.number().min(-10).max(0),
    /** Whether detail keeps its contrast, or takes part in it; so it does where nothing is said. */
    of: z.enum(['base', 'all']).optional(),
  }),
  rest: { slope: 1, middle: -2.5, of: 'base' },
  isAtRest: ({ slope }) => slope === 1,
  rows: [
    { path: ['slope'], min: 0.25, max: 4, step: 0.01, unit: 'times', usual: 1, geometric: true },
    { path: ['middle'], min: -10, max: 0, step: 0.05, unit: 'stops', usual: -2.5, isDetail: true },
  ],
  steps: ({ slope, middle, of }) => {
    const by = (stops: number) => (slope - 1) * (Math.max(stops, DEEPEST) - middle);
    if (of === 'base') return [{ step: 'base', onto: (stops) => stops + by(stops) }];
    return [{ step: 'gain', gainOf: (light) => 2 ** by(stopsOfLight(light)) }];
  },
});

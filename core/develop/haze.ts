import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';

const Light = z.number().min(0.02).max(4);

/** Veiling light taken away, or laid over: how thick it lies is told by the darkest channel of what is around a place (He, Sun and
 * Tang 2009, "Single image haze removal using dark channel prior"). */
export const haze = defineAdjustment({
  schema: z.strictObject({
    /** Share of the veil that is taken away; below 0 one is laid. */
    amount: z.number().min(-1).max(1),
    /** Linear light of the veil where it is thickest, in the scene's space. */
    veil: z.strictObject({ red: Light, green: Light, blue: Light }),
  }),
  rest: { amount: 0, veil: { red: 0.7, green: 0.7, blue: 0.7 } },
  isAtRest: ({ amount }) => amount === 0,
  rows: [{ path: ['amount'], min: -1, max: 1, step: 0.01, unit: 'share', usual: 0 }],
  steps: ({ amount, veil: { red, green, blue } }) => [{ step: 'veil', amount, veil: [red, green, blue] }],
});

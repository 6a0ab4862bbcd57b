import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';

const Weight = z.number().min(-2).max(3);

/** Black and white: a mix of the channels, in light, of which so much is taken as strength says. */
export const grey = defineAdjustment({
  schema: z.strictObject({ red: Weight, green: Weight, blue: Weight, strength: z.number().min(0).max(1) }),
  rest: { red: 0.25, green: 0.6, blue: 0.15, strength: 0 },
  isAtRest: ({ strength }) => strength === 0,
  rows: [{ path: ['strength'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0 }],
  steps: ({ red, green, blue, strength }) => {
    const mix = [red, green, blue].map((weight) => weight * strength);
    const matrix = Array.from({ length: 9 }, (_, i) => mix[i % 3] + (i % 4 === 0 ? 1 - strength : 0));
    return [{ step: 'matrix', matrix }];
  },
});

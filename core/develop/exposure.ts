import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';

/** More or less light, as if exposed longer or shorter. */
export const exposure = defineAdjustment({
  schema: z.strictObject({ stops: z.number().min(-8).max(8) }),
  rest: { stops: 0 },
  isAtRest: ({ stops }) => stops === 0,
  rows: [{ path: ['stops'], min: -8, max: 8, step: 0.05, unit: 'stops', usual: 0 }],
  steps: ({ stops }) => {
    const gain = 2 ** stops;
    return [{ step: 'matrix', matrix: [gain, 0, 0, 0, gain, 0, 0, 0, gain], stops }];
  },
});

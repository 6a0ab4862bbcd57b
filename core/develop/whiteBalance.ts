import { z } from 'zod';
import { COLDEST, MOST_TINT, WARMEST, WORKING_WHITE, whiteMatrix } from '../color/whitePoint.ts';
import { defineAdjustment } from './defineAdjustment.ts';

/** The light that the picture is thought to be taken under, which becomes white: a higher temperature makes it warmer, a tint towards
 * green makes it more magenta. */
export const whiteBalance = defineAdjustment({
  schema: z.strictObject({
    kelvin: z.number().min(WARMEST).max(COLDEST),
    /** Thousandths of CIE 1960 uv beside the locus, green above 0. */
    tint: z.number().min(-MOST_TINT).max(MOST_TINT),
  }),
  rest: { ...WORKING_WHITE },
  isAtRest: ({ kelvin, tint }) => kelvin === WORKING_WHITE.kelvin && tint === WORKING_WHITE.tint,
  rows: [
    {
      path: ['kelvin'],
      min: WARMEST,
      max: COLDEST,
      step: 10,
      unit: 'kelvin',
      usual: WORKING_WHITE.kelvin,
      geometric: true,
    },
    { path: ['tint'], min: -MOST_TINT, max: MOST_TINT, step: 0.1, unit: 'tint', usual: WORKING_WHITE.tint },
  ],
  steps: (white, space) => [{ step: 'matrix', matrix: whiteMatrix(white, space) }],
});

import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';

const Detail = (radius: z.ZodNumber) =>
  z.strictObject({
    /** Share of itself by which detail grows, or shrinks. */
    amount: z.number().min(-1).max(2),
    /** Of what counts as detail, in pixels of the frame. */
    radius,
  });
const Fine = Detail(z.number().min(2).max(60));
const Broad = Detail(z.number().min(40).max(400));

/** Contrast of detail, fine and broad, against tones without it whose edges stay: no rims beside them. */
export const localContrast = defineAdjustment({
  schema: z.strictObject({ fine: Fine, broad: Broad }),
  rest: { fine: { amount: 0, radius: 12 }, broad: { amount: 0, radius: 120 } },
  isAtRest: ({ fine, broad }) => fine.amount === 0 && broad.amount === 0,
  rows: [
    { path: ['fine', 'amount'], min: -1, max: 2, step: 0.01, unit: 'share', usual: 0 },
    { path: ['fine', 'radius'], min: 2, max: 60, step: 1, unit: 'px', usual: 12, geometric: true, isDetail: true },
    { path: ['broad', 'amount'], min: -1, max: 2, step: 0.01, unit: 'share', usual: 0 },
    { path: ['broad', 'radius'], min: 40, max: 400, step: 1, unit: 'px', usual: 120, geometric: true, isDetail: true },
  ],
  steps: ({ fine, broad }) =>
    [fine, broad].flatMap(({ amount, radius }) => (amount === 0 ? [] : [{ step: 'detail' as const, radius, amount }])),
});

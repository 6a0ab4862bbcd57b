import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';
import { DetailNode } from './detailNode.ts';

/** Detail of a radius on middle grey, laid over the picture in a mode that middle grey changes nothing in (common practice, no source). */
export const highPass = defineAdjustment({
  schema: z.strictObject({
    /** How strongly it is laid, and how strong the detail itself is. */
    strength: z.number().min(0).max(1),
    amount: z.number().min(0.2).max(4),
    /** Standard deviation of the blur that it is the difference from, in scene pixels. */
    radius: z.number().min(0.3).max(100),
    mode: z.enum(['overlay', 'soft-light', 'hard-light', 'linear-light']),
  }),
  rest: { strength: 0, amount: 1, radius: 2, mode: 'overlay' },
  isAtRest: ({ strength }) => strength === 0,
  rows: [
    { path: ['strength'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.5 },
    { path: ['radius'], min: 0.3, max: 100, step: 0.1, unit: 'px', usual: 2, geometric: true },
    { path: ['amount'], min: 0.2, max: 4, step: 0.05, unit: 'times', usual: 1, geometric: true },
  ],
  steps: () => [],
  inner: (source, { amount, radius }) => new DetailNode(source, radius, amount),
  layer: (below, { strength: opacity, amount, radius, mode }) => ({
    source: new DetailNode(below, radius, amount),
    opacity,
    mode,
  }),
});

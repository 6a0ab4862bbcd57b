import { z } from 'zod';
import { keptNode } from '../render/nodes/keptNode.ts';
import { defineAdjustment } from './defineAdjustment.ts';
import { SharpNode } from './sharpNode.ts';

/** Brightness is moved away from a blurred copy of itself (unsharp masking; common practice, no source), but where it is flat. */
export const sharpening = defineAdjustment({
  schema: z.strictObject({
    amount: z.number().min(0).max(3),
    /** Deviation of the blur, in pixels of the frame. */
    radius: z.number().min(0.3).max(4),
    /** Contrast, as a share of encoded values, up to which a place is flat. */
    flat: z.number().min(0).max(0.1),
  }),
  rest: { amount: 0, radius: 1, flat: 0.01 },
  isAtRest: ({ amount }) => amount === 0,
  rows: [
    { path: ['amount'], min: 0, max: 3, step: 0.02, unit: 'share', usual: 0 },
    { path: ['radius'], min: 0.3, max: 4, step: 0.1, unit: 'px', usual: 1, geometric: true, isDetail: true },
    { path: ['flat'], min: 0, max: 0.1, step: 0.001, unit: 'share', usual: 0.01, isDetail: true },
  ],
  steps: () => [],
  isLast: true,
  build: (source, settings) => new SharpNode(keptNode(source), settings),
});

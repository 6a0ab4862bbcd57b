import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';
import { LiftNode } from './liftNode.ts';

/** Straightens what the lens bent, and lifts corners that it left dark. Bending is undone where the frame is placed, in one resampling: see
 * `lensOf`. Within these ranges no picture is folded onto itself. */
export const lens = defineAdjustment({
  schema: z.strictObject({
    /** See `Lens`. */
    k1: z.number().min(-0.15).max(0.15),
    k2: z.number().min(-0.05).max(0.05),
    k3: z.number().min(-0.02).max(0.02),
    corners: z.strictObject({
      /** Stops by which the corners are lifted. */
      stops: z.number().min(-1).max(3),
      /** 0: from the middle on; 1: only towards the corners. */
      late: z.number().min(0).max(1),
    }),
  }),
  rest: { k1: 0, k2: 0, k3: 0, corners: { stops: 0, late: 0.5 } },
  isAtRest: ({ k1, k2, k3, corners }) => k1 === 0 && k2 === 0 && k3 === 0 && corners.stops === 0,
  rows: [
    { path: ['k1'], min: -0.15, max: 0.15, step: 0.0005, unit: 'share', usual: 0 },
    { path: ['k2'], min: -0.05, max: 0.05, step: 0.0005, unit: 'share', usual: 0, isDetail: true },
    { path: ['k3'], min: -0.02, max: 0.02, step: 0.0005, unit: 'share', usual: 0, isDetail: true },
    { path: ['corners', 'stops'], min: -1, max: 3, step: 0.02, unit: 'stops', usual: 0 },
    { path: ['corners', 'late'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.5, isDetail: true },
  ],
  steps: () => [],
  isPointwise: true,
  build: (source, { corners }, { place }) => (corners.stops === 0 ? source : new LiftNode(source, corners, place)),
});

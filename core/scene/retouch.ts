import { z } from 'zod';

const ScenePoint = z.strictObject({ x: z.number(), y: z.number() });

/** A round place of the blend that is covered with another one, in scene pixels. */
export const RetouchSpot = z.strictObject({
  id: z.string().min(1).max(60),
  /** Copied as it is, or with the light of the place that it covers. */
  how: z.enum(['clone', 'heal']),
  at: ScenePoint,
  /** The place that covers it. */
  from: ScenePoint,
  radius: z.number().min(1).max(10_000),
  /** Share of the radius over which it fades. */
  feather: z.number().min(0).max(1),
  opacity: z.number().min(0).max(1),
  visible: z.boolean(),
});
export type RetouchSpot = z.infer<typeof RetouchSpot>;

import { z } from 'zod';

/** A place in scene pixels. */
export const ScenePoint = z.strictObject({ x: z.number(), y: z.number() });
export type ScenePoint = z.infer<typeof ScenePoint>;

/** A point whose coordinates are brought near. */
export const nearPoint = ({ x, y }: ScenePoint, near: (value: number) => number): ScenePoint => ({
  x: near(x),
  y: near(y),
});

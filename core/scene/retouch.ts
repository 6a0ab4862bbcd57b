import { z } from 'zod';
import { FrameId, SpotId } from '../ids.ts';

/** Far more than any picture is wide. */
const FARTHEST = 1e6;
const Place = z.number().min(-FARTHEST).max(FARTHEST);
const ScenePoint = z.strictObject({ x: Place, y: Place });

/** A place of the blend that is covered with another one: a disc, or the way of a brush. In scene pixels. */
export const RetouchSpot = z.strictObject({
  id: SpotId,
  /** Its middle, or the points of its way. */
  path: z.array(ScenePoint).min(1).max(2000),
  radius: z.number().min(1).max(2000),
  /** Share of the radius over which it fades. */
  soft: z.number().min(0).max(1),
  /** Whether what covers it is copied as it is, or takes the light and colour of what surrounds the place. */
  how: z.enum(['heal', 'clone']),
  /** How far away what covers it lies. */
  by: ScenePoint,
  /** It is mirrored about the middle of the place: left to right, or upside down. */
  flip: z.enum(['none', 'across', 'down']),
  /** The frame that it is taken of, brighter by some stops; null: of the blend itself. */
  frame: FrameId.nullable(),
  stops: z.number().min(-16).max(16),
  opacity: z.number().min(0).max(1),
  visible: z.boolean(),
});
export type RetouchSpot = z.infer<typeof RetouchSpot>;

/** What a spot reaches over, in scene pixels. */
export function boundsOf({ path, radius }: Pick<RetouchSpot, 'path' | 'radius'>) {
  const [xs, ys] = [path.map(({ x }) => x), path.map(({ y }) => y)];
  const [x, y] = [Math.min(...xs) - radius, Math.min(...ys) - radius];
  return { x, y, width: Math.max(...xs) + radius - x, height: Math.max(...ys) + radius - y };
}

/** The middle of what a spot reaches over. */
export function middleOfSpot(spot: Pick<RetouchSpot, 'path' | 'radius'>): { x: number; y: number } {
  const { x, y, width, height } = boundsOf(spot);
  return { x: x + width / 2, y: y + height / 2 };
}

/** Whether a spot lies on a picture at all. */
export function isOnPicture(
  spot: Pick<RetouchSpot, 'path' | 'radius'>,
  size: { width: number; height: number },
): boolean {
  const { x, y, width, height } = boundsOf(spot);
  return x < size.width && y < size.height && x + width > 0 && y + height > 0;
}

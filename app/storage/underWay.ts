import { z } from 'zod';
import { ItemId, PartId, StrokeId } from '#core/ids.ts';
import { Stroke } from '#core/masks/stroke.ts';
import { Recipe } from '#core/scene/mask.ts';
import { MaskPlace } from '#core/scene/places.ts';
import type { Scene } from '#core/scene/scene.ts';
import { toEditOfVersion5 } from '#core/scene/upgradeTree.ts';
import type { MadeStroke } from './database.ts';

const Kept = z.object({
  owner: ItemId,
  of: MaskPlace.shape.of.optional(),
  part: PartId.optional(),
  stroke: Stroke,
  through: Recipe.nullable(),
  replaces: StrokeId.optional(),
  points: z.instanceof(Float32Array),
});

/** A stroke that was under way, as it lies in storage; undefined when it is damaged.
 * @param scene - That it is painted in: up to version 4 its mask was named by a layer. */
export function readUnderWay(stored: unknown, scene: Scene): { made: MadeStroke; points: Float32Array } | undefined {
  const isOlder = stored !== null && typeof stored === 'object' && 'layerId' in stored;
  const kept = isOlder ? toEditOfVersion5({ kind: 'mask.addStroke', params: stored }, scene).params : stored;
  const parsed = Kept.safeParse(kept);
  if (!parsed.success || parsed.data.points.length < 4 || !parsed.data.points.every(Number.isFinite)) return undefined;
  const { points, ...made } = parsed.data;
  return { made, points };
}

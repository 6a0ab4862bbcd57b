import { z } from 'zod';
import { LayerId, PartId } from '#core/scene/ids.ts';
import { Recipe } from '#core/scene/mask.ts';
import { MaskPlace } from '#core/scene/places.ts';
import { Stroke } from '#core/scene/stroke.ts';
import type { MadeStroke } from './database.ts';

const Kept = z.object({
  layerId: LayerId,
  of: MaskPlace.shape.of.optional(),
  part: PartId.optional(),
  stroke: Stroke,
  through: Recipe.nullable(),
  points: z.instanceof(Float32Array),
});

/** A stroke that was under way, as it lies in storage; undefined when it is damaged. */
export function readUnderWay(kept: unknown): { made: MadeStroke; points: Float32Array } | undefined {
  const parsed = Kept.safeParse(kept);
  if (!parsed.success || parsed.data.points.length < 4 || !parsed.data.points.every(Number.isFinite)) return undefined;
  const { points, ...made } = parsed.data;
  return { made, points };
}

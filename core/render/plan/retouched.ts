import type { FrameId } from '../../ids.ts';
import type { Scene } from '../../scene/scene.ts';
import { withExposure } from '../nodes/lightNode.ts';
import { type PlannedSpot, RetouchNode } from '../nodes/retouchNode.ts';
import type { TileNode } from '../tiles/renderContext.ts';

/** The blend with places of it covered.
 * @param frameOf - A frame as it is placed and developed. */
export function retouched(
  blend: TileNode,
  { frames, retouch }: Pick<Scene, 'frames' | 'retouch'>,
  frameOf: (id: FrameId) => TileNode,
): TileNode {
  const spots = retouch.filter(({ visible }) => visible);
  if (spots.length === 0) return blend;
  const planned = spots.map(({ path, radius, soft, how, by, flip, opacity, frame, stops }): PlannedSpot => {
    const isThere = frame !== null && frames.some(({ id }) => id === frame);
    const of = isThere ? withExposure(frameOf(frame), stops) : undefined;
    return { spot: { path, radius, soft, how, by, flip, opacity }, frame: of };
  });
  return RetouchNode.of(blend, planned);
}

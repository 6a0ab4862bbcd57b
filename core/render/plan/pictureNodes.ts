import { placeByCorners } from '../../align/byHand.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import type { Matrix3 } from '../../raster/matrix3.ts';
import type { PlacedPicture } from '../../scene/item.ts';
import { BlackNode } from '../nodes/blackNode.ts';
import type { Turning } from '../nodes/frameMap.ts';
import { FrameNode } from '../nodes/frameNode.ts';
import { InsideNode } from '../nodes/insideNode.ts';
import { toSpace } from '../nodes/lightNode.ts';
import { MaskNode } from '../nodes/maskNode.ts';
import { WarpNode } from '../nodes/warpNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';

/** From a picture's pixels to those of the scene, counted from the middle of the first; undefined where its corners are no quadrilateral. */
export const matrixOf = ({ corners, width, height }: PlacedPicture): Matrix3 | undefined =>
  placeByCorners(
    // Points of a scene are counted from its upper left corner.
    corners.map(({ x, y }) => ({ x: x - 0.5, y: y - 0.5 })),
    { width, height },
  );

/** A picture of another scene or size where its corners lie, read between its pixels once.
 * @param onto - The scene, or a picture in which it is turned. */
export function placedPicture(picture: PlacedPicture, space: WorkingSpace, onto: Extent, turned?: Turning): TileNode {
  const placement = matrixOf(picture);
  if (!placement) return new BlackNode(onto);
  const { file, reading, width, height } = picture;
  const own = { size: { width, height }, toScene: [...placement] };
  const read = new FrameNode(file.sha256, reading, file.name, own);
  return new WarpNode(
    toSpace(read, reading.space, space, true),
    { placement, local: null, lens: PLAIN_LENS, turned },
    onto,
  );
}

/** Where it is. */
export function insidePicture(picture: PlacedPicture, scene: Extent): TileNode {
  const placement = matrixOf(picture);
  if (!placement) return new MaskNode([], false, scene);
  return new InsideNode({ placement, local: null, lens: PLAIN_LENS }, picture, scene);
}

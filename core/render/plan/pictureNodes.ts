import { matrixOfCorners } from '../../align/pictureCorners.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import type { PlacedPicture } from '../../scene/item.ts';
import { BlackNode } from '../nodes/blackNode.ts';
import type { Turning } from '../nodes/frameMap.ts';
import { FrameNode } from '../nodes/frameNode.ts';
import { InsideNode } from '../nodes/insideNode.ts';
import { toSpace } from '../nodes/lightNode.ts';
import { MaskNode } from '../nodes/maskNode.ts';
import { WarpNode } from '../nodes/warpNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';

/** A picture of another scene or size where its corners lie, read between its pixels once.
 * @param onto - The scene, or a picture in which it is turned. */
export function placedPicture(picture: PlacedPicture, space: WorkingSpace, onto: Extent, turned?: Turning): TileNode {
  const placement = matrixOfCorners(picture);
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
  const placement = matrixOfCorners(picture);
  if (!placement) return new MaskNode([], false, scene);
  return new InsideNode({ placement, local: null, lens: PLAIN_LENS }, picture, scene);
}

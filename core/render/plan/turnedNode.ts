import { cornersOf, mapPoint } from '../../align/placement.ts';
import { liesWithin } from '../../finish/cropWithin.ts';
import { deliveredFrom, tableFrom } from '../../finish/turning.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import { invert3 } from '../../raster/matrix3.ts';
import type { Geometry } from '../../scene/geometry.ts';
import { BlackNode } from '../nodes/blackNode.ts';
import { CompositeNode } from '../nodes/compositeNode.ts';
import { InsideNode } from '../nodes/insideNode.ts';
import { MaskNode } from '../nodes/maskNode.ts';
import { RoundedNode } from '../nodes/roundedNode.ts';
import { WarpNode } from '../nodes/warpNode.ts';
import { WarpPlaneNode } from '../nodes/warpPlaneNode.ts';
import type { TileNode } from '../tiles/renderContext.ts';

/** A picture of the scene, or a plane, as it is turned and cut; beyond the scene there is nothing. */
export function turnedNode(
  node: TileNode,
  { isPicture, isRounded }: { isPicture: boolean; isRounded: boolean },
  geometry: Geometry,
  onto: 'finished' | 'table',
): TileNode {
  const { size } = node.extent;
  const { fromScene, size: own } = onto === 'finished' ? deliveredFrom(geometry, size) : tableFrom(geometry, size);
  const extent = { size: own, toScene: [...invert3(fromScene)] };
  const turned = { placement: fromScene, local: null, lens: PLAIN_LENS };
  const inside = new InsideNode(turned, size, extent);
  const isCovered = liesWithin(
    { x: 0, y: 0, ...own },
    cornersOf(size).map((corner) => mapPoint(fromScene, corner)),
  );
  if (!isPicture) {
    const plane = new WarpPlaneNode(node, turned, extent);
    if (isCovered) return plane;
    const parts = [
      { join: 'add' as const, node: plane },
      { join: 'intersect' as const, node: inside },
    ];
    return new MaskNode(parts, false, extent);
  }
  // Pixels are read in 16 bits.
  const read = new WarpNode(isRounded ? node : new RoundedNode(node), turned, extent);
  if (isCovered) return read;
  const outside = new MaskNode([{ join: 'add', node: inside }], true, extent);
  return new CompositeNode(read, [{ source: new BlackNode(extent), mask: outside, opacity: 1 }], { isTransient: true });
}

import { cornersOf, mapPoint } from '../../align/placement.ts';
import { liesWithin } from '../../finish/cropWithin.ts';
import { deliveredFrom, tableFrom } from '../../finish/turning.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import { invert3, type Matrix3 } from '../../raster/matrix3.ts';
import type { Size } from '../../raster/size.ts';
import type { Geometry } from '../../scene/geometry.ts';
import { BlackNode } from '../nodes/blackNode.ts';
import { CompositeNode } from '../nodes/compositeNode.ts';
import { InsideNode } from '../nodes/insideNode.ts';
import { MaskNode } from '../nodes/maskNode.ts';
import { RoundedNode } from '../nodes/roundedNode.ts';
import { WarpNode } from '../nodes/warpNode.ts';
import { WarpPlaneNode } from '../nodes/warpPlaneNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';

/** How a scene lies in the picture that is made of it. */
export interface TurnedScene {
  readonly fromScene: Matrix3;
  readonly scene: Size;
  /** Of the picture. */
  readonly extent: Extent;
}

/** How a scene of a size comes to lie in the picture that is delivered, or on the table that it is turned on. */
export function turnedScene(geometry: Geometry, scene: Size, onto: 'finished' | 'table'): TurnedScene {
  const { fromScene, size } = onto === 'finished' ? deliveredFrom(geometry, scene) : tableFrom(geometry, scene);
  return { fromScene, scene, extent: { size, toScene: [...invert3(fromScene)] } };
}

/** Where the picture holds any of the scene; undefined when that is everywhere. */
function coveredBy({ fromScene, scene, extent }: TurnedScene): TileNode | undefined {
  const corners = cornersOf(scene).map((corner) => mapPoint(fromScene, corner));
  if (liesWithin({ x: 0, y: 0, ...extent.size }, corners)) return undefined;
  return new InsideNode({ placement: fromScene, local: null, lens: PLAIN_LENS }, scene, extent);
}

/** A turned picture, black beyond the scene. */
export function overNothing(picture: TileNode, turned: TurnedScene): TileNode {
  const inside = coveredBy(turned);
  if (!inside) return picture;
  const outside = new MaskNode([{ join: 'add', node: inside }], true, turned.extent);
  const beyond = { source: new BlackNode(turned.extent), mask: outside, opacity: 1 };
  return new CompositeNode(picture, [beyond], { isTransient: true });
}

/** A plane of the scene as it is turned and cut. */
export const turnedPlane = (node: TileNode, { fromScene, extent }: TurnedScene): TileNode =>
  new WarpPlaneNode(node, { placement: fromScene }, extent);

/** A picture of the scene as it is turned and cut, read between its pixels, in 16 bits. */
export const turnedPicture = (node: TileNode, { fromScene, extent }: TurnedScene): TileNode =>
  new WarpNode(node, { placement: fromScene, local: null, lens: PLAIN_LENS }, extent);

/** A picture of the scene, or a plane, as it is turned and cut; beyond the scene there is nothing. */
export function turnedNode(
  node: TileNode,
  { isPicture, isRounded }: { isPicture: boolean; isRounded: boolean },
  geometry: Geometry,
  onto: 'finished' | 'table',
): TileNode {
  const turned = turnedScene(geometry, node.extent.size, onto);
  if (isPicture) return overNothing(turnedPicture(isRounded ? node : new RoundedNode(node), turned), turned);
  const plane = turnedPlane(node, turned);
  const inside = coveredBy(turned);
  if (!inside) return plane;
  const parts = [
    { join: 'add' as const, node: plane },
    { join: 'intersect' as const, node: inside },
  ];
  return new MaskNode(parts, false, turned.extent);
}

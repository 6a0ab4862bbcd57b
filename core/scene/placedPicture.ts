import { placeByCorners } from '../align/byHand.ts';
import type { Point } from '../align/placement.ts';
import type { Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import type { PlacedPicture } from './item.ts';
import { isPlaceable } from './placeable.ts';

type Corners = PlacedPicture['corners'];

/** From a picture's pixels to those of the scene, counted from the middle of the first; undefined where its corners are no quadrilateral that
 * can be seen. */
export function matrixOf({ corners, width, height }: PlacedPicture): Matrix3 | undefined {
  const matrix = placeByCorners(corners.map(toCentres), { width, height });
  return matrix && isPlaceable(matrix, { width, height }) ? matrix : undefined;
}

/** Points of a scene are counted from its upper left corner, those of placements from the middle of the first pixel. */
const toCentres = ({ x, y }: Point): Point => ({ x: x - 0.5, y: y - 0.5 });

/** Corners of a picture in the middle of a scene, as large as fits in, or as covers all of it. */
export function cornersIn(scene: Size, { width, height }: Size, how: 'within' | 'covering'): Corners {
  const shares = [scene.width / width, scene.height / height];
  const scale = how === 'within' ? Math.min(...shares) : Math.max(...shares);
  const [x, y] = [(scene.width - width * scale) / 2, (scene.height - height * scale) / 2];
  const at = (u: 0 | 1, v: 0 | 1) => ({ x: x + u * width * scale, y: y + v * height * scale });
  return [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
}

/** Corners turned clockwise about their middle, by degrees. */
export function turned(corners: Corners, degrees: number): Corners {
  const { x, y } = middleOfCorners(corners);
  const [cos, sin] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return corners.map((at) => ({
    x: x + (at.x - x) * cos - (at.y - y) * sin,
    y: y + (at.x - x) * sin + (at.y - y) * cos,
  })) as Corners;
}

export const middleOfCorners = (corners: Corners): Point => ({
  x: corners.reduce((sum, { x }) => sum + x, 0) / 4,
  y: corners.reduce((sum, { y }) => sum + y, 0) / 4,
});

/** Corners of which some are moved by as much, clockwise from the upper left. */
export const movedBy = (corners: Corners, which: readonly number[], dx: number, dy: number): Corners =>
  corners.map((at, index) => (which.includes(index) ? { x: at.x + dx, y: at.y + dy } : at)) as Corners;

import type { Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { type HandNumbers, handNumbers, placeByCorners, placedCorners, withHandNumbers } from './byHand.ts';
import type { Point } from './placement.ts';

/** Places of a picture's corners in a scene, clockwise from the upper left, in pixels counted from the scene's upper left corner. */
export type Corners = [Point, Point, Point, Point];

/** A picture of its own size, and where its corners lie. */
export interface Cornered extends Size {
  corners: Corners;
}

/** From a picture's pixels to those of the scene, counted from the middle of the first; undefined where its corners are no quadrilateral. */
export const matrixOfCorners = ({ corners, width, height }: Cornered): Matrix3 | undefined =>
  placeByCorners(
    corners.map(({ x, y }) => ({ x: x - 0.5, y: y - 0.5 })),
    { width, height },
  );

/** Where such a placement takes the corners. */
export const cornersOfMatrix = (matrix: Matrix3, size: Size): Corners =>
  placedCorners(matrix, size).map(({ x, y }) => ({ x: x + 0.5, y: y + 0.5 })) as Corners;

/** How far a picture's middle lies from the scene's, and how it is turned and scaled there: 1 where its pixels are as large as the scene's.
 * Undefined where its corners are no quadrilateral. */
export function numbersOfPicture(picture: Cornered, scene: Size): HandNumbers | undefined {
  const matrix = matrixOfCorners(picture);
  if (!matrix) return undefined;
  const { x, y, ...others } = handNumbers(matrix, picture);
  const apart = apartOf(picture, scene);
  return { x: x + apart.x, y: y + apart.y, ...others };
}

/** Corners of a picture with some of its numbers changed; what else is done to it stays. */
export function withNumbers(picture: Cornered, scene: Size, { x, y, ...others }: Partial<HandNumbers>): Corners {
  const matrix = matrixOfCorners(picture);
  if (!matrix) return picture.corners;
  const apart = apartOf(picture, scene);
  const own = { ...(x !== undefined && { x: x - apart.x }), ...(y !== undefined && { y: y - apart.y }), ...others };
  return cornersOfMatrix(withHandNumbers(matrix, picture, own), picture);
}

/** How far the middles of both lie apart while the upper left corners lie on each other. */
const apartOf = (picture: Size, scene: Size): Point => ({
  x: (picture.width - scene.width) / 2,
  y: (picture.height - scene.height) / 2,
});

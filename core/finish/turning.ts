import { compose, cornersOf, mapPoint, type Point, shiftMatrix } from '../align/placement.ts';
import type { Matrix3 } from '../raster/matrix3.ts';
import type { Region, Size } from '../raster/size.ts';
import { canvasOf, type Geometry, isUpright } from '../scene/geometry.ts';
import { largestWithin } from './cropWithin.ts';

const middleOf = ({ width, height }: Size): Point => ({ x: (width - 1) / 2, y: (height - 1) / 2 });

/** Focal length that a camera is thought to have had, against the longer side of its pictures: 36 mm on a frame of 36 by 24 (common practice,
 * no source). It decides how far a picture is stretched when lines are put upright; `stretch` corrects it. */
const FOCAL = 1;

/** A picture tilted as a turning camera tilts it (Hartley and Zisserman, "Multiple View Geometry", 8.4): one side becomes longer than the other by
 * a share, and the length across grows so that what is upright keeps its natural ratio in the middle.
 * @param share - Above 0 the upper side, or the left one, becomes the longer.
 * @param length - Of the picture along the tilt.
 * @param focal - In pixels. */
function tilt(share: number, length: number, focal: number): { falls: number; grows: number } {
  const falls = (share / (2 + Math.abs(share))) * (2 / length);
  return { falls, grows: Math.hypot(1, falls * focal) };
}

/** From pixels of the scene to those of the canvas that crops are counted on, both counted from the centre of the first. */
export function turningOf(geometry: Geometry, size: Size): Matrix3 {
  const { perspective, straighten, stretch, quarters } = geometry;
  const [from, to] = [middleOf(size), middleOf(canvasOf(size, quarters))];
  const focal = FOCAL * Math.max(size.width, size.height);
  const upright = tilt(perspective.vertical, size.height, focal);
  const level = tilt(perspective.horizontal, size.width, focal);
  const angle = (straighten * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const [qc, qs] = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ][quarters];
  return compose(
    shiftMatrix(-from.x, -from.y),
    [1, 0, 0, 0, upright.grows, 0, 0, upright.falls, 1],
    [level.grows, 0, 0, 0, 1, 0, level.falls, 0, 1],
    [c, -s, 0, s, c, 0, 0, 0, 1],
    [1, 0, 0, 0, 1 + stretch, 0, 0, 0, 1],
    [qc, -qs, 0, qs, qc, 0, 0, 0, 1],
    shiftMatrix(to.x, to.y),
  );
}

/** Where a part of the scene comes to lie on that canvas: its corners, clockwise.
 * @param covered - Where there is any picture; all of the scene if it is not told. */
export function turnedCorners(geometry: Geometry, size: Size, covered?: Region): Point[] {
  const turning = turningOf(geometry, size);
  const { x, y, width, height } = covered ?? { x: 0, y: 0, ...size };
  const corners = cornersOf({ width, height }).map((corner) => mapPoint(turning, { x: corner.x + x, y: corner.y + y }));
  // As corners of pixels are counted on canvases: from their upper left.
  return corners.map((corner) => ({ x: corner.x + 0.5, y: corner.y + 0.5 }));
}

/** The part of the canvas that is delivered: the crop, or as much as is covered in the ratio of the canvas. */
export function deliveredPart(geometry: Geometry, size: Size): Region {
  if (geometry.crop) return geometry.crop;
  const canvas = canvasOf(size, geometry.quarters);
  if (isUpright({ ...geometry, quarters: 0 })) return { x: 0, y: 0, ...canvas };
  const found = largestWithin(turnedCorners(geometry, size), canvas.width / canvas.height);
  return found ?? { x: 0, y: 0, ...canvas };
}

/** How the scene comes to lie in the picture that is delivered. */
export function deliveredFrom(geometry: Geometry, size: Size): { fromScene: Matrix3; size: Size } {
  const { x, y, width, height } = deliveredPart(geometry, size);
  return { fromScene: compose(turningOf(geometry, size), shiftMatrix(-x, -y)), size: { width, height } };
}

/** Whether places of the scene, counted from the upper left corner, lie in the picture that is delivered. */
export function isDelivered(geometry: Geometry, size: Size): (at: Point) => boolean {
  const { fromScene, size: whole } = deliveredFrom(geometry, size);
  return ({ x, y }) => {
    const at = mapPoint(fromScene, { x: x - 0.5, y: y - 0.5 });
    return at.x >= -0.5 && at.y >= -0.5 && at.x < whole.width - 0.5 && at.y < whole.height - 0.5;
  };
}

/** How much room a table has around the canvas, as a share of its longer side. */
const TABLE_MARGIN = 0.15;

/** How the scene comes to lie on a table somewhat larger than the canvas, which stays as it is while the picture is turned on it. */
export function tableFrom(geometry: Geometry, size: Size): { fromScene: Matrix3; size: Size; margin: number } {
  const canvas = canvasOf(size, geometry.quarters);
  const margin = Math.round(TABLE_MARGIN * Math.max(size.width, size.height));
  const table = { width: canvas.width + 2 * margin, height: canvas.height + 2 * margin };
  return { fromScene: compose(turningOf(geometry, size), shiftMatrix(margin, margin)), size: table, margin };
}

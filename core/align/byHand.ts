import type { Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { fitModel } from './fit.ts';
import { compose, cornersOf, mapPoint, type Point, scaleMatrix, shiftMatrix } from './placement.ts';

/** A placement as a hand thinks of it: how far the middle of the frame was moved, and how the frame is turned and scaled about it. */
export interface HandNumbers {
  x: number;
  y: number;
  /** Clockwise on screen. */
  turnDegrees: number;
  /** 1 for as large as it was. */
  scale: number;
}

const middleOf = ({ width, height }: Size): Point => ({ x: (width - 1) / 2, y: (height - 1) / 2 });

/** Numbers of a placement, read at the middle of the frame. */
export function handNumbers(matrix: Matrix3, size: Size): HandNumbers {
  const middle = middleOf(size);
  const at = mapPoint(matrix, middle);
  const w = matrix[6] * middle.x + matrix[7] * middle.y + matrix[8];
  const [a, b] = [(matrix[0] - matrix[6] * at.x) / w, (matrix[1] - matrix[7] * at.x) / w];
  const [c, d] = [(matrix[3] - matrix[6] * at.y) / w, (matrix[4] - matrix[7] * at.y) / w];
  return {
    x: at.x - middle.x,
    y: at.y - middle.y,
    turnDegrees: (Math.atan2(c - b, a + d) * 180) / Math.PI,
    scale: Math.sqrt(Math.abs(a * d - b * c)),
  };
}

/** A placement with some of its numbers changed; what else it does stays. */
export function withHandNumbers(matrix: Matrix3, size: Size, wanted: Partial<HandNumbers>): Matrix3 {
  const now = handNumbers(matrix, size);
  const next = { ...now, ...wanted };
  const at = mapPoint(matrix, middleOf(size));
  const angle = ((next.turnDegrees - now.turnDegrees) * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return compose(
    matrix,
    shiftMatrix(-at.x, -at.y),
    [c, -s, 0, s, c, 0, 0, 0, 1],
    scaleMatrix(next.scale / now.scale),
    shiftMatrix(at.x + next.x - now.x, at.y + next.y - now.y),
  );
}

/** Where a placement takes a frame's corners, clockwise from the upper left. */
export const placedCorners = (matrix: Matrix3, size: Size): Point[] =>
  cornersOf(size).map((corner) => mapPoint(matrix, corner));

/** The placement that takes a frame's corners to four places; undefined when they are no quadrilateral with all corners outwards. */
export function placeByCorners(corners: readonly Point[], size: Size): Matrix3 | undefined {
  const turns = corners.map((corner, i) => {
    const [next, after] = [corners[(i + 1) % 4], corners[(i + 2) % 4]];
    return (next.x - corner.x) * (after.y - next.y) - (next.y - corner.y) * (after.x - next.x);
  });
  if (!turns.every((turn) => turn > 1)) return undefined;
  const matches = cornersOf(size).map((from, i) => ({ from, to: corners[i], sureness: [1, 0, 1] as const }));
  return fitModel('perspective', matches, size, { noise: 0, robust: false });
}

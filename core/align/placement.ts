import { IDENTITY3, invert3, type Matrix3, multiply3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';

/** How a frame may have moved, from the simplest: not at all; shifted; shifted, turned and scaled; seen from another stand or
 * direction (a homography). */
export const MODELS = ['none', 'shift', 'similarity', 'perspective'] as const;
export type Model = (typeof MODELS)[number];

export interface Point {
  x: number;
  y: number;
}

/** Where a matrix takes a point; both are counted from the centre of the first pixel. */
export function mapPoint(m: Matrix3, { x, y }: Point): Point {
  const w = m[6] * x + m[7] * y + m[8];
  return { x: (m[0] * x + m[1] * y + m[2]) / w, y: (m[3] * x + m[4] * y + m[5]) / w };
}

export const shiftMatrix = (x: number, y: number): Matrix3 => [1, 0, x, 0, 1, y, 0, 0, 1];
export const scaleMatrix = (x: number, y = x): Matrix3 => [x, 0, 0, 0, y, 0, 0, 0, 1];

/** A matrix with its last number 1. */
export const normalize = (m: Matrix3): Matrix3 => m.map((value) => value / m[8]);

/** Matrices one after the other: the first is applied first. */
export const compose = (...matrices: readonly Matrix3[]): Matrix3 =>
  normalize(matrices.reduce((all, next) => multiply3(next, all), IDENTITY3));

/** A matrix between pixels of full size as one between pixels of a pyramid level. A level's pixel is the mean of 2 x 2, so its
 * centre lies between theirs. */
export function atLevel(m: Matrix3, level: number): Matrix3 {
  return compose(fromLevel(level), m, invert3(fromLevel(level)));
}

/** Pixels of a level as places at full size. */
export const fromLevel = (level: number): Matrix3 => {
  const step = 2 ** level;
  return [step, 0, (step - 1) / 2, 0, step, (step - 1) / 2, 0, 0, 1];
};

/** Outermost corners of a picture: half a pixel outside its outermost centres. */
export const cornersOf = ({ width, height }: Size): Point[] => [
  { x: -0.5, y: -0.5 },
  { x: width - 0.5, y: -0.5 },
  { x: width - 0.5, y: height - 0.5 },
  { x: -0.5, y: height - 0.5 },
];

/** How far apart two matrices take a picture's corners, in pixels, at most. */
export function cornerDistance(a: Matrix3, b: Matrix3, size: Size): number {
  return Math.max(
    ...cornersOf(size).map((corner) => {
      const [p, q] = [mapPoint(a, corner), mapPoint(b, corner)];
      return Math.hypot(p.x - q.x, p.y - q.y);
    }),
  );
}

/** Whether a matrix leaves everything where it is. */
export const isIdentity = (m: Matrix3): boolean => m.every((value, i) => value === IDENTITY3[i]);

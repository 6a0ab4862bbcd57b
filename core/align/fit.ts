import { IDENTITY3, invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { invertSymmetric, solveSymmetric } from './linear.ts';
import { compose, type Model, mapPoint, normalize, type Point } from './placement.ts';

/** A place in one picture and the same in another, with how surely the second is known: the inverse of its covariance, in
 * 1/pixels squared (xx, xy, yy). */
export interface Match {
  from: Point;
  to: Point;
  sureness: readonly [number, number, number];
}

/** Numbers that a model has to be given. */
export const FREEDOM: Record<Model, number> = { none: 0, shift: 2, similarity: 4, perspective: 8 };

const ROUNDS = 12;
/** Where Tukey's weight falls to nothing, in standard deviations: 95 % as good as least squares on normal errors (Huber and
 * Ronchetti 2009, "Robust Statistics", table 7.1 gives the same constant). */
const TUKEY = 4.685;

/** Coordinates of about -1..1, in which equations are well conditioned. */
export function unitFrame({ width, height }: Size): Matrix3 {
  const half = Math.max(width, height) / 2;
  return [1 / half, 0, -(width - 1) / 2 / half, 0, 1 / half, -(height - 1) / 2 / half, 0, 0, 1];
}

/** The placement of a model that takes `from` to `to` best: Gauss-Newton steps on the distance in the second picture, each
 * match weighted by its sureness and, when far off, less and less (Tukey's biweight).
 * @param start - Where to begin; matches far from it count for nothing when `robust`.
 * @param noise - Standard deviation of what no match knows of itself (parallax, resampling), in pixels.
 * @returns Undefined when the matches do not determine the model. */
export function fitModel(
  model: Model,
  matches: readonly Match[],
  size: Size,
  options: { start?: Matrix3; noise: number; robust: boolean },
): Matrix3 | undefined {
  if (model === 'none') return IDENTITY3;
  const frame = unitFrame(size);
  const back = invert3(frame);
  const { noise, robust } = options;
  const start = options.start ?? (model === 'perspective' ? directLinear(matches, frame) : IDENTITY3);
  if (!start) return undefined;
  let matrix = normalize(start);
  for (let round = 0; round < ROUNDS; round++) {
    const { a, b } = equations(model, matches, matrix, frame, noise, robust);
    const step = solveSymmetric(a, b);
    if (!step?.every(Number.isFinite)) return undefined;
    // The step is a small motion in the second picture, after the placement so far.
    matrix = compose(matrix, frame, stepMatrix(model, step), back);
    if (step.every((value) => Math.abs(value) < 1e-9)) break;
  }
  return FREEDOM[model] <= matches.length * 2 && matrix.every(Number.isFinite) ? matrix : undefined;
}

/** A homography by linear equations, about right: the direct linear transformation on coordinates of about -1..1 (Hartley and
 * Zisserman 2003, algorithm 4.2), its last number being 1. */
function directLinear(matches: readonly Match[], frame: Matrix3): Matrix3 | undefined {
  const n = 8;
  const a = new Float64Array(n * n);
  const b = new Float64Array(n);
  const add = (row: readonly number[], value: number) => {
    for (let i = 0; i < n; i++) {
      b[i] += row[i] * value;
      for (let j = 0; j < n; j++) a[i * n + j] += row[i] * row[j];
    }
  };
  for (const { from, to } of matches) {
    const [{ x, y }, { x: u, y: v }] = [mapPoint(frame, from), mapPoint(frame, to)];
    add([x, y, 1, 0, 0, 0, -u * x, -u * y], u);
    add([0, 0, 0, x, y, 1, -v * x, -v * y], v);
  }
  const h = solveSymmetric(a, b);
  return h && compose(frame, [...h, 1], invert3(frame));
}

/** Sums of the normal equations for a small motion after the placement. */
function equations(
  model: Model,
  matches: readonly Match[],
  matrix: Matrix3,
  frame: Matrix3,
  noise: number,
  robust: boolean,
): { a: Float64Array; b: Float64Array } {
  const n = FREEDOM[model];
  const a = new Float64Array(n * n);
  const b = new Float64Array(n);
  const pixel = frame[0];
  const across = new Float64Array(n);
  const down = new Float64Array(n);
  for (const match of matches) {
    const at = mapPoint(matrix, match.from);
    const [ex, ey] = [match.to.x - at.x, match.to.y - at.y];
    const [xx, xy, yy] = withNoise(match.sureness, noise);
    const weight = robust ? tukey(Math.sqrt(Math.max(0, ex * ex * xx + 2 * ex * ey * xy + ey * ey * yy) / 2)) : 1;
    if (weight === 0) continue;
    jacobian(model, mapPoint(frame, at), across, down);
    const [rx, ry] = [weight * (xx * ex + xy * ey), weight * (xy * ex + yy * ey)];
    for (let i = 0; i < n; i++) {
      const [wx, wy] = [weight * (xx * across[i] + xy * down[i]), weight * (xy * across[i] + yy * down[i])];
      for (let j = 0; j < n; j++) a[i * n + j] += (wx * across[j] + wy * down[j]) / (pixel * pixel);
      b[i] += (across[i] * rx + down[i] * ry) / pixel;
    }
  }
  return { a, b };
}

/** Derivatives of a motion by its numbers, at a point of about -1..1. */
export function jacobian(model: Model, { x, y }: Point, across: Float64Array, down: Float64Array): void {
  if (model === 'shift') {
    across.set([1, 0]);
    down.set([0, 1]);
  } else if (model === 'similarity') {
    across.set([1, 0, x, -y]);
    down.set([0, 1, y, x]);
  } else {
    across.set([1, 0, x, y, 0, 0, -x * x, -x * y]);
    down.set([0, 1, 0, 0, x, y, -x * y, -y * y]);
  }
}

export function stepMatrix(model: Model, p: Float64Array): Matrix3 {
  if (model === 'shift') return [1, 0, p[0], 0, 1, p[1], 0, 0, 1];
  if (model === 'similarity') return [1 + p[2], -p[3], p[0], p[3], 1 + p[2], p[1], 0, 0, 1];
  return [1 + p[2], p[3], p[0], p[4], 1 + p[5], p[1], p[6], p[7], 1];
}

/** Weight of a miss of so many standard deviations. */
export const tukey = (deviations: number): number => (deviations >= TUKEY ? 0 : (1 - (deviations / TUKEY) ** 2) ** 2);

/** The inverse of a covariance that has grown by noise the same in all directions. */
export function withNoise([xx, xy, yy]: Match['sureness'], noise: number): [number, number, number] {
  // (S^-1 + v I)^-1 = (I + v S)^-1 S, which holds for sureness in one direction only as well.
  const v = noise * noise;
  const [a, b, d] = [1 + v * xx, v * xy, 1 + v * yy];
  const determinant = a * d - b * b;
  return [(d * xx - b * xy) / determinant, (d * xy - b * yy) / determinant, (a * yy - b * xy) / determinant];
}

/** Squared distance of a match from where a placement takes it, in variances. */
export function deviation(match: Match, matrix: Matrix3, noise: number): number {
  const at = mapPoint(matrix, match.from);
  const [ex, ey] = [match.to.x - at.x, match.to.y - at.y];
  const [xx, xy, yy] = withNoise(match.sureness, noise);
  return Math.max(0, ex * ex * xx + 2 * ex * ey * xy + ey * ey * yy);
}

/** Distance of a match from where a placement takes it, in pixels, in directions in which the match knows something. */
export function missOf(match: Match, matrix: Matrix3): number {
  const at = mapPoint(matrix, match.from);
  const [ex, ey] = [match.to.x - at.x, match.to.y - at.y];
  const [xx, xy, yy] = match.sureness;
  const strongest = (xx + yy) / 2 + Math.hypot((xx - yy) / 2, xy);
  return strongest > 0 ? Math.sqrt(Math.max(0, ex * ex * xx + 2 * ex * ey * xy + ey * ey * yy) / strongest) : 0;
}

/** Standard deviation of where a fitted placement takes each of some points, in pixels; undefined when it is not determined. */
export function uncertainty(
  model: Model,
  matches: readonly Match[],
  matrix: Matrix3,
  size: Size,
  noise: number,
  points: readonly Point[],
): number[] | undefined {
  const n = FREEDOM[model];
  if (n === 0) return points.map(() => 0);
  const frame = unitFrame(size);
  const { a } = equations(model, matches, matrix, frame, noise, true);
  const covariance = invertSymmetric(a, n);
  if (!covariance) return undefined;
  const across = new Float64Array(n);
  const down = new Float64Array(n);
  return points.map((point) => {
    jacobian(model, mapPoint(frame, mapPoint(matrix, point)), across, down);
    let sum = 0;
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) sum += covariance[i * n + j] * (across[i] * across[j] + down[i] * down[j]);
    return Math.sqrt(Math.max(0, sum)) / frame[0];
  });
}

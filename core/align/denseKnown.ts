import type { Matrix3 } from '../raster/matrix3.ts';
import { invertSymmetric, solveSymmetric } from './linear.ts';
import { normalize } from './placement.ts';

/** A camera that turns and zooms neither stretches a picture nor skews it at its middle, but for the square of its angle, half of which
 * is this much for a turn of 0.8 degrees: deviation of the two, as a share. */
const STRETCH = 1e-4;
/** It tilts a picture only along the way that the picture moves, by no more than so much for each half width of way: the inverse square of
 * its focal length in half widths, here that of a very wide lens. Across it, such a deviation: for half widths of 1, what lenses bend. */
const WIDEST = 2;
const TILT = 3e-4;
/** Smoothing twice by 1 2 1 leaves so few independent samples: one in so many. */
export const SHARED = 13.4;

/** Adds to the equations of a step what is known of cameras: four more observations, of stretch and skew, and of tilt along and
 * across the way (Hartley and Zisserman 2003, section 8.4: pictures from one place differ by a rotation between two calibrations).
 * @param a - n x n numbers, the motion's first, each of them times the gain.
 * @param toFrame - Base to frame so far, in coordinates of about -1..1. */
export function holdToCamera(a: Float64Array, b: Float64Array, n: number, gain: number, toFrame: Matrix3): void {
  const m = normalize(toFrame);
  const [xx, xy, yx, yy] = [m[0] - m[6] * m[2], m[1] - m[7] * m[2], m[3] - m[6] * m[5], m[4] - m[7] * m[5]];
  const weight = SHARED / (gain * STRETCH) ** 2;
  const hold = (i: number, j: number, sign: number, value: number) => {
    a[i * n + i] += weight;
    a[j * n + j] += weight;
    a[i * n + j] += weight * sign;
    a[j * n + i] += weight * sign;
    b[i] += weight * gain * value;
    b[j] += weight * sign * gain * value;
  };
  hold(2, 5, -1, xx - yy);
  hold(3, 4, 1, xy + yx);
  const tilted = SHARED / (gain * TILT) ** 2;
  // The inverse of a covariance that is wide along the way (Sherman and Morrison 1950).
  const way = [WIDEST * m[2], WIDEST * m[5]];
  const widest = TILT ** 2 + way[0] ** 2 + way[1] ** 2;
  for (const i of [0, 1])
    for (const j of [0, 1]) {
      const known = tilted * ((i === j ? 1 : 0) - (way[i] * way[j]) / widest);
      a[(6 + i) * n + 6 + j] += known;
      b[6 + i] += known * gain * m[6 + j];
    }
}

/** What a plane of light has to earn: chance would have it earn two, and things that move and their neighbours more. */
const PLANE = 20;

/** Takes the plane of light, the last two unknowns, out of the equations unless it is there beyond doubt: where light falls off
 * evenly, a plane looks like a motion, and while both are unknown little is known of either.
 * @param a - n x n numbers, row by row, with `b` the equations; changed in place. */
export function dropPlane(a: Float64Array, b: Float64Array): void {
  const n = b.length;
  const covariance = invertSymmetric(Float64Array.from(a), n);
  const x = solveSymmetric(Float64Array.from(a), b);
  if (!covariance || !x) return;
  const [p, q] = [n - 2, n - 1];
  const [xx, xy, yy] = [covariance[p * n + p], covariance[p * n + q], covariance[q * n + q]];
  const earned = (yy * x[p] ** 2 - 2 * xy * x[p] * x[q] + xx * x[q] ** 2) / (xx * yy - xy * xy);
  if (earned >= PLANE * SHARED) return;
  for (const i of [p, q]) {
    for (let k = 0; k < n; k++) a[i * n + k] = a[k * n + i] = i === k ? 1 : 0;
    b[i] = 0;
  }
}

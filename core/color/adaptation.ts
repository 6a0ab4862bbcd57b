import { invert3, type Matrix3, multiply3, times3 } from '../raster/matrix3.ts';
import { type Chromaticity, xyzOf } from './primaries.ts';

/** White of the profile connection space (ICC.1:2022, section 7.2.16). */
export const PCS_WHITE = [0.9642, 1, 0.8249] as const;

/** Cone responses of the linear Bradford transform (ICC.1:2022, annex E, equation E.3). */
const BRADFORD: Matrix3 = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];

/** Matrix that takes XYZ seen under one white to XYZ under another, by the linear Bradford transform. */
export function adaptXyz(from: readonly number[], to: readonly number[]): Matrix3 {
  const [own, wanted] = [times3(BRADFORD, from), times3(BRADFORD, to)];
  const scaled = BRADFORD.map((value, index) => (value * wanted[Math.floor(index / 3)]) / own[Math.floor(index / 3)]);
  return multiply3(invert3(BRADFORD), scaled);
}

/** The same to the white of the profile connection space. */
export const toPcs = (white: Chromaticity): Matrix3 => adaptXyz(xyzOf(white), PCS_WHITE);

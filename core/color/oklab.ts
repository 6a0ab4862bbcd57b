import { ROOTS_TO_LAB } from '../kernels/oklabPlanes.ts';
import { type Matrix3, multiply3, times3 } from '../raster/matrix3.ts';
import { rgbToXyz } from './primaries.ts';
import { type OutputSpace, primariesOf } from './workingSpace.ts';

/** From XYZ with white D65 to the cone-like values of Oklab, whose cube roots become L, a and b (Ottosson 2020, "A perceptual
 * color space for image processing", with the digits of CSS Color Module Level 4, section 18, sample code; from memory, held to
 * a colour library by the tests). */
const XYZ_TO_LMS: Matrix3 = [
  0.819022437996703, 0.3619062600528904, -0.1288737815209879, 0.0329836539323885, 0.9292868615863434,
  0.0361446663506424, 0.0481771893596242, 0.2642395317527308, 0.6335478284694309,
];

/** Chroma that counts as fully vivid: 100 % of `oklch()` in CSS Color Module Level 4. */
export const CHROMA_FULL = 0.4;

/** Matrix from linear RGB of a space to what {@link labOfLms} takes. */
export const lmsMatrix = (space: OutputSpace): Matrix3 => multiply3(XYZ_TO_LMS, rgbToXyz(primariesOf(space)));

/** Lightness 0..1 and the two axes of colour of Oklab. */
export function labOfLms(lms: readonly number[]): [number, number, number] {
  const [l, m, s] = lms;
  return times3(ROOTS_TO_LAB, [Math.cbrt(l), Math.cbrt(m), Math.cbrt(s)]) as [number, number, number];
}

/** Lightness 0..1, chroma and hue in degrees 0..360 of linear RGB. */
export function oklchOf(matrix: Matrix3, rgb: readonly [number, number, number]): { l: number; c: number; h: number } {
  const [l, a, b] = labOfLms(times3(matrix, rgb));
  return { l, c: Math.hypot(a, b), h: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360 };
}

import { invert3, type Matrix3, multiply3, times3 } from '../raster/matrix3.ts';
import { LogTable } from './logTable.ts';
import { rgbToXyz } from './primaries.ts';
import { type OutputSpace, primariesOf } from './workingSpace.ts';

/** From XYZ with white D65 to the cone-like values of Oklab, and from their cube roots to L, a and b (Ottosson 2020, "A perceptual
 * color space for image processing", with the digits of CSS Color Module Level 4, section 18, sample code; from memory, held to
 * a colour library by the tests). */
const XYZ_TO_LMS: Matrix3 = [
  0.819022437996703, 0.3619062600528904, -0.1288737815209879, 0.0329836539323885, 0.9292868615863434,
  0.0361446663506424, 0.0481771893596242, 0.2642395317527308, 0.6335478284694309,
];
const ROOTS_TO_LAB: Matrix3 = [
  0.210454268309314, 0.7936177747023054, -0.0040720430116193, 1.9779985324311684, -2.4285922420485799,
  0.450593709617411, 0.0259040424655478, 0.7827717124575296, -0.8086757549230774,
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

const [L1, L2, L3, A1, A2, A3, B1, B2, B3] = ROOTS_TO_LAB;
const [X1, X2, X3, Y1, Y2, Y3, Z1, Z2, Z3] = invert3(ROOTS_TO_LAB);
const ROOTS = new LogTable(Math.cbrt);
const rootOf = (value: number): number => (value < 0 ? -ROOTS.at(-value) : ROOTS.at(value));

/** The same in place, by a table of roots: within a millionth, but for what is darker than a 65,536th. */
export function labFromLms(values: Float64Array): void {
  const l = rootOf(values[0]);
  const m = rootOf(values[1]);
  const s = rootOf(values[2]);
  values[0] = L1 * l + L2 * m + L3 * s;
  values[1] = A1 * l + A2 * m + A3 * s;
  values[2] = B1 * l + B2 * m + B3 * s;
}

/** Back from lightness and colour, in place. */
export function lmsFromLab(values: Float64Array): void {
  const l = values[0];
  const a = values[1];
  const b = values[2];
  const x = X1 * l + X2 * a + X3 * b;
  const y = Y1 * l + Y2 * a + Y3 * b;
  const z = Z1 * l + Z2 * a + Z3 * b;
  values[0] = x * x * x;
  values[1] = y * y * y;
  values[2] = z * z * z;
}

/** Lightness 0..1, chroma and hue in degrees 0..360 of linear RGB. */
export function oklchOf(matrix: Matrix3, rgb: readonly [number, number, number]): { l: number; c: number; h: number } {
  const [l, a, b] = labOfLms(times3(matrix, rgb));
  return { l, c: Math.hypot(a, b), h: ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360 };
}

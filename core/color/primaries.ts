export interface Chromaticity {
  x: number;
  y: number;
}

/** Red, green and blue primaries and white of a colour space, CIE 1931 xy. */
export interface Primaries {
  red: Chromaticity;
  green: Chromaticity;
  blue: Chromaticity;
  white: Chromaticity;
}

/** Nine numbers, row by row. */
export type Matrix3 = readonly number[];

const D65 = { x: 0.3127, y: 0.329 };

/** sRGB, IEC 61966-2-1:1999, table 1; the same as ITU-R BT.709-6, item 1.3. */
export const SRGB_PRIMARIES: Primaries = {
  red: { x: 0.64, y: 0.33 },
  green: { x: 0.3, y: 0.6 },
  blue: { x: 0.15, y: 0.06 },
  white: D65,
};

/** ITU-R BT.2020-2, table 3. */
export const BT2020_PRIMARIES: Primaries = {
  red: { x: 0.708, y: 0.292 },
  green: { x: 0.17, y: 0.797 },
  blue: { x: 0.131, y: 0.046 },
  white: D65,
};

export function xyzOf({ x, y }: Chromaticity): [number, number, number] {
  return [x / y, 1, (1 - x - y) / y];
}

/** Inverse of a 3 x 3 matrix.
 * @throws {RangeError} when it has none. */
export function invert3(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const cofactors = [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
  const determinant = a * cofactors[0] + b * cofactors[3] + c * cofactors[6];
  if (determinant === 0) throw new RangeError('The matrix has no inverse');
  return cofactors.map((cofactor) => cofactor / determinant);
}

/** The product of two matrices. */
export function multiply3(a: Matrix3, b: Matrix3): Matrix3 {
  return a.map((_, index) => {
    const [row, column] = [3 * Math.floor(index / 3), index % 3];
    return a[row] * b[column] + a[row + 1] * b[column + 3] + a[row + 2] * b[column + 6];
  });
}

/** A matrix times a column. */
export function times3(m: Matrix3, [x, y, z]: readonly number[]): [number, number, number] {
  return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

/** Matrix from linear RGB to XYZ, from primaries and white (SMPTE RP 177-1993, section 3.3). */
export function rgbToXyz(primaries: Primaries): Matrix3 {
  const columns = [xyzOf(primaries.red), xyzOf(primaries.green), xyzOf(primaries.blue)];
  const unscaled = [0, 1, 2].flatMap((row) => columns.map((column) => column[row]));
  const scale = times3(invert3(unscaled), xyzOf(primaries.white));
  return unscaled.map((value, index) => value * scale[index % 3]);
}

/** Weights of red, green and blue in luminance: the Y row of the matrix to XYZ. */
export function luminanceWeights(primaries: Primaries): [number, number, number] {
  const [, , , r, g, b] = rgbToXyz(primaries);
  return [r, g, b];
}

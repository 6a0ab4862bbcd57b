import { invert3, type Matrix3, times3 } from '../raster/matrix3.ts';

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

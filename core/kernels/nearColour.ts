import { smoothstep } from './smoothstep.ts';

/** Codes for one unit of Oklab, and what is added to the two axes of colour, which may be negative. */
export const LAB_UNIT = 65535;
export const LAB_HALF = 0.5;

/** What a touch stays on: the picture's axes of Oklab, coded, on the tile at hand; the colour under its centre; how far from it
 * others are covered in full, as a distance in Oklab. At twice that distance nothing is. */
export interface NearColour {
  lab: readonly [Uint16Array, Uint16Array, Uint16Array];
  centre: readonly number[];
  tolerance: number;
}

/** How near a pixel's colour is to that under the centre, 1 to 0. */
export function nearness({ lab, centre, tolerance }: NearColour, i: number): number {
  const [l, a, b] = lab.map((plane, axis) => plane[i] - centre[axis]);
  return smoothstep(2 - Math.sqrt(l * l + a * a + b * b) / (tolerance * LAB_UNIT));
}

import { smoothstep } from './smoothstep.ts';

/** Share of the surroundings that must be covered for a place to begin to fill, and from which on it is full. At the edge of an
 * area half of the surroundings are covered. */
export const BEGINS = 0.55;
export const FULL = 0.85;

/** How far inside a covered area a place lies, 0 outside and at its edge, 1 inside. The share of the surroundings that is covered
 * is the squared mean over the mean square, which is that share exactly when covered places are alike, however grey they are.
 * @param mean - Mean coverage around a place, 0..1.
 * @param meanSquare - Mean of the squared coverage around it.
 * @param from - Mean coverage from which on it surely is an area; below a third of it is none. */
export function coreOf(mean: number, meanSquare: number, from: number): number {
  if (meanSquare <= 0 || mean <= from / 3) return 0;
  return smoothstep(((mean * mean) / meanSquare - BEGINS) / (FULL - BEGINS)) * smoothstep((1.5 * mean) / from - 0.5);
}

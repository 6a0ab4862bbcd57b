import { TILE } from '../raster/size.ts';

/** Coverage that lines are drawn at, the middle one last: it lies over the others where the edge is hard. */
const LINES = [
  { at: 0.1, ink: [24, 24, 24] },
  { at: 0.9, ink: [244, 244, 244] },
] as const;

/** Pixels of a tile where coverage passes 10, 50 or 90 % on the way to the next pixel right or below.
 * @param area - Coverage of the tile and one more column and row, 16 bits.
 * @param colour - Of the middle line. */
export function* contours(
  area: Uint16Array,
  side: number,
  colour: readonly number[],
): Generator<{ place: number; ink: readonly number[] }> {
  const lines = [...LINES, { at: 0.5, ink: colour }].map(({ at, ink }) => ({ code: at * 65535, ink }));
  for (const { code, ink } of lines)
    for (let y = 0; y < TILE; y++)
      for (let x = 0; x < TILE; x++) {
        const at = y * side + x;
        const here = area[at] >= code;
        if (here !== area[at + 1] >= code || here !== area[at + side] >= code) yield { place: y * TILE + x, ink };
      }
}

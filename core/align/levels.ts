import type { Size } from '../raster/size.ts';

/** Levels between two that are looked at. */
const STRIDE = 2;

/** The finest level whose longer side is at most this long. */
export function levelUnder({ size, levels }: { size: Size; levels: number }, side: number): number {
  let level = 0;
  while (level < levels - 1 && Math.max(size.width, size.height) / 2 ** level > side) level++;
  return level;
}

/** Levels finer than one, down to full size. */
export function levelsBelow(first: number): number[] {
  const levels: number[] = [];
  for (let level = first - STRIDE; level > 0; level -= STRIDE) levels.push(level);
  if (first > 0) levels.push(0);
  return levels;
}

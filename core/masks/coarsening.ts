import type { Stroke } from './stroke.ts';

/** A fall of this many pixels is drawn between pixels within a thousandth of its height. */
const SMOOTH_FALL = 32;
/** A tile is read out of at least eight pixels of the coarser level. */
const MOST_LEVELS = 4;

/** How many levels coarser a stroke's coverage can be laid without loss: a wide soft brush has nothing fine in it, and
 * each level costs a quarter. One that stays on colours has edges wherever the picture has. Where pressure sets the size the smallest dab decides, which is not known beforehand. */
export function coarsening({ size, hardness, pressure, keepTo }: Stroke, level: number): number {
  if (keepTo || pressure === 'size' || pressure === 'both') return 0;
  const fall = ((size / 2) * (1 - hardness)) / 2 ** level;
  const levels = Math.floor(Math.log2(fall / SMOOTH_FALL));
  // Going down a single level and back costs as much as it saves.
  return levels < 2 ? 0 : Math.min(MOST_LEVELS, levels);
}

/** How far beyond its radius a dab may be seen at a level, in scene pixels. */
export function dabMargin(stroke: Stroke, level: number): number {
  return 2 ** (level + coarsening(stroke, level) + 1);
}

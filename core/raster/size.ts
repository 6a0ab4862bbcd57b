/** Side of a tile in pixels. */
export const TILE = 128;

/** Samples in one plane of a tile. */
export const TILE_SAMPLES = TILE * TILE;

export interface Size {
  width: number;
  height: number;
}

/** A rectangle of pixels at one pyramid level; `x` and `y` may be negative. */
export interface Region extends Size {
  x: number;
  y: number;
}

/** Size of a pyramid level: every level halves the one before, rounding up. Between whole levels lie quarters, which halve each other likewise.
 * @param level - A multiple of a quarter; a pixel of it is 2 to the level pixels wide. */
export function levelSize(size: Size, level: number): Size {
  const divisor = 2 ** level;
  return { width: Math.ceil(size.width / divisor), height: Math.ceil(size.height / divisor) };
}

/** How many levels a pyramid has, the last one fitting in a single tile. */
export function levelCount(size: Size): number {
  let levels = 1;
  for (let side = Math.max(size.width, size.height); side > TILE; side = Math.ceil(side / 2)) levels++;
  return levels;
}

/** Columns and rows of tiles that cover a level. */
export function tileGrid(size: Size, level: number): { columns: number; rows: number } {
  const { width, height } = levelSize(size, level);
  return { columns: Math.ceil(width / TILE), rows: Math.ceil(height / TILE) };
}

/** The part of a level that a tile really shows (edge tiles hold fewer pixels than they have room for). */
export function tileRegion(size: Size, level: number, tx: number, ty: number): Region {
  const at = levelSize(size, level);
  const x = tx * TILE;
  const y = ty * TILE;
  return { x, y, width: Math.min(TILE, at.width - x), height: Math.min(TILE, at.height - y) };
}

/** The coarsest level that halvings of a level lead to: it fits in a single tile. */
export const coarsestFrom = (level: number, levels: number): number =>
  level + Math.max(0, Math.ceil(levels - 1 - level));

/** The pyramid level to draw from at a zoom: the coarsest one that still has a pixel for every screen pixel.
 * @param scale - Screen pixels per scene pixel. */
export const levelForScale = (scale: number, levels: number): number => coarsestFor(scale, levels, 1);

/** The same among quarters of levels too: a fifth more pixels a side than are seen at most, where it may be twice as many. */
export const quarterForScale = (scale: number, levels: number): number => coarsestFor(scale, levels, 1 / 4);

function coarsestFor(scale: number, levels: number, step: number): number {
  const level = Math.floor(Math.log2(1 / scale) / step + 1e-6) * step;
  return Math.min(levels - 1, Math.max(0, level));
}

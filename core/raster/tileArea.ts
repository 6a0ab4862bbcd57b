import { copyRows, padRows } from './copyRows.ts';
import { type Region, type Size, TILE } from './size.ts';

/** Copies a region of a tiled picture together; beyond the picture its edge is repeated.
 * @param whole - Size of the picture at the region's level.
 * @param withTile - Calls `use` with the planes of a tile, which are valid until it returns.
 * @param out - As many planes, `stride` samples a row. */
export function gatherArea(
  region: Region,
  whole: Size,
  withTile: (tx: number, ty: number, use: (planes: readonly Uint16Array[]) => void) => void,
  out: readonly Uint16Array[],
  stride: number,
): void {
  for (const { tx, ty } of tilesOfArea(region, whole))
    withTile(tx, ty, (planes) => copyTile(planes, tx, ty, region, whole, out, stride));
}

/** The tiles that a region takes its pixels from, row by row; what lies beyond the picture belongs to those at its edge. */
export function tilesOfArea({ x, y, width, height }: Region, whole: Size): { tx: number; ty: number }[] {
  const tileAt = (at: number, length: number) => Math.floor(Math.min(length - 1, Math.max(0, at)) / TILE);
  const tiles: { tx: number; ty: number }[] = [];
  for (let ty = tileAt(y, whole.height); ty <= tileAt(y + height - 1, whole.height); ty++)
    for (let tx = tileAt(x, whole.width); tx <= tileAt(x + width - 1, whole.width); tx++) tiles.push({ tx, ty });
  return tiles;
}

/** What rows are copied and padded by: plain loops, or kernels, which take the same. */
export interface RowTools {
  copyRows: typeof copyRows;
  padRows: typeof padRows;
}

/** Copies what one tile serves of a region, see {@link gatherArea}. */
export function copyTile(
  planes: readonly Uint16Array[],
  tx: number,
  ty: number,
  { x, y, width, height }: Region,
  whole: Size,
  out: readonly Uint16Array[],
  stride: number,
  tools: RowTools = { copyRows, padRows },
): void {
  // Rows and columns beyond the picture belong to the tile at its edge.
  const [firstX, lastX] = spanOf(tx, whole.width, x, width);
  const [firstY, lastY] = spanOf(ty, whole.height, y, height);
  const columns = insideOf(firstX, lastX, whole.width);
  const rows = insideOf(firstY, lastY, whole.height);
  const from = (rows.from - ty * TILE) * TILE + columns.from - tx * TILE;
  const wide = lastX - firstX;
  const at = (row: number, column = firstX) => (row - y) * stride + column - x;
  const below = rows.to + rows.count;
  for (let channel = 0; channel < planes.length; channel++) {
    const target = out[channel];
    tools.copyRows(planes[channel], from, TILE, target, at(rows.to, columns.to), stride, columns.count, rows.count);
    const held = columns.to - firstX;
    if (columns.count < wide) tools.padRows(target, at(rows.to), stride, wide, rows.count, held, held + columns.count);
    // Rows of the region beyond the picture are as the nearest that lies in it.
    if (rows.to > firstY) tools.copyRows(target, at(rows.to), 0, target, at(firstY), stride, wide, rows.to - firstY);
    if (below < lastY) tools.copyRows(target, at(below - 1), 0, target, at(below), stride, wide, lastY - below);
  }
}

/** What of a span along one way lies in the picture, or what of the picture is nearest to it: from where, to where, and how much. */
function insideOf(first: number, last: number, whole: number): { from: number; to: number; count: number } {
  const from = Math.min(whole - 1, Math.max(0, first));
  return { from, to: Math.max(first, Math.min(from, last - 1)), count: Math.max(1, Math.min(last, whole) - from) };
}

/** First place of a region, and one past the last, that take their pixels from a tile. */
function spanOf(tile: number, whole: number, from: number, length: number): [number, number] {
  const last = Math.ceil(whole / TILE) - 1;
  return [
    tile === 0 ? from : Math.max(from, tile * TILE),
    tile === last ? from + length : Math.min(from + length, (tile + 1) * TILE),
  ];
}

import { copyRows } from './copyRows.ts';
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

/** Copies what one tile serves of a region, see {@link gatherArea}.
 * @param copy - Copies rows, where none beyond the picture are asked for. */
export function copyTile(
  planes: readonly Uint16Array[],
  tx: number,
  ty: number,
  { x, y, width, height }: Region,
  whole: Size,
  out: readonly Uint16Array[],
  stride: number,
  copy = copyRows,
): void {
  // Rows and columns beyond the picture belong to the tile at its edge.
  const [firstX, lastX] = spanOf(tx, whole.width, x, width);
  const [firstY, lastY] = spanOf(ty, whole.height, y, height);
  if (firstX >= 0 && firstY >= 0 && lastX <= whole.width && lastY <= whole.height) {
    const from = (firstY - ty * TILE) * TILE + firstX - tx * TILE;
    const to = (firstY - y) * stride + firstX - x;
    for (const [channel, source] of planes.entries())
      copy(source, from, TILE, out[channel], to, stride, lastX - firstX, lastY - firstY);
    return;
  }
  const [left, right] = [Math.max(firstX, 0), Math.min(lastX, whole.width)];
  for (let row = firstY; row < lastY; row++) {
    const from = (Math.min(whole.height - 1, Math.max(0, row)) - ty * TILE) * TILE - tx * TILE;
    const to = (row - y) * stride - x;
    for (const [channel, source] of planes.entries()) {
      const target = out[channel];
      if (left < right) target.set(source.subarray(from + left, from + right), to + left);
      if (firstX < 0) target.fill(source[from], to + firstX, to + Math.min(0, lastX));
      if (lastX > whole.width)
        target.fill(source[from + whole.width - 1], to + Math.max(firstX, whole.width), to + lastX);
    }
  }
}

/** First place of a region, and one past the last, that take their pixels from a tile. */
function spanOf(tile: number, whole: number, from: number, length: number): [number, number] {
  const last = Math.ceil(whole / TILE) - 1;
  return [
    tile === 0 ? from : Math.max(from, tile * TILE),
    tile === last ? from + length : Math.min(from + length, (tile + 1) * TILE),
  ];
}

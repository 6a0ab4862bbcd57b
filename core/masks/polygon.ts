import { TILE } from '../raster/size.ts';

/** Fills the inside of a closed line, each pixel by the share of it that lies inside (signed areas summed along each row). Places
 * that the line goes round more than once are inside too.
 * @param corners - x, y, x, y in pixels of the tile; they may lie outside.
 * @param out - A tile plane; overwritten in full. */
export function fillPolygon(corners: readonly number[], out: Float32Array): void {
  out.fill(0);
  const count = corners.length / 2;
  if (count < 3) return;
  for (let i = 0; i < count; i++) {
    const next = (i + 1) % count;
    addEdge(out, corners[2 * i], corners[2 * i + 1], corners[2 * next], corners[2 * next + 1]);
  }
  for (let y = 0; y < TILE; y++) {
    let sum = 0;
    for (let x = y * TILE; x < (y + 1) * TILE; x++) {
      sum += out[x];
      out[x] = Math.min(1, Math.abs(sum));
    }
  }
}

/** Adds an edge row by row. */
function addEdge(out: Float32Array, x0: number, y0: number, x1: number, y1: number): void {
  if (y0 === y1) return;
  const sign = y0 < y1 ? 1 : -1;
  const [xTop, yTop, xEnd, yEnd] = sign > 0 ? [x0, y0, x1, y1] : [x1, y1, x0, y0];
  const slope = (xEnd - xTop) / (yEnd - yTop);
  const last = Math.min(TILE, yEnd);
  for (let row = Math.max(0, Math.floor(yTop)); row < last; row++) {
    const from = Math.max(row, yTop);
    const to = Math.min(row + 1, last);
    if (to <= from) continue;
    addPiece(out, row, xTop + (from - yTop) * slope, xTop + (to - yTop) * slope, sign * (to - from));
  }
}

/** Adds the piece of an edge within one row; what lies left of the tile covers the row from its start, what lies right nothing. */
function addPiece(out: Float32Array, row: number, xa: number, xb: number, height: number): void {
  const [left, right] = xa < xb ? [xa, xb] : [xb, xa];
  if (left >= TILE) return;
  const base = row * TILE;
  if (right <= 0) {
    out[base] += height;
    return;
  }
  if (left < 0 || right > TILE) {
    const [a, b] = [Math.max(0, left), Math.min(TILE, right)];
    const width = right - left;
    if (left < 0) out[base] += (height * -left) / width;
    if (b > a) addInside(out, base, a, b, (height * (b - a)) / width);
    return;
  }
  addInside(out, base, left, right, height);
}

/** A piece whose ends lie in the row: each pixel it passes is covered right of it, and all that follow by the whole height. */
function addInside(out: Float32Array, base: number, left: number, right: number, height: number): void {
  const width = right - left;
  /** Height of the piece left of the pixel, and what the pixel before was covered by. */
  let passed = 0;
  let before = 0;
  for (let x = Math.min(TILE - 1, Math.floor(left)); x < TILE; x++) {
    const [a, b] = [Math.max(left, x), Math.min(right, x + 1)];
    const within = width > 0 ? (height * (b - a)) / width : height;
    const covered = passed + within * (x + 1 - (a + b) / 2);
    out[base + x] += covered - before;
    passed += within;
    before = covered;
    if (right > x + 1) continue;
    if (x + 1 < TILE) out[base + x + 1] += height - covered;
    return;
  }
}

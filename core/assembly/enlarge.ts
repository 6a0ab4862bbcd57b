import { uniform } from './coverage';
import { joinRow, paintRow } from './paint';

const TILE_SAMPLES: i32 = 128 * 128;

/** Bytes of the scratch before its mixed row: places and fractions of a tile's columns. */
const COLUMNS: usize = 1024;

/** Works out between which pixels of an area's row each column of a tile lies. */
function placeColumns(offsetX: f32, unit: f32, spare: usize): void {
  for (let x = 0; x < 128; x++) {
    const sx = (<f32>x + 0.5) * unit - 0.5 + offsetX;
    const left = Mathf.floor(sx);
    store<i32>(spare + (<usize>x << 2), <i32>left << 2);
    store<f32>(spare + 512 + (<usize>x << 2), sx - left);
  }
}

/** Bytes of the pixels between the same two where they come in whole vectors: from steps of eight on, at whole offsets; else 0. */
// @ts-ignore: decorator
@inline
function runOfFours(offsetX: f32, step: f32): usize {
  return step >= 8 && Mathf.floor(offsetX) == offsetX ? <usize>step << 2 : 0;
}

/** One row of a tile: two rows of the area are mixed first, four pixels at a time, then each pixel takes two neighbours of
 * the mixed row. Three times quicker than fetching four neighbours a pixel. Answers whether anything is covered; when nothing is
 * the row is left alone. */
// @ts-ignore: decorator
@inline
function enlargeRow(area: usize, stride: usize, sy: f32, spare: usize, row: usize, inFours: usize): bool {
  const line = spare + COLUMNS;
  const first = <usize>load<i32>(spare) & ~15;
  const end = <usize>load<i32>(spare, 508) + 8;
  const top = Mathf.floor(sy);
  const fy = f32x4.splat(sy - top);
  const upperRow = area + <usize>(<i32>top) * stride;
  let all = f32x4.splat(0);
  let i = first;
  do {
    const upper = v128.load(upperRow + i);
    const lower = v128.load(upperRow + stride + i);
    const mixed = f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy));
    v128.store(line + i, mixed);
    all = v128.or(all, mixed);
    i += 16;
  } while (i < end);
  if (!v128.any_true(all)) return false;
  if (inFours != 0) spreadFours(line + <usize>load<i32>(spare), spare + 512, row, inFours);
  else spreadRow(line, spare, row);
  return true;
}

/** Each pixel between the two of the mixed row that its column lies between. */
// @ts-ignore: decorator
@inline
function spreadRow(line: usize, spare: usize, row: usize): void {
  let i: usize = 0;
  do {
    const at = spare + i;
    let a = v128.load64_zero(line + <usize>load<i32>(at));
    a = v128.load64_lane(line + <usize>load<i32>(at, 4), a, 1);
    let b = v128.load64_zero(line + <usize>load<i32>(at, 8));
    b = v128.load64_lane(line + <usize>load<i32>(at, 12), b, 1);
    const left = v128.shuffle<f32>(a, b, 0, 2, 4, 6);
    const right = v128.shuffle<f32>(a, b, 1, 3, 5, 7);
    v128.store(row + i, f32x4.add(left, f32x4.mul(f32x4.sub(right, left), v128.load(at + 512))));
    i += 16;
  } while (i < 512);
}

/** The same where pixels between the same two come in runs of fours, the first run and the last of half a step.
 * @param at - The first pixel of the mixed row.
 * @param run - Bytes that the pixels of a step take. */
// @ts-ignore: decorator
@inline
function spreadFours(at: usize, shares: usize, row: usize, run: usize): void {
  let i: usize = 0;
  let until = run >> 1;
  do {
    const left = v128.load32_splat(at);
    const rise = f32x4.sub(v128.load32_splat(at, 4), left);
    do {
      v128.store(row + i, f32x4.add(left, f32x4.mul(rise, v128.load(shares + i))));
      i += 16;
    } while (i < until);
    at += 4;
    until = min<usize>(until + run, 512);
  } while (i < 512);
}

/** Reads rows of a tile of a finer level out of an area of a coarser one, between its pixels.
 * @param offsetX - Where the tile's left edge lies in the area, in the area's pixels; likewise `offsetY`, of the first row.
 * @param step - Pixels of the tile for one of the area.
 * @param spare - 1,024 bytes and a row of the area, rounded up to 16 bytes. */
export function enlarge(area: usize, side: i32, offsetX: f32, offsetY: f32, step: f32, out: usize, rows: i32, spare: usize): void {
  const unit: f32 = 1 / step;
  placeColumns(offsetX, unit, spare);
  const inFours = runOfFours(offsetX, step);
  for (let y = 0; y < rows; y++) {
    const row = out + (<usize>y << 9);
    if (!enlargeRow(area, <usize>side << 2, (<f32>y + 0.5) * unit - 0.5 + offsetY, spare, row, inFours))
      memory.fill(row, 0, 512);
  }
}

/** Enlarges a stroke's coverage and paints with it row by row, so that it never leaves the nearest cache. See `enlarge` and
 * `paintOver`.
 * @param row - 512 bytes. */
export function paintEnlarged(
  value: usize, alpha: usize, area: usize, side: i32, offset: f32, step: f32, target: f32, strength: f32, stencil: usize,
  constant: f32, fresh: i32, spare: usize, row: usize,
): void {
  const unit: f32 = 1 / step;
  placeColumns(offset, unit, spare);
  const inFours = runOfFours(offset, step);
  for (let y: usize = 0; y < 128; y++) {
    const at = y << 9;
    if (enlargeRow(area, <usize>side << 2, (<f32>y + 0.5) * unit - 0.5 + offset, spare, row, inFours)) {
      const through: usize = stencil == 0 ? 0 : stencil + (y << 8);
      paintRow(value + at, alpha + at, row, target, strength, through, constant, 128, fresh);
    } else if (fresh != 0) {
      memory.fill(value + at, 0, 512);
      memory.fill(alpha + at, 0, 512);
    }
  }
}

/** Enlarges a stroke's coverage and adds what it paints to a mask of 16-bit samples, row by row: nothing is painted before it.
 * Answers the one value that all have, or -1.
 * @param row - 512 bytes. */
export function joinEnlarged(
  mask: usize, out: usize, area: usize, side: i32, offset: f32, step: f32, target: f32, strength: f32, stencil: usize,
  constant: f32, spare: usize, row: usize,
): i32 {
  const unit: f32 = 1 / step;
  placeColumns(offset, unit, spare);
  const inFours = runOfFours(offset, step);
  for (let y: usize = 0; y < 128; y++) {
    const at = y << 8;
    if (!enlargeRow(area, <usize>side << 2, (<f32>y + 0.5) * unit - 0.5 + offset, spare, row, inFours))
      memory.copy(out + at, mask + at, 256);
    else joinRow(mask + at, out + at, row, target, strength, stencil == 0 ? 0 : stencil + at, constant);
  }
  return uniform(out, TILE_SAMPLES);
}

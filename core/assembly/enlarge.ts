import { paintRow } from './paint';

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

/** Whether the four columns of each vector lie between the same two pixels: from steps of eight on, at whole offsets. */
// @ts-ignore: decorator
@inline
function liesInFours(offsetX: f32, step: f32): bool {
  return step >= 8 && Mathf.floor(offsetX) == offsetX;
}

/** One row of a tile: two rows of the area are mixed first, four pixels at a time, then each pixel takes two neighbours of
 * the mixed row. Three times quicker than fetching four neighbours a pixel. */
// @ts-ignore: decorator
@inline
function enlargeRow(area: usize, stride: usize, sy: f32, spare: usize, row: usize, inFours: bool): void {
  const line = spare + COLUMNS;
  const first = <usize>load<i32>(spare) & ~15;
  const end = <usize>load<i32>(spare, 508) + 8;
  const top = Mathf.floor(sy);
  const fy = f32x4.splat(sy - top);
  const upperRow = area + <usize>(<i32>top) * stride;
  for (let i = first; i < end; i += 16) {
    const upper = v128.load(upperRow + i);
    const lower = v128.load(upperRow + stride + i);
    v128.store(line + i, f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy)));
  }
  if (inFours) {
    for (let i: usize = 0; i < 512; i += 16) {
      const pair = v128.load64_zero(line + <usize>load<i32>(spare + i));
      const left = v128.shuffle<f32>(pair, pair, 0, 0, 0, 0);
      const right = v128.shuffle<f32>(pair, pair, 1, 1, 1, 1);
      v128.store(row + i, f32x4.add(left, f32x4.mul(f32x4.sub(right, left), v128.load(spare + 512 + i))));
    }
    return;
  }
  for (let i: usize = 0; i < 512; i += 16) {
    const at = spare + i;
    let a = v128.load64_zero(line + <usize>load<i32>(at));
    a = v128.load64_lane(line + <usize>load<i32>(at, 4), a, 1);
    let b = v128.load64_zero(line + <usize>load<i32>(at, 8));
    b = v128.load64_lane(line + <usize>load<i32>(at, 12), b, 1);
    const left = v128.shuffle<f32>(a, b, 0, 2, 4, 6);
    const right = v128.shuffle<f32>(a, b, 1, 3, 5, 7);
    v128.store(row + i, f32x4.add(left, f32x4.mul(f32x4.sub(right, left), v128.load(at + 512))));
  }
}

/** Reads a tile of a finer level out of an area of a coarser one, between its pixels.
 * @param offsetX - Where the tile's left edge lies in the area, in the area's pixels; likewise `offsetY`.
 * @param step - Pixels of the tile for one of the area.
 * @param spare - 1,024 bytes and a row of the area, rounded up to 16 bytes. */
export function enlarge(area: usize, side: i32, offsetX: f32, offsetY: f32, step: f32, out: usize, spare: usize): void {
  const unit: f32 = 1 / step;
  placeColumns(offsetX, unit, spare);
  const inFours = liesInFours(offsetX, step);
  for (let y = 0; y < 128; y++)
    enlargeRow(area, <usize>side << 2, (<f32>y + 0.5) * unit - 0.5 + offsetY, spare, out + (<usize>y << 9), inFours);
}

/** Enlarges a stroke's coverage and paints with it row by row, so that it never leaves the nearest cache. See `enlarge` and
 * `paintOver`.
 * @param row - 512 bytes. */
export function paintEnlarged(
  value: usize, hold: usize, area: usize, side: i32, offset: f32, step: f32, target: f32, strength: f32, stencil: usize,
  constant: f32, fresh: i32, spare: usize, row: usize,
): void {
  const unit: f32 = 1 / step;
  placeColumns(offset, unit, spare);
  const inFours = liesInFours(offset, step);
  for (let y: usize = 0; y < 128; y++) {
    enlargeRow(area, <usize>side << 2, (<f32>y + 0.5) * unit - 0.5 + offset, spare, row, inFours);
    const at = y << 9;
    const through: usize = stencil == 0 ? 0 : stencil + (y << 8);
    paintRow(value + at, hold + at, row, target, strength, through, constant, 128, fresh);
  }
}

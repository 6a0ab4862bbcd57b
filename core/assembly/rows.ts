/** The samples of four rows at one column, in one vector. */
// @ts-ignore: decorator
@inline
export function fourRows(at: usize, stride: usize): v128 {
  let four = v128.load32_zero(at);
  four = v128.load32_lane(at + stride, four, 1);
  four = v128.load32_lane(at + 2 * stride, four, 2);
  return v128.load32_lane(at + 3 * stride, four, 3);
}

/** Stores a vector to one column of four rows. */
// @ts-ignore: decorator
@inline
export function toFourRows(at: usize, stride: usize, four: v128): void {
  v128.store32_lane(at, four, 0);
  v128.store32_lane(at + stride, four, 1);
  v128.store32_lane(at + 2 * stride, four, 2);
  v128.store32_lane(at + 3 * stride, four, 3);
}

/** Four vectors turned over, two steps: vectors of two samples of each, in turn, then halves of two of those. */
// @ts-ignore: decorator
@inline
export function lowPairs(a: v128, b: v128): v128 {
  return v128.shuffle<i32>(a, b, 0, 4, 1, 5);
}

// @ts-ignore: decorator
@inline
export function highPairs(a: v128, b: v128): v128 {
  return v128.shuffle<i32>(a, b, 2, 6, 3, 7);
}

// @ts-ignore: decorator
@inline
export function lowHalves(a: v128, b: v128): v128 {
  return v128.shuffle<i32>(a, b, 0, 1, 4, 5);
}

// @ts-ignore: decorator
@inline
export function highHalves(a: v128, b: v128): v128 {
  return v128.shuffle<i32>(a, b, 2, 3, 6, 7);
}

/** Copies rows of samples of 16 bits.
 * @param stride, toStride - Samples from one row to the next. */
export function copyRows(from: usize, stride: i32, to: usize, toStride: i32, width: i32, rows: i32): void {
  for (let row = 0; row < rows; row++)
    memory.copy(to + (<usize>(row * toStride) << 1), from + (<usize>(row * stride) << 1), <usize>width << 1);
}

/** Copies rows of floats. What calls out for each row takes longer than rows of areas do. */
export function copyFloatRows(from: usize, stride: i32, to: usize, toStride: i32, width: i32, rows: i32): void {
  const bytes = <usize>width << 2;
  const vectors = bytes & ~15;
  for (let row = 0; row < rows; row++) {
    let at: usize = 0;
    for (; at < vectors; at += 16) v128.store(to + at, v128.load(from + at));
    for (; at < bytes; at += 4) store<f32>(to + at, load<f32>(from + at));
    from += <usize>stride << 2;
    to += <usize>toStride << 2;
  }
}

/** Copies memory. */
export function copyBytes(from: usize, to: usize, bytes: i32): void {
  memory.copy(to, from, <usize>bytes);
}

/** One value for a plane, whose length is a multiple of four. */
export function fillFloats(plane: usize, value: f32, n: i32): void {
  const many = f32x4.splat(value);
  const end = plane + (<usize>n << 2);
  for (; plane < end; plane += 16) v128.store(plane, many);
}

/** A sample of 16 bits again and again. */
// @ts-ignore: decorator
@inline
function repeat(sample: u32, at: usize, to: usize): void {
  const many = i16x8.splat(<i16>sample);
  for (; at + 16 <= to; at += 16) v128.store(at, many);
  for (; at < to; at += 2) store<u16>(at, <u16>sample);
}

/** Repeats the first and the last sample of what rows hold to their ends.
 * @param from, to - The first sample that is there, and one past the last. */
export function padRows(plane: usize, stride: i32, width: i32, rows: i32, from: i32, to: i32): void {
  for (let row = 0; row < rows; row++) {
    const at = plane + (<usize>(row * stride) << 1);
    const first = at + (<usize>from << 1);
    const last = at + (<usize>to << 1);
    repeat(load<u16>(first), at, first);
    repeat(load<u16>(last - 2), last, at + (<usize>width << 1));
  }
}

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

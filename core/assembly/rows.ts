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

/** Copies rows of samples of 16 bits.
 * @param stride, toStride - Samples from one row to the next. */
export function copyRows(from: usize, stride: i32, to: usize, toStride: i32, width: i32, rows: i32): void {
  for (let row = 0; row < rows; row++)
    memory.copy(to + (<usize>(row * toStride) << 1), from + (<usize>(row * stride) << 1), <usize>width << 1);
}

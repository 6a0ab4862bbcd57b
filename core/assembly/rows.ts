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

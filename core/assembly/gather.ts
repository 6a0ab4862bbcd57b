/** WebAssembly gathers nothing: values are loaded one by one, straight into their lanes. */

/** Floats from which on neighbours lie one apart: added to whole numbers below them, these stand in the lower bits. */
const WHOLES: f32 = 8388608;

/** Whole numbers from 0 to 2^22, as floats, times a power of two: offsets from {@link knotsFrom}. */
// @ts-ignore: decorator
@inline
export function offsetsOf(wholes: v128, power: i32): v128 {
  return i32x4.shl(f32x4.add(wholes, f32x4.splat(WHOLES)), power);
}

/** Where offsets of {@link offsetsOf} count from to reach a table. */
// @ts-ignore: decorator
@inline
export function knotsFrom(table: usize, power: i32): usize {
  return table - (0x4b000000 << power);
}

/** Between four knots and those after them, each pair in one load.
 * @param places - Of the knots in the table, in bytes.
 * @param shares - Of the way to the next knot. */
// @ts-ignore: decorator
@inline
export function onLines(table: usize, places: v128, shares: v128): v128 {
  const first = v128.load64_zero(table + <usize>i32x4.extract_lane(places, 0));
  const left = v128.load64_lane(table + <usize>i32x4.extract_lane(places, 1), first, 1);
  const third = v128.load64_zero(table + <usize>i32x4.extract_lane(places, 2));
  const right = v128.load64_lane(table + <usize>i32x4.extract_lane(places, 3), third, 1);
  const here = v128.shuffle<i32>(left, right, 0, 2, 4, 6);
  const next = v128.shuffle<i32>(left, right, 1, 3, 5, 7);
  return f32x4.add(here, f32x4.mul(f32x4.sub(next, here), shares));
}

/** Four numbers of a knot, on the line to those of the next. */
// @ts-ignore: decorator
@inline
export function fourOnLine(knot: usize, share: f32): v128 {
  const here = v128.load(knot);
  return f32x4.add(here, f32x4.mul(f32x4.sub(v128.load(knot, 16), here), f32x4.splat(share)));
}

/** Four codes of a plane, or one value for all where there is no plane. */
// @ts-ignore: decorator
@inline
export function codesAt(plane: usize, value: i32, at: usize): v128 {
  if (plane == 0) return i32x4.splat(value);
  return i32x4.extend_low_i16x8_u(v128.load64_zero(plane + (at >> 1)));
}

/** WebAssembly gathers nothing: values are loaded one by one, straight into their lanes. */

/** Floats from which on neighbours lie one apart: added to whole numbers below them, these stand in the lower bits. */
const WHOLES: f32 = 8388608;

/** Addresses in a table of knots, from whole numbers, 0 to 2^22, as floats.
 * @param power - Of two: how many bytes a knot has. */
// @ts-ignore: decorator
@inline
export function knotsAt(table: usize, wholes: v128, power: i32): v128 {
  const from = table - (0x4b000000 << power);
  return i32x4.add(i32x4.shl(f32x4.add(wholes, f32x4.splat(WHOLES)), power), i32x4.splat(<i32>from));
}

/** The first two of four addresses. To take two at a time and part them costs fewer steps than to take each out of its lane. */
// @ts-ignore: decorator
@inline
export function firstTwo(addresses: v128): u64 {
  return i64x2.extract_lane(addresses, 0);
}

// @ts-ignore: decorator
@inline
export function lastTwo(addresses: v128): u64 {
  return i64x2.extract_lane(addresses, 1);
}

/** One of two addresses. */
// @ts-ignore: decorator
@inline
export function one(two: u64): usize {
  return <usize>two;
}

// @ts-ignore: decorator
@inline
export function other(two: u64): usize {
  return <usize>(two >> 32);
}

/** The whole numbers below values from 0 to 2^22: to cut floats off WebAssembly's own way takes twice as many steps. */
// @ts-ignore: decorator
@inline
export function wholesBelow(values: v128): v128 {
  return v128.and(f32x4.add(f32x4.floor(values), f32x4.splat(WHOLES)), i32x4.splat(0x7fffff));
}

/** Between four knots and those after them, each pair in one load.
 * @param addresses - Of the knots.
 * @param shares - Of the way to the next knot. */
// @ts-ignore: decorator
@inline
export function betweenKnots(addresses: v128, shares: v128): v128 {
  const first = firstTwo(addresses);
  const last = lastTwo(addresses);
  const left = v128.load64_lane(other(first), v128.load64_zero(one(first)), 1);
  const right = v128.load64_lane(other(last), v128.load64_zero(one(last)), 1);
  const here = v128.shuffle<i32>(left, right, 0, 2, 4, 6);
  const next = v128.shuffle<i32>(left, right, 1, 3, 5, 7);
  return f32x4.add(here, f32x4.mul(f32x4.sub(next, here), shares));
}

/** The same by the knots' places in a table, in bytes. */
// @ts-ignore: decorator
@inline
export function onLines(table: usize, places: v128, shares: v128): v128 {
  return betweenKnots(i32x4.add(places, i32x4.splat(<i32>table)), shares);
}

/** Four numbers of a knot, on the line to those of the next.
 * @param share - Of the way there, in all lanes. */
// @ts-ignore: decorator
@inline
export function fourOnLine(knot: usize, share: v128): v128 {
  const here = v128.load(knot);
  return f32x4.add(here, f32x4.mul(f32x4.sub(v128.load(knot, 16), here), share));
}

/** Four codes of a plane, or one value for all where there is no plane. */
// @ts-ignore: decorator
@inline
export function codesAt(plane: usize, value: i32, at: usize): v128 {
  if (plane == 0) return i32x4.splat(value);
  return i32x4.extend_low_i16x8_u(v128.load64_zero(plane + (at >> 1)));
}

/** Four samples as floats, widened while they are loaded: an instruction less than taking halves of a vector. */
// @ts-ignore: decorator
@inline
export function four(at: usize, offset: usize): v128 {
  return f32x4.convert_i32x4_s(v128.load16x4_u(at + offset));
}

/** What a table of 65,536 floats makes of four codes.
 * @param four - 16 bits each, the first the lowest. */
// @ts-ignore: decorator
@inline
export function tabledCodes(table: usize, four: u64): v128 {
  const first = v128.load32_zero(table + (<usize>(four & 0xffff) << 2));
  const second = v128.load32_lane(table + (<usize>((four >> 16) & 0xffff) << 2), first, 1);
  const third = v128.load32_lane(table + (<usize>((four >> 32) & 0xffff) << 2), second, 2);
  return v128.load32_lane(table + (<usize>(four >> 48) << 2), third, 3);
}

import { betweenKnots, codesAt, knotsAt } from './gather';
import { horner } from './weighed';

/** A float of which the last bit is one, 3 x 2^22, so that whole numbers of both signs stand in the lower bits of their sums with it; and what
 * a float's exponent counts from. */
const WHOLES: f32 = 12582912;
const EXPONENT: f32 = 127;

/** Two to a power: of whole numbers by the bits of the float, of what is left by Taylor's series (relative error below 1e-7), whose parts are
 * summed side by side. */
// @ts-ignore: decorator
@inline
export function powerOfTwo(x: v128): v128 {
  const whole = f32x4.nearest(x);
  const f = f32x4.sub(x, whole);
  const square = f32x4.mul(f, f);
  const bits = i32x4.shl(f32x4.add(whole, f32x4.splat(WHOLES + EXPONENT)), 23);
  const low = horner(f32x4.splat(0.6931471805599453), f, 1);
  const middle = horner(f32x4.splat(0.05550410866482158), f, 0.2402265069591007);
  const high = horner(f32x4.splat(0.0013333558146428443), f, 0.009618129107628477);
  const top = f32x4.add(high, f32x4.mul(square, f32x4.splat(0.00015403530393381608)));
  const upper = f32x4.add(middle, f32x4.mul(square, top));
  return f32x4.mul(f32x4.add(low, f32x4.mul(square, upper)), bits);
}

/** Numbers on the lines between those of a table.
 * @param at - Places in the table, from 0 on. */
// @ts-ignore: decorator
@inline
function linesOf(table: usize, at: v128): v128 {
  const left = f32x4.floor(at);
  return betweenKnots(knotsAt(table, left, 2), f32x4.sub(at, left));
}

/** Powers for four pixels: what their codes say, by their lightness. */
// @ts-ignore: decorator
@inline
export function powersOf(codes: v128, byCode: usize, byLightness: usize, lightness: v128): v128 {
  const places = f32x4.mul(f32x4.pmin(f32x4.splat(4), f32x4.pmax(f32x4.splat(0), lightness)), f32x4.splat(256));
  return f32x4.mul(linesOf(byCode, f32x4.mul(f32x4.convert_i32x4_s(codes), f32x4.splat(0.015625))), linesOf(byLightness, places));
}

/** Lightness times a power of two by a map and by lightness itself; colours by a share of that power. Eight pixels at a time, as in
 * `toOklab`.
 * @param byCode - 1,025 powers for codes from 0 to 65536.
 * @param byLightness - 1,026 shares, 256 for lightness 1. */
export function stopsByMap(
  map: usize, value: i32, byCode: usize, byLightness: usize, saturation: f32,
  lightness: usize, first: usize, second: usize, n: i32,
): void {
  const end = <usize>n << 2;
  const share = f32x4.splat(saturation);
  let at: usize = 0;
  do {
    const next = at + 16;
    const l = v128.load(lightness + at);
    const nextL = v128.load(lightness + next);
    const by = powersOf(codesAt(map, value, at), byCode, byLightness, l);
    const nextBy = powersOf(codesAt(map, value, next), byCode, byLightness, nextL);
    if (v128.any_true(v128.or(by, nextBy))) {
      const lighter = powerOfTwo(by);
      const nextLighter = powerOfTwo(nextBy);
      v128.store(lightness + at, f32x4.mul(l, lighter));
      v128.store(lightness + next, f32x4.mul(nextL, nextLighter));
      if (saturation != 0) {
        const gain = powerOfTwo(f32x4.mul(by, share));
        const nextGain = powerOfTwo(f32x4.mul(nextBy, share));
        v128.store(first + at, f32x4.mul(v128.load(first + at), gain));
        v128.store(second + at, f32x4.mul(v128.load(second + at), gain));
        v128.store(first + next, f32x4.mul(v128.load(first + next), nextGain));
        v128.store(second + next, f32x4.mul(v128.load(second + next), nextGain));
      }
    }
    at += 32;
  } while (at < end);
}

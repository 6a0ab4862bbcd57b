import { codesAt, onLines } from './gather';

/** Two to a power: of whole numbers by the bits of the float, of what is left by Taylor's series (relative error below 1e-7). */
// @ts-ignore: decorator
@inline
function powerOfTwo(x: v128): v128 {
  const whole = f32x4.nearest(x);
  const f = f32x4.sub(x, whole);
  let sum = f32x4.splat(0.00015403530393381608);
  sum = f32x4.add(f32x4.mul(sum, f), f32x4.splat(0.0013333558146428443));
  sum = f32x4.add(f32x4.mul(sum, f), f32x4.splat(0.009618129107628477));
  sum = f32x4.add(f32x4.mul(sum, f), f32x4.splat(0.05550410866482158));
  sum = f32x4.add(f32x4.mul(sum, f), f32x4.splat(0.2402265069591007));
  sum = f32x4.add(f32x4.mul(sum, f), f32x4.splat(0.6931471805599453));
  sum = f32x4.add(f32x4.mul(sum, f), f32x4.splat(1));
  const bits = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.mul(sum, bits);
}

/** Numbers on the lines between those of a table.
 * @param at - Places in the table, from 0 on. */
// @ts-ignore: decorator
@inline
function linesOf(table: usize, at: v128): v128 {
  const left = i32x4.trunc_sat_f32x4_s(at);
  return onLines(table, i32x4.shl(left, 2), f32x4.sub(at, f32x4.convert_i32x4_s(left)));
}

/** Lightness times a power of two by a map and by lightness itself; colours by a share of that power.
 * @param byCode - 1,025 powers for codes from 0 to 65536.
 * @param byLightness - 1,026 shares, 256 for lightness 1. */
export function stopsByMap(
  map: usize, value: i32, byCode: usize, byLightness: usize, saturation: f32,
  lightness: usize, first: usize, second: usize, n: i32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const l = v128.load(lightness + at);
    const codes = f32x4.mul(f32x4.convert_i32x4_s(codesAt(map, value, at)), f32x4.splat(0.015625));
    const places = f32x4.mul(f32x4.pmin(f32x4.splat(4), f32x4.pmax(f32x4.splat(0), l)), f32x4.splat(256));
    const by = f32x4.mul(linesOf(byCode, codes), linesOf(byLightness, places));
    if (v128.any_true(by)) {
      v128.store(lightness + at, f32x4.mul(l, powerOfTwo(by)));
      if (saturation != 0) {
        const gain = powerOfTwo(f32x4.mul(by, f32x4.splat(saturation)));
        v128.store(first + at, f32x4.mul(v128.load(first + at), gain));
        v128.store(second + at, f32x4.mul(v128.load(second + at), gain));
      }
    }
    at += 16;
  } while (at < end);
}

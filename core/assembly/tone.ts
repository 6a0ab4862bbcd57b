import { tabledCodes } from './gather';

/** Weighted sum of three 16-bit planes, rounded to 16 bits. */
export function luminance(red: usize, green: usize, blue: usize, wr: f32, wg: f32, wb: f32, out: usize, n: i32): void {
  const r = f32x4.splat(wr);
  const g = f32x4.splat(wg);
  const b = f32x4.splat(wb);
  // 2^23 leaves the nearest whole number in the low bits, see `composite`.
  const magic = f32x4.splat(8388608);
  let i: usize = 0;
  do {
    const vr = v128.load(red + i);
    const vg = v128.load(green + i);
    const vb = v128.load(blue + i);
    let lo = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(vr)), r);
    lo = f32x4.add(lo, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(vg)), g));
    lo = f32x4.add(lo, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(vb)), b));
    let hi = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(vr)), r);
    hi = f32x4.add(hi, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(vg)), g));
    hi = f32x4.add(hi, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(vb)), b));
    v128.store(
      out + i,
      i16x8.narrow_i32x4_u(i32x4.sub(f32x4.add(lo, magic), magic), i32x4.sub(f32x4.add(hi, magic), magic)),
    );
    i += 16;
  } while (i < <usize>n << 1);
}

/** Two weighed sums of floats, rounded: whole numbers in the lower halves of the lanes. */
// @ts-ignore: decorator
@inline
function roundedSums(r: v128, g: v128, b: v128, wr: f64, wg: f64, wb: f64): v128 {
  const two = f64x2.add(
    f64x2.mul(f64x2.splat(wr), f64x2.promote_low_f32x4(r)),
    f64x2.mul(f64x2.splat(wg), f64x2.promote_low_f32x4(g)),
  );
  const sum = f64x2.add(two, f64x2.mul(f64x2.splat(wb), f64x2.promote_low_f32x4(b)));
  // 2^52 leaves a whole number in the low bits.
  return f64x2.add(f64x2.floor(f64x2.add(sum, f64x2.splat(0.5))), f64x2.splat(4503599627370496));
}

// @ts-ignore: decorator
@inline
function laterTwo(four: v128): v128 {
  return v128.shuffle<i64>(four, four, 1, 1);
}

// @ts-ignore: decorator
@inline
function fourSums(table: usize, red: u64, green: u64, blue: u64, wr: f64, wg: f64, wb: f64): v128 {
  const r = tabledCodes(table, red);
  const g = tabledCodes(table, green);
  const b = tabledCodes(table, blue);
  const first = roundedSums(r, g, b, wr, wg, wb);
  const later = roundedSums(laterTwo(r), laterTwo(g), laterTwo(b), wr, wg, wb);
  return v128.shuffle<i32>(first, later, 0, 2, 4, 6);
}

/** Weighted sum of the linear light of three planes, rounded to 16 bits. In doubles: masks keep the bits that they have had since. */
export function linearLuminance(
  table: usize, red: usize, green: usize, blue: usize, wr: f64, wg: f64, wb: f64, out: usize, n: i32,
): void {
  let i: usize = 0;
  do {
    const low = fourSums(table, load<u64>(red + i), load<u64>(green + i), load<u64>(blue + i), wr, wg, wb);
    const high = fourSums(table, load<u64>(red + i, 8), load<u64>(green + i, 8), load<u64>(blue + i, 8), wr, wg, wb);
    v128.store(out + i, i16x8.narrow_i32x4_u(low, high));
    i += 16;
  } while (i < <usize>n << 1);
}

// @ts-ignore: decorator
@inline
function entry(table: usize, four: u64, shift: u64): usize {
  return table + (<usize>((four >> shift) & 0xffff) << 1);
}

/** Maps 16-bit samples through a table of 65,536 16-bit values. WebAssembly gathers nothing: one look-up a sample, straight
 * into its lane. */
export function lookUp(table: usize, samples: usize, out: usize, n: i32): void {
  let i: usize = 0;
  do {
    const low = load<u64>(samples + i);
    const high = load<u64>(samples + i, 8);
    let v = i16x8.splat(0);
    v = v128.load16_lane(entry(table, low, 0), v, 0);
    v = v128.load16_lane(entry(table, low, 16), v, 1);
    v = v128.load16_lane(entry(table, low, 32), v, 2);
    v = v128.load16_lane(entry(table, low, 48), v, 3);
    v = v128.load16_lane(entry(table, high, 0), v, 4);
    v = v128.load16_lane(entry(table, high, 16), v, 5);
    v = v128.load16_lane(entry(table, high, 32), v, 6);
    v = v128.load16_lane(entry(table, high, 48), v, 7);
    v128.store(out + i, v);
    i += 16;
  } while (i < <usize>n << 1);
}

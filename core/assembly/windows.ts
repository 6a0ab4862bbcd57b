import { wholesBelow } from './gather';

/** What is done to windows' means, and to the lines that follow from them. */

/** Squares of a plane. */
export function squares(plane: usize, out: usize, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const v = v128.load(plane + at);
    v128.store(out + at, f32x4.mul(v, v));
    at += 16;
  } while (at < end);
}

/** Lines of a base: what varies by much is kept, what varies little becomes its mean. */
export function baseLines(mean: usize, square: usize, limit: f32, slope: usize, offset: usize, n: i32): void {
  const end = <usize>n << 2;
  const most = f32x4.splat(limit);
  let at: usize = 0;
  do {
    const m = v128.load(mean + at);
    const variance = f32x4.pmax(f32x4.splat(0), f32x4.sub(v128.load(square + at), f32x4.mul(m, m)));
    const twice = f32x4.mul(variance, variance);
    const kept = f32x4.div(twice, f32x4.add(twice, most));
    v128.store(slope + at, kept);
    v128.store(offset + at, f32x4.sub(m, f32x4.mul(kept, m)));
    at += 16;
  } while (at < end);
}

/** Lines that take a variance out, from means of squares and means, in place. */
export function quietLines(slope: usize, offset: usize, limit: f32, n: i32): void {
  const end = <usize>n << 2;
  const noise = f32x4.splat(limit);
  let at: usize = 0;
  do {
    const m = v128.load(offset + at);
    const variance = f32x4.pmax(f32x4.splat(1e-12), f32x4.sub(v128.load(slope + at), f32x4.mul(m, m)));
    const kept = f32x4.div(f32x4.pmax(f32x4.splat(0), f32x4.sub(variance, noise)), variance);
    v128.store(slope + at, kept);
    v128.store(offset + at, f32x4.sub(m, f32x4.mul(kept, m)));
    at += 16;
  } while (at < end);
}

/** By how much lines change what they lie over, in a tile of an area, in steps of 16 bits.
 * @param first - Samples of the area before the tile's first. */
export function changeByLines(plane: usize, slope: usize, offset: usize, side: i32, first: i32, out: usize): void {
  const steps = f32x4.splat(65535);
  let from = <usize>first << 2;
  for (let row = 0; row < 128; row++) {
    let at: usize = 0;
    do {
      const v = v128.load(plane + from + at);
      const made = f32x4.add(f32x4.mul(v128.load(slope + from + at), v), v128.load(offset + from + at));
      v128.store(out + at, f32x4.mul(steps, f32x4.sub(made, v)));
      at += 16;
    } while (at < 512);
    from += <usize>side << 2;
    out += 512;
  }
}

// @ts-ignore: decorator
@inline
function lineCodes(slope: usize, offset: usize, codes: v128, at: usize): v128 {
  const line = f32x4.mul(v128.load(slope + at), f32x4.convert_i32x4_s(codes));
  const made = f32x4.add(line, f32x4.add(f32x4.mul(v128.load(offset + at), f32x4.splat(65535)), f32x4.splat(0.5)));
  return wholesBelow(f32x4.pmin(f32x4.splat(65535), f32x4.pmax(f32x4.splat(0), made)));
}

/** Two samples above two others, times a factor, above a value: in doubles, rounded once. */
// @ts-ignore: decorator
@inline
function awayOfTwo(own: v128, other: v128, by: f64, middle: f64): v128 {
  const away = f64x2.sub(f64x2.promote_low_f32x4(own), f64x2.promote_low_f32x4(other));
  return f32x4.demote_f64x2_zero(f64x2.add(f64x2.splat(middle), f64x2.mul(f64x2.splat(by), away)));
}

/** How far samples lie above others, times a factor, above a value, in place. */
export function awayFrom(plane: usize, other: usize, by: f64, middle: f64, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const a = v128.load(plane + at);
    const b = v128.load(other + at);
    const low = awayOfTwo(a, b, by, middle);
    const high = awayOfTwo(v128.shuffle<i64>(a, a, 1, 1), v128.shuffle<i64>(b, b, 1, 1), by, middle);
    v128.store(plane + at, v128.shuffle<i64>(low, high, 0, 2));
    at += 16;
  } while (at < end);
}

/** What lines make of codes, or of one value, rounded. */
export function codesByLines(slope: usize, offset: usize, codes: usize, value: i32, out: usize, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const eight = codes == 0 ? i16x8.splat(<i16>value) : v128.load(codes + (at >> 1));
    const low = lineCodes(slope, offset, i32x4.extend_low_i16x8_u(eight), at);
    const high = lineCodes(slope + 16, offset + 16, i32x4.extend_high_i16x8_u(eight), at);
    v128.store(out + (at >> 1), i16x8.narrow_i32x4_u(low, high));
    at += 32;
  } while (at < end);
}

/** (r + 2g + b + 2) / 4 of encoded samples. */
export function brightnessOf(red: usize, green: usize, blue: usize, out: usize, n: i32): void {
  const end = <usize>n << 1;
  const two = i32x4.splat(2);
  let at: usize = 0;
  do {
    const r = v128.load(red + at);
    const g = v128.load(green + at);
    const b = v128.load(blue + at);
    let low = i32x4.add(i32x4.extend_low_i16x8_u(r), i32x4.extend_low_i16x8_u(b));
    low = i32x4.add(low, i32x4.add(i32x4.shl(i32x4.extend_low_i16x8_u(g), 1), two));
    let high = i32x4.add(i32x4.extend_high_i16x8_u(r), i32x4.extend_high_i16x8_u(b));
    high = i32x4.add(high, i32x4.add(i32x4.shl(i32x4.extend_high_i16x8_u(g), 1), two));
    v128.store(out + at, i16x8.narrow_i32x4_u(i32x4.shr_u(low, 2), i32x4.shr_u(high, 2)));
    at += 16;
  } while (at < end);
}

/** (own - green) / 2 of encoded samples, around the middle. */
export function differenceOf(own: usize, green: usize, out: usize, n: i32): void {
  const end = <usize>n << 1;
  const middle = i32x4.splat(65535);
  let at: usize = 0;
  do {
    const v = v128.load(own + at);
    const g = v128.load(green + at);
    const low = i32x4.add(i32x4.sub(i32x4.extend_low_i16x8_u(v), i32x4.extend_low_i16x8_u(g)), middle);
    const high = i32x4.add(i32x4.sub(i32x4.extend_high_i16x8_u(v), i32x4.extend_high_i16x8_u(g)), middle);
    v128.store(out + at, i16x8.narrow_i32x4_u(i32x4.shr_u(low, 1), i32x4.shr_u(high, 1)));
    at += 16;
  } while (at < end);
}

/** Changes of brightness and of the two differences, added to red, green and blue. */
export function addChannels(
  brightness: usize, first: usize, second: usize, red: usize, green: usize, blue: usize, n: i32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const u = v128.load(first + at);
    const v = v128.load(second + at);
    const g = f32x4.sub(v128.load(brightness + at), f32x4.mul(f32x4.add(u, v), f32x4.splat(0.5)));
    v128.store(red + at, f32x4.add(v128.load(red + at), f32x4.add(g, f32x4.add(u, u))));
    v128.store(green + at, f32x4.add(v128.load(green + at), g));
    v128.store(blue + at, f32x4.add(v128.load(blue + at), f32x4.add(g, f32x4.add(v, v))));
    at += 16;
  } while (at < end);
}

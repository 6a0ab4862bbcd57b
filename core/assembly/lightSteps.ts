import { codesAt, onLines, wholesBelow } from './gather';
import { horner, weighed } from './weighed';

/** What is done to each pixel of planes of linear light, in place. Tables of light are those of `core/kernels/logTable.ts`, factors by code those
 * of `core/kernels/gainByCodes.ts`. */

const SMALLEST: f32 = 1.0 / 65536.0;
/** Just below 2^10, so that there is a knot beyond. */
const LARGEST: f32 = 1023.9999;
/** A float's upper bits at 2^-16. */
const FIRST: i32 = 111 << 8;
const LAST_KNOT: usize = 26 * 256;
const BETWEEN: f32 = 1.0 / 32768.0;

/** What a table makes of four values of light. */
// @ts-ignore: decorator
@inline
export function tabled(table: usize, light: v128): v128 {
  const bits = f32x4.pmin(f32x4.splat(LARGEST), f32x4.pmax(f32x4.splat(SMALLEST), light));
  const places = v128.and(i32x4.shr_u(bits, 13), i32x4.splat(~3));
  const shares = f32x4.mul(f32x4.convert_i32x4_s(v128.and(bits, i32x4.splat(0x7fff))), f32x4.splat(BETWEEN));
  const made = onLines(table - (FIRST << 2), places, shares);
  const inside = f32x4.ge(light, f32x4.splat(SMALLEST));
  if (i32x4.bitmask(inside) == 15) return made;
  const zero = v128.load32_splat(table + (LAST_KNOT << 2), 4);
  const line = f32x4.add(zero, f32x4.mul(light, v128.load32_splat(table + (LAST_KNOT << 2), 8)));
  return v128.bitselect(made, line, inside);
}

/** Three planes times factors. */
// @ts-ignore: decorator
@inline
function scale(red: usize, green: usize, blue: usize, at: usize, by: v128): void {
  v128.store(red + at, f32x4.mul(v128.load(red + at), by));
  v128.store(green + at, f32x4.mul(v128.load(green + at), by));
  v128.store(blue + at, f32x4.mul(v128.load(blue + at), by));
}

/** A plane times a factor. */
export function scaleFloats(plane: usize, by: f32, out: usize, n: i32): void {
  const end = <usize>n << 2;
  const factor = f32x4.splat(by);
  let at: usize = 0;
  do {
    v128.store(out + at, f32x4.mul(v128.load(plane + at), factor));
    at += 16;
  } while (at < end);
}

/** Planes through a matrix, row by row. */
export function mixChannels(
  red: usize, green: usize, blue: usize, n: i32,
  a: f32, b: f32, c: f32, d: f32, e: f32, f: f32, g: f32, h: f32, i: f32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const r = v128.load(red + at);
    const s = v128.load(green + at);
    const t = v128.load(blue + at);
    v128.store(red + at, weighed(r, s, t, a, b, c));
    v128.store(green + at, weighed(r, s, t, d, e, f));
    v128.store(blue + at, weighed(r, s, t, g, h, i));
    at += 16;
  } while (at < end);
}

/** A plane through a table of light; light below `least` counts as that. */
export function mapLight(table: usize, least: f32, plane: usize, out: usize, n: i32): void {
  const end = <usize>n << 2;
  const lowest = f32x4.splat(least);
  let at: usize = 0;
  do {
    v128.store(out + at, tabled(table, f32x4.pmax(lowest, v128.load(plane + at))));
    at += 16;
  } while (at < end);
}

/** Planes times what a table makes of their weighed sum. */
export function gainByLight(table: usize, wr: f32, wg: f32, wb: f32, red: usize, green: usize, blue: usize, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const light = weighed(v128.load(red + at), v128.load(green + at), v128.load(blue + at), wr, wg, wb);
    scale(red, green, blue, at, tabled(table, light));
    at += 16;
  } while (at < end);
}

// @ts-ignore: decorator
@inline
function codesOf(table: usize, wr: f32, wg: f32, wb: f32, red: usize, green: usize, blue: usize, at: usize): v128 {
  const light = weighed(v128.load(red + at), v128.load(green + at), v128.load(blue + at), wr, wg, wb);
  const code = f32x4.add(tabled(table, light), f32x4.splat(0.5));
  return wholesBelow(f32x4.pmin(f32x4.splat(65535), f32x4.pmax(f32x4.splat(0), code)));
}

/** What a table makes of planes' weighed sum, rounded to 16 bits. */
export function codesOfLight(
  table: usize, wr: f32, wg: f32, wb: f32, red: usize, green: usize, blue: usize, out: usize, n: i32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const low = codesOf(table, wr, wg, wb, red, green, blue, at);
    const high = codesOf(table, wr, wg, wb, red, green, blue, at + 16);
    v128.store(out + (at >> 1), i16x8.narrow_i32x4_u(low, high));
    at += 32;
  } while (at < end);
}

/** Least of three planes, each times a factor, cut and rounded to 16 bits. */
export function leastOfLight(
  red: usize, green: usize, blue: usize, fr: f32, fg: f32, fb: f32, out: usize, n: i32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const low = leastCodes(red, green, blue, fr, fg, fb, at);
    const high = leastCodes(red, green, blue, fr, fg, fb, at + 16);
    v128.store(out + (at >> 1), i16x8.narrow_i32x4_u(low, high));
    at += 32;
  } while (at < end);
}

// @ts-ignore: decorator
@inline
function leastCodes(red: usize, green: usize, blue: usize, fr: f32, fg: f32, fb: f32, at: usize): v128 {
  const r = f32x4.mul(v128.load(red + at), f32x4.splat(fr));
  const g = f32x4.mul(v128.load(green + at), f32x4.splat(fg));
  const b = f32x4.mul(v128.load(blue + at), f32x4.splat(fb));
  const least = f32x4.pmin(r, f32x4.pmin(g, b));
  const cut = f32x4.pmin(f32x4.splat(65535), f32x4.pmax(f32x4.splat(0), f32x4.add(least, f32x4.splat(0.5))));
  return wholesBelow(cut);
}

/** Factors lie at every 64th code. */
// @ts-ignore: decorator
@inline
function factorsOf(table: usize, codes: v128): v128 {
  const places = i32x4.shl(i32x4.shr_u(codes, 6), 2);
  const shares = f32x4.mul(f32x4.convert_i32x4_s(v128.and(codes, i32x4.splat(63))), f32x4.splat(1.0 / 64.0));
  return onLines(table, places, shares);
}

/** Planes times factors by codes. */
export function gainByCodes(table: usize, codes: usize, value: i32, red: usize, green: usize, blue: usize, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    scale(red, green, blue, at, factorsOf(table, codesAt(codes, value, at)));
    at += 16;
  } while (at < end);
}

/** Planes times factors by how far codes lie above others, within 16,384 each way. */
export function gainByDetail(
  table: usize, codes: usize, value: i32, base: usize, baseValue: i32, red: usize, green: usize, blue: usize, n: i32,
): void {
  const end = <usize>n << 2;
  const most = i32x4.splat(16384);
  let at: usize = 0;
  do {
    const away = i32x4.sub(codesAt(codes, value, at), codesAt(base, baseValue, at));
    const within = i32x4.max_s(i32x4.neg(most), i32x4.min_s(most, away));
    scale(red, green, blue, at, factorsOf(table, i32x4.add(within, most)));
    at += 16;
  } while (at < end);
}

/** Light through a veil: what comes through of it is made whole again, or less of it comes through.
 * @param amount - Above 0 the veil goes: light is divided by what comes through, at least `least`. Below 0 it is laid.
 * @param thick, near - Shares of the thickness that count: times it, and wherever it is. */
export function lightThroughVeil(
  codes: usize, value: i32, amount: f32, thick: f32, near: f32, least: f32,
  vr: f32, vg: f32, vb: f32, red: usize, green: usize, blue: usize, n: i32,
): void {
  const end = <usize>n << 2;
  const one = f32x4.splat(1);
  let at: usize = 0;
  do {
    const part = f32x4.mul(f32x4.convert_i32x4_s(codesAt(codes, value, at)), f32x4.splat(thick / 65535));
    const change = f32x4.mul(f32x4.splat(amount), f32x4.add(f32x4.splat(near), part));
    const gain = amount >= 0 ? f32x4.div(one, f32x4.pmax(f32x4.splat(least), f32x4.sub(one, change))) : f32x4.add(one, change);
    const added = f32x4.sub(one, gain);
    v128.store(red + at, f32x4.add(f32x4.mul(v128.load(red + at), gain), f32x4.mul(f32x4.splat(vr), added)));
    v128.store(green + at, f32x4.add(f32x4.mul(v128.load(green + at), gain), f32x4.mul(f32x4.splat(vg), added)));
    v128.store(blue + at, f32x4.add(f32x4.mul(v128.load(blue + at), gain), f32x4.mul(f32x4.splat(vb), added)));
    at += 16;
  } while (at < end);
}

/** x to 2.4, of what is not below 1: x times x times the fifth root of its square, by Newton's method from above. (The standard library's power
 * would bring a table of its own, which has no place in the shared memory.) */
function beyondWhite(x: f32): f32 {
  const square = <f64>x * <f64>x;
  let root: f64 = 1 + 0.4 * (<f64>x - 1);
  let before: f64 = 0;
  let rounds = 0;
  do {
    before = root;
    const fourth = root * root * root * root;
    root = (4 * root + square / fourth) / 5;
    rounds++;
  } while (before - root > 1e-9 * root && rounds < 100);
  return <f32>(square * root);
}

/** The curve's power between 0.04 and 1.42 of white, 2.4, as a polynomial of the square root s of what is raised: of degree 7, fitted to the
 * least greatest error (0.004 of a 16-bit step). Even and odd powers are summed side by side, and wait for no root. */
// @ts-ignore: decorator
@inline
export function raised(u: v128): v128 {
  let even = horner(f32x4.splat(-0.07561324354823054), u, 0.23212823787750214);
  let odd = horner(f32x4.splat(0.008780361428894287), u, 0.8851147332445513);
  even = horner(even, u, 0.014249953690242591);
  odd = horner(odd, u, -0.06279283349043921);
  even = horner(even, u, 0.00012395167985252916);
  odd = horner(odd, u, -0.0019910356967258493);
  return f32x4.add(even, f32x4.mul(f32x4.sqrt(u), odd));
}

/** Encoded floats, 0..65535 and beyond, eight at a time, to light by the curve of sRGB, which goes on below black as the line that it is there. */
export function linearizeFloats(values: usize, out: usize, n: i32): void {
  const end = <usize>n << 2;
  const least = f32x4.splat(<f32>(65535.0 * 0.04045));
  const most = f32x4.splat(<f32>(65535.0 * 1.42));
  const line = f32x4.splat(<f32>(1.0 / 65535.0 / 12.92));
  const slope = f32x4.splat(<f32>(1.0 / 65535.0 / 1.055));
  const offset = f32x4.splat(<f32>(0.055 / 1.055));
  let at: usize = 0;
  do {
    const code = v128.load(values + at), next = v128.load(values + at, 16);
    const made = raised(f32x4.add(f32x4.mul(code, slope), offset));
    const nextMade = raised(f32x4.add(f32x4.mul(next, slope), offset));
    v128.store(out + at, v128.bitselect(made, f32x4.mul(code, line), f32x4.gt(code, least)));
    v128.store(out + at, v128.bitselect(nextMade, f32x4.mul(next, line), f32x4.gt(next, least)), 16);
    if (v128.any_true(v128.or(f32x4.gt(code, most), f32x4.gt(next, most)))) {
      for (let lane: usize = 0; lane < 32; lane += 4) {
        const one = load<f32>(values + at + lane);
        if (one > <f32>(65535.0 * 1.42)) store<f32>(out + at + lane, beyondWhite((one / 65535 + 0.055) / 1.055));
      }
    }
    at += 32;
  } while (at < end);
}

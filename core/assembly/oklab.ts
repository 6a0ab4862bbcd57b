import { horner, weighed } from './weighed';

/** Pixels to Oklab and back, in place. What the numbers are: `core/color/oklab.ts`. */

/** Below it a cube root is that of it: eight digits below one. */
const SMALLEST: f32 = 1e-24;
/** This less a third of a float's bits are the bits of about its inverse cube root, within four per cent (W. Kahan's way with the
 * exponent, turned round). */
const INVERSE_BITS: i32 = 1419560000;

/** Cube roots, of negative values too: x z^2 of about the inverse root z, times (1 - e)^(-2/3), e being what x z^3 lacks of 1: at most 0.106,
 * where the polynomial (fitted at Chebyshev's points) is right to seven digits. Its halves are worked out side by side, since what takes
 * long here is waiting for the step before. */
// @ts-ignore: decorator
@inline
function rootsOf(values: v128): v128 {
  const sign = v128.and(values, i32x4.splat(0x80000000));
  const x = f32x4.pmax(f32x4.splat(SMALLEST), v128.xor(values, sign));
  // 341 / 1024 is a third, near enough.
  const z = i32x4.sub(i32x4.splat(INVERSE_BITS), i32x4.mul(i32x4.shr_u(x, 10), i32x4.splat(341)));
  const about = f32x4.mul(f32x4.mul(x, z), z);
  const e = f32x4.sub(f32x4.splat(1), f32x4.mul(about, z));
  const square = f32x4.mul(e, e);
  const high = f32x4.add(horner(f32x4.splat(0.4998735308), e, 0.5555262923), f32x4.mul(square, f32x4.splat(0.4595368607)));
  const low = horner(f32x4.splat(0.6666494845), e, 1.0000000185);
  const better = f32x4.add(low, f32x4.mul(square, high));
  return v128.or(f32x4.mul(about, better), sign);
}

// @ts-ignore: decorator
@inline
function lightnessOf(l: v128, m: v128, s: v128): v128 {
  return weighed(l, m, s, 0.210454268309314, 0.7936177747023054, -0.0040720430116193);
}

// @ts-ignore: decorator
@inline
function greenRedOf(l: v128, m: v128, s: v128): v128 {
  return weighed(l, m, s, 1.9779985324311684, -2.42859224204858, 0.450593709617411);
}

// @ts-ignore: decorator
@inline
function blueYellowOf(l: v128, m: v128, s: v128): v128 {
  return weighed(l, m, s, 0.0259040424655478, 0.7827717124575296, -0.8086757549230774);
}

// @ts-ignore: decorator
@inline
function cube(x: v128): v128 {
  return f32x4.mul(f32x4.mul(x, x), x);
}

/** Light becomes lightness and two axes of colour, of eight pixels at a time: four alone would wait for each other's roots. The nine numbers lead
 * from light to cones, row by row. */
export function toOklab(
  red: usize, green: usize, blue: usize, n: i32,
  xl: f32, yl: f32, zl: f32, xm: f32, ym: f32, zm: f32, xs: f32, ys: f32, zs: f32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const r = v128.load(red + at), nextR = v128.load(red + at, 16);
    const g = v128.load(green + at), nextG = v128.load(green + at, 16);
    const b = v128.load(blue + at), nextB = v128.load(blue + at, 16);
    const l = rootsOf(weighed(r, g, b, xl, yl, zl));
    const m = rootsOf(weighed(r, g, b, xm, ym, zm));
    const s = rootsOf(weighed(r, g, b, xs, ys, zs));
    const nextL = rootsOf(weighed(nextR, nextG, nextB, xl, yl, zl));
    const nextM = rootsOf(weighed(nextR, nextG, nextB, xm, ym, zm));
    const nextS = rootsOf(weighed(nextR, nextG, nextB, xs, ys, zs));
    v128.store(red + at, lightnessOf(l, m, s));
    v128.store(green + at, greenRedOf(l, m, s));
    v128.store(blue + at, blueYellowOf(l, m, s));
    v128.store(red + at, lightnessOf(nextL, nextM, nextS), 16);
    v128.store(green + at, greenRedOf(nextL, nextM, nextS), 16);
    v128.store(blue + at, blueYellowOf(nextL, nextM, nextS), 16);
    at += 32;
  } while (at < end);
}

/** Lightness alone, eight pixels at a time. */
export function lightnessOfLight(
  red: usize, green: usize, blue: usize, out: usize, n: i32,
  xl: f32, yl: f32, zl: f32, xm: f32, ym: f32, zm: f32, xs: f32, ys: f32, zs: f32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const r = v128.load(red + at), nextR = v128.load(red + at, 16);
    const g = v128.load(green + at), nextG = v128.load(green + at, 16);
    const b = v128.load(blue + at), nextB = v128.load(blue + at, 16);
    const l = rootsOf(weighed(r, g, b, xl, yl, zl)), nextL = rootsOf(weighed(nextR, nextG, nextB, xl, yl, zl));
    const m = rootsOf(weighed(r, g, b, xm, ym, zm)), nextM = rootsOf(weighed(nextR, nextG, nextB, xm, ym, zm));
    const s = rootsOf(weighed(r, g, b, xs, ys, zs)), nextS = rootsOf(weighed(nextR, nextG, nextB, xs, ys, zs));
    v128.store(out + at, lightnessOf(l, m, s));
    v128.store(out + at, lightnessOf(nextL, nextM, nextS), 16);
    at += 32;
  } while (at < end);
}

/** The way back. The nine numbers lead from cones to light. */
export function fromOklab(
  lightness: usize, first: usize, second: usize, n: i32,
  lr: f32, mr: f32, sr: f32, lg: f32, mg: f32, sg: f32, lb: f32, mb: f32, sb: f32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const x = v128.load(lightness + at);
    const a = v128.load(first + at);
    const b = v128.load(second + at);
    const l = cube(weighed(x, a, b, 1.0, 0.396337777376175, 0.21580375730991364));
    const m = cube(weighed(x, a, b, 0.9999999999999998, -0.10556134581565853, -0.06385417282581334));
    const s = cube(weighed(x, a, b, 0.9999999999999998, -0.0894841775298118, -1.2914855480194094));
    v128.store(lightness + at, weighed(l, m, s, lr, mr, sr));
    v128.store(first + at, weighed(l, m, s, lg, mg, sg));
    v128.store(second + at, weighed(l, m, s, lb, mb, sb));
    at += 16;
  } while (at < end);
}

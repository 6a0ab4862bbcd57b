/** Pixels to Oklab and back, in place. What the numbers are: `core/color/oklab.ts`. */

/** Below it a cube root is that of it: eight digits below one. */
const SMALLEST: f32 = 1e-24;
/** A third of a float's bits and this are the bits of about its cube root, within four per cent (W. Kahan's way with the exponent). */
const THIRD: f32 = 1.0 / 3.0;
const ROOT_BITS: f32 = 709921077;

/** Cube roots, of negative values too: two steps of Halley's, each of which triples the digits. */
// @ts-ignore: decorator
@inline
function rootsOf(values: v128): v128 {
  const sign = v128.and(values, i32x4.splat(0x80000000));
  const x = f32x4.pmax(f32x4.splat(SMALLEST), f32x4.abs(values));
  const third = f32x4.add(f32x4.mul(f32x4.convert_i32x4_s(x), f32x4.splat(THIRD)), f32x4.splat(ROOT_BITS));
  let y = i32x4.trunc_sat_f32x4_s(third);
  let step = 0;
  do {
    const cube = f32x4.mul(f32x4.mul(y, y), y);
    const up = f32x4.add(cube, f32x4.add(x, x));
    const down = f32x4.add(f32x4.add(cube, cube), x);
    y = f32x4.mul(y, f32x4.div(up, down));
    step++;
  } while (step < 2);
  return v128.or(y, sign);
}

// @ts-ignore: decorator
@inline
function row(a: v128, b: v128, c: v128, x: f32, y: f32, z: f32): v128 {
  const first = f32x4.add(f32x4.mul(a, f32x4.splat(x)), f32x4.mul(b, f32x4.splat(y)));
  return f32x4.add(first, f32x4.mul(c, f32x4.splat(z)));
}

// @ts-ignore: decorator
@inline
function cube(x: v128): v128 {
  return f32x4.mul(f32x4.mul(x, x), x);
}

/** Light becomes lightness and two axes of colour. The nine numbers lead from light to cones, row by row. */
export function toOklab(
  red: usize, green: usize, blue: usize, n: i32,
  xl: f32, yl: f32, zl: f32, xm: f32, ym: f32, zm: f32, xs: f32, ys: f32, zs: f32,
): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const r = v128.load(red + at);
    const g = v128.load(green + at);
    const b = v128.load(blue + at);
    const l = rootsOf(row(r, g, b, xl, yl, zl));
    const m = rootsOf(row(r, g, b, xm, ym, zm));
    const s = rootsOf(row(r, g, b, xs, ys, zs));
    v128.store(red + at, row(l, m, s, 0.210454268309314, 0.7936177747023054, -0.0040720430116193));
    v128.store(green + at, row(l, m, s, 1.9779985324311684, -2.42859224204858, 0.450593709617411));
    v128.store(blue + at, row(l, m, s, 0.0259040424655478, 0.7827717124575296, -0.8086757549230774));
    at += 16;
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
    const l = cube(row(x, a, b, 1.0, 0.396337777376175, 0.21580375730991364));
    const m = cube(row(x, a, b, 0.9999999999999998, -0.10556134581565853, -0.06385417282581334));
    const s = cube(row(x, a, b, 0.9999999999999998, -0.0894841775298118, -1.2914855480194094));
    v128.store(lightness + at, row(l, m, s, lr, mr, sr));
    v128.store(first + at, row(l, m, s, lg, mg, sg));
    v128.store(second + at, row(l, m, s, lb, mb, sb));
    at += 16;
  } while (at < end);
}

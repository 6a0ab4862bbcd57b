import { betweenKnots, codesAt, four } from './gather';
import { raised, tabled } from './lightSteps';

/** What is done to encoded floats, 0..65535 and beyond, and laid over others through a mask in the same pass. */

/** Where the curve of sRGB becomes a line, what it is moved by above that, and light of a code on the line. */
const KNEE: f32 = <f32>(65535.0 * 0.04045);
const OFFSET: f32 = <f32>(65535.0 * 0.055);
const LINE: f32 = <f32>(1.0 / 65535.0 / 12.92);
const SLOPE: f32 = <f32>(1.0 / 65535.0 / 1.055);
const SHIFTED: f32 = <f32>(0.055 / 1.055);

/** How far values lie over others.
 * @param mask - Samples that are weights; 0 for the same throughout. */
// @ts-ignore: decorator
@inline
export function shareOf(mask: usize, weight: v128, half: usize): v128 {
  return mask == 0 ? weight : f32x4.mul(four(mask + half, 0), weight);
}

/** Values over others; by themselves where all of them count in full. */
// @ts-ignore: decorator
@inline
function laid(made: v128, below: usize, share: v128, isAlone: bool): v128 {
  if (isAlone) return made;
  const under = v128.load(below);
  return f32x4.add(under, f32x4.mul(f32x4.sub(made, under), share));
}

/** What a table of light makes of values times a unit, over others through a mask.
 * @param least - What lies below it counts as that.
 * @param out - May be either of them. */
export function mixMapped(
  table: usize, unit: f32, least: f32, values: usize, below: usize, mask: usize, weight: f32, out: usize, n: i32,
): void {
  const isAlone = mask == 0 && weight == 1;
  const factor = f32x4.splat(weight);
  const units = f32x4.splat(unit);
  const lowest = f32x4.splat(least);
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const made = tabled(table, f32x4.pmax(lowest, f32x4.mul(v128.load(values + at), units)));
    const next = tabled(table, f32x4.pmax(lowest, f32x4.mul(v128.load(values + at, 16), units)));
    const first = laid(made, below + at, shareOf(mask, factor, at >> 1), isAlone);
    const second = laid(next, below + at + 16, shareOf(mask, factor, (at >> 1) + 8), isAlone);
    v128.store(out + at, first);
    v128.store(out + at, second, 16);
    at += 32;
  } while (at < end);
}

/** A channel of four pixels whose light is multiplied, where the curve is a line before or after.
 * @param grown - What comes out where it is a power both times.
 * @param factors - Of light. */
// @ts-ignore: decorator
@inline
export function gainedDark(values: v128, grown: v128, factors: v128, encoding: usize): v128 {
  const knee = f32x4.splat(KNEE);
  const isDark = f32x4.le(values, knee);
  const onLine = f32x4.mul(values, factors);
  const becomesDark = v128.bitselect(f32x4.le(onLine, knee), f32x4.le(grown, knee), isDark);
  const made = v128.bitselect(onLine, grown, isDark);
  const crosses = v128.xor(isDark, becomesDark);
  if (!v128.any_true(crosses)) return made;
  const power = raised(f32x4.add(f32x4.mul(values, f32x4.splat(SLOPE)), f32x4.splat(SHIFTED)));
  const light = f32x4.mul(v128.bitselect(f32x4.mul(values, f32x4.splat(LINE)), power, isDark), factors);
  return v128.bitselect(tabled(encoding, light), made, crosses);
}

// @ts-ignore: decorator
@inline
export function grownBy(values: v128, power: v128): v128 {
  const offset = f32x4.splat(OFFSET);
  return f32x4.sub(f32x4.mul(f32x4.add(values, offset), power), offset);
}

/** Whether the curve of sRGB is a line for any of four pixels' colours, before or after they have grown. */
// @ts-ignore: decorator
@inline
export function isAnyDark(r: v128, g: v128, b: v128, madeRed: v128, madeGreen: v128, madeBlue: v128): bool {
  const least = f32x4.pmin(f32x4.pmin(r, f32x4.pmin(g, b)), f32x4.pmin(madeRed, f32x4.pmin(madeGreen, madeBlue)));
  return v128.any_true(f32x4.le(least, f32x4.splat(KNEE)));
}

/** Colours of four pixels laid over others and stored. Not before all are loaded: what is loaded from where other planes were just stored, but for
 * multiples of 4 KB, processors make wait. */
// @ts-ignore: decorator
@inline
export function layColours(
  red: v128, green: v128, blue: v128, belowRed: usize, belowGreen: usize, belowBlue: usize,
  share: v128, isAlone: bool, outRed: usize, outGreen: usize, outBlue: usize,
): void {
  const r = laid(red, belowRed, share, isAlone);
  const g = laid(green, belowGreen, share, isAlone);
  const b = laid(blue, belowBlue, share, isAlone);
  v128.store(outRed, r);
  v128.store(outGreen, g);
  v128.store(outBlue, b);
}

/** Encoded values whose light is multiplied by factors by codes, over others through a mask. Where the curve of sRGB is a power, which it is but
 * for the darkest values, that takes no light: encoded values, moved by its offset, are multiplied by the factor's root.
 * @param gains - Roots of the factors of every 64th code, then the factors themselves.
 * @param factorsAt - Bytes from those to these.
 * @param encoding - Table from light to encoded values.
 * @param codes, value - A plane, or 0 and the code throughout.
 * @param base, baseValue - Codes above which those lie as far as counts, by at most `most` each way; `most` is 0 where they count themselves. */
export function gainEncoded(
  gains: usize, factorsAt: usize, encoding: usize,
  codes: usize, value: i32, base: usize, baseValue: i32, most: i32,
  red: usize, green: usize, blue: usize, belowRed: usize, belowGreen: usize, belowBlue: usize,
  mask: usize, weight: f32, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
): void {
  const isAlone = mask == 0 && weight == 1;
  const factor = f32x4.splat(weight);
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    let places = codesAt(codes, value, at);
    if (most != 0) {
      const away = i32x4.sub(places, codesAt(base, baseValue, at));
      places = i32x4.add(i32x4.max_s(i32x4.splat(-most), i32x4.min_s(i32x4.splat(most), away)), i32x4.splat(most));
    }
    const knots = i32x4.add(i32x4.shl(i32x4.shr_u(places, 6), 2), i32x4.splat(<i32>gains));
    const shares = f32x4.mul(f32x4.convert_i32x4_s(v128.and(places, i32x4.splat(63))), f32x4.splat(1.0 / 64.0));
    const powers = betweenKnots(knots, shares);
    const r = v128.load(red + at), g = v128.load(green + at), b = v128.load(blue + at);
    let madeRed = grownBy(r, powers), madeGreen = grownBy(g, powers), madeBlue = grownBy(b, powers);
    if (isAnyDark(r, g, b, madeRed, madeGreen, madeBlue)) {
      const factors = betweenKnots(i32x4.add(knots, i32x4.splat(<i32>factorsAt)), shares);
      madeRed = gainedDark(r, madeRed, factors, encoding);
      madeGreen = gainedDark(g, madeGreen, factors, encoding);
      madeBlue = gainedDark(b, madeBlue, factors, encoding);
    }
    const share = shareOf(mask, factor, at >> 1);
    layColours(madeRed, madeGreen, madeBlue, belowRed + at, belowGreen + at, belowBlue + at, share, isAlone, outRed + at, outGreen + at, outBlue + at);
    at += 16;
  } while (at < end);
}

import { gainedDark, grownBy, isAnyDark, layColours, shareOf } from './encoded';
import { codesAt } from './gather';
import { powerOfTwo, powersOf } from './stopsByMap';

/** Four pixels.
 * @param by - Powers of two of their lightness.
 * @param powers - Two to those that encoded values grow by. */
// @ts-ignore: decorator
@inline
function exposeFour(
  by: v128, powers: v128, encoding: usize, red: usize, green: usize, blue: usize,
  belowRed: usize, belowGreen: usize, belowBlue: usize, share: v128, isAlone: bool,
  outRed: usize, outGreen: usize, outBlue: usize, at: usize,
): void {
  const r = v128.load(red + at), g = v128.load(green + at), b = v128.load(blue + at);
  let madeRed = grownBy(r, powers), madeGreen = grownBy(g, powers), madeBlue = grownBy(b, powers);
  if (isAnyDark(r, g, b, madeRed, madeGreen, madeBlue)) {
    const factors = powerOfTwo(f32x4.mul(by, f32x4.splat(3)));
    madeRed = gainedDark(r, madeRed, factors, encoding);
    madeGreen = gainedDark(g, madeGreen, factors, encoding);
    madeBlue = gainedDark(b, madeBlue, factors, encoding);
  }
  layColours(madeRed, madeGreen, madeBlue, belowRed + at, belowGreen + at, belowBlue + at, share, isAlone, outRed + at, outGreen + at, outBlue + at);
}

/** Encoded values exposed by stops of a map, fewer or more of them by lightness, and laid over others through a mask. All colours of Oklab grow
 * alike, so that light is multiplied by one factor, and encoded values by its root, see `gainEncoded`. Eight pixels at a time, as in `toOklab`.
 * @param byCode, byLightness - As `stopsByMap` takes them.
 * @param encoding - Table from light to encoded values. */
export function exposeByMap(
  map: usize, value: i32, byCode: usize, byLightness: usize, lightness: usize, encoding: usize,
  red: usize, green: usize, blue: usize, belowRed: usize, belowGreen: usize, belowBlue: usize,
  mask: usize, weight: f32, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
): void {
  const isAlone = mask == 0 && weight == 1;
  const factor = f32x4.splat(weight);
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const next = at + 16;
    const by = powersOf(codesAt(map, value, at), byCode, byLightness, v128.load(lightness + at));
    const nextBy = powersOf(codesAt(map, value, next), byCode, byLightness, v128.load(lightness + next));
    // Light is lightness to the third power, and encoded values are light to that of 1 / 2.4.
    const powers = powerOfTwo(f32x4.mul(by, f32x4.splat(3 / 2.4)));
    const nextPowers = powerOfTwo(f32x4.mul(nextBy, f32x4.splat(3 / 2.4)));
    exposeFour(by, powers, encoding, red, green, blue, belowRed, belowGreen, belowBlue, shareOf(mask, factor, at >> 1), isAlone, outRed, outGreen, outBlue, at);
    exposeFour(nextBy, nextPowers, encoding, red, green, blue, belowRed, belowGreen, belowBlue, shareOf(mask, factor, next >> 1), isAlone, outRed, outGreen, outBlue, next);
    at += 32;
  } while (at < end);
}

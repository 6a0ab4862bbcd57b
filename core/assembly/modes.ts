/** Pictures laid over others in modes. What the formulas are: `core/modes`; the numbers of modes are their places in `core/modes/list.ts`. */

const PLUS_LIGHTER: i32 = 1;
const MULTIPLY: i32 = 2;
const SCREEN: i32 = 3;
const OVERLAY: i32 = 4;
const DARKEN: i32 = 5;
const LIGHTEN: i32 = 6;
const COLOR_DODGE: i32 = 7;
const COLOR_BURN: i32 = 8;
const HARD_LIGHT: i32 = 9;
const SOFT_LIGHT: i32 = 10;
const DIFFERENCE: i32 = 11;
const EXCLUSION: i32 = 12;
const LINEAR_BURN: i32 = 13;
const LINEAR_LIGHT: i32 = 14;
const VIVID_LIGHT: i32 = 15;
const HUE: i32 = 16;
const SATURATION: i32 = 17;
const COLOR: i32 = 18;
const LUMINOSITY: i32 = 19;

const WHITE: f32 = 65535;
const STEP: f32 = 1.0 / 65535.0;

// @ts-ignore: decorator
@inline
function splat(value: f32): v128 {
  return f32x4.splat(value);
}

// @ts-ignore: decorator
@inline
function multiply(b: v128, a: v128): v128 {
  return f32x4.mul(b, a);
}

// @ts-ignore: decorator
@inline
function screen(b: v128, a: v128): v128 {
  return f32x4.sub(f32x4.add(b, a), f32x4.mul(b, a));
}

// @ts-ignore: decorator
@inline
function hardLight(b: v128, a: v128): v128 {
  const twice = f32x4.add(a, a);
  return v128.bitselect(multiply(b, twice), screen(b, f32x4.sub(twice, splat(1))), f32x4.le(a, splat(0.5)));
}

// @ts-ignore: decorator
@inline
function most(b: v128): v128 {
  return f32x4.pmax(splat(1), b);
}

// @ts-ignore: decorator
@inline
function least(b: v128): v128 {
  return f32x4.pmin(splat(0), b);
}

/** @param lack - What it lacks of white, which is told exactly by codes. */
// @ts-ignore: decorator
@inline
function colorDodge(b: v128, lack: v128): v128 {
  return v128.bitselect(b, f32x4.pmin(most(b), f32x4.div(b, lack)), f32x4.le(b, splat(0)));
}

// @ts-ignore: decorator
@inline
function colorBurn(b: v128, lackOfBelow: v128, a: v128): v128 {
  const burnt = f32x4.pmax(least(b), f32x4.sub(splat(1), f32x4.div(lackOfBelow, a)));
  return v128.bitselect(b, burnt, f32x4.ge(b, splat(1)));
}

// @ts-ignore: decorator
@inline
function softLight(b: v128, a: v128): v128 {
  const one = splat(1);
  const twice = f32x4.add(a, a);
  const darker = f32x4.sub(b, f32x4.mul(f32x4.mul(f32x4.sub(one, twice), b), f32x4.sub(one, b)));
  const curve = f32x4.mul(f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(splat(16), b), splat(12)), b), splat(4)), b);
  const lifted = v128.bitselect(curve, f32x4.sqrt(b), f32x4.le(b, splat(0.25)));
  const lighter = f32x4.add(b, f32x4.mul(f32x4.sub(twice, one), f32x4.sub(lifted, b)));
  return v128.bitselect(darker, lighter, f32x4.le(a, splat(0.5)));
}

/** What a mode makes of one channel. Modes are known when it is compiled: one formula is left of it.
 * @param lackOfBelow, lack - What they lack of white. */
// @ts-ignore: decorator
@inline
function separable(mode: i32, b: v128, a: v128, lackOfBelow: v128, lack: v128): v128 {
  if (mode == MULTIPLY) return multiply(b, a);
  if (mode == SCREEN) return screen(b, a);
  if (mode == OVERLAY) return hardLight(a, b);
  if (mode == DARKEN) return f32x4.pmin(b, a);
  if (mode == LIGHTEN) return f32x4.pmax(b, a);
  if (mode == COLOR_DODGE) return colorDodge(b, lack);
  if (mode == COLOR_BURN) return colorBurn(b, lackOfBelow, a);
  if (mode == HARD_LIGHT) return hardLight(b, a);
  if (mode == SOFT_LIGHT) return softLight(b, a);
  if (mode == DIFFERENCE) return f32x4.abs(f32x4.sub(b, a));
  if (mode == EXCLUSION) return f32x4.sub(f32x4.add(b, a), f32x4.mul(f32x4.add(b, b), a));
  if (mode == LINEAR_BURN) return f32x4.pmax(least(b), f32x4.sub(b, lack));
  const twice = f32x4.add(a, a);
  if (mode == LINEAR_LIGHT)
    return f32x4.pmin(most(b), f32x4.pmax(least(b), f32x4.sub(f32x4.add(b, a), lack)));
  const burnt = colorBurn(b, lackOfBelow, twice);
  return v128.bitselect(burnt, colorDodge(b, f32x4.add(lack, lack)), f32x4.le(a, splat(0.5)));
}

// @ts-ignore: decorator
@inline
function cutCode(code: v128): v128 {
  return f32x4.pmin(splat(WHITE), f32x4.pmax(splat(0), code));
}

// @ts-ignore: decorator
@inline
function luminosityOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(splat(0.3), r), f32x4.mul(splat(0.59), g)), f32x4.mul(splat(0.11), b));
}

// @ts-ignore: decorator
@inline
function leastOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.pmin(r, f32x4.pmin(g, b));
}

// @ts-ignore: decorator
@inline
function mostOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.pmax(r, f32x4.pmax(g, b));
}

/** How strongly each place is laid, and what is covered afterwards. */
// @ts-ignore: decorator
@inline
function weightAt(mask: usize, factor: v128, at: usize): v128 {
  return mask == 0 ? factor : f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(mask + (at >> 1))), factor);
}

// @ts-ignore: decorator
@inline
function share(weight: v128, after: v128): v128 {
  return v128.and(f32x4.div(weight, after), f32x4.gt(after, splat(0)));
}

/** How much of four places lies below: all of them where nothing tells. */
// @ts-ignore: decorator
@inline
function coveredAt(covered: usize, at: usize): v128 {
  return covered == 0 ? splat(1) : v128.load(covered + at);
}

/** Covers four places further.
 * @returns By how much what is laid counts there. */
// @ts-ignore: decorator
@inline
function layCover(covered: usize, at: usize, before: v128, w: v128): v128 {
  if (covered == 0) return w;
  const after = f32x4.sub(f32x4.add(before, w), f32x4.mul(before, w));
  v128.store(covered + at, after);
  return share(w, after);
}

/** One channel of four pixels laid, in codes.
 * @param to - Where it is stored.
 * @param made - What the mode makes of them, 1 being white.
 * @param before - How much of them lay below. */
// @ts-ignore: decorator
@inline
function lay(to: usize, below: v128, own: v128, made: v128, before: v128, by: v128): void {
  const laid = f32x4.add(own, f32x4.mul(f32x4.sub(f32x4.mul(made, splat(WHITE)), own), before));
  v128.store(to, f32x4.add(below, f32x4.mul(f32x4.sub(laid, below), by)));
}

// @ts-ignore: decorator
@inline
function laySeparable(mode: i32, plane: usize, above: usize, to: usize, before: v128, by: v128): void {
  const below = v128.load(plane);
  const own = cutCode(v128.load(above));
  const step = splat(STEP);
  const lackOfBelow = f32x4.mul(f32x4.sub(splat(WHITE), below), step);
  const lack = f32x4.mul(f32x4.sub(splat(WHITE), own), step);
  const made = separable(mode, f32x4.mul(below, step), f32x4.mul(own, step), lackOfBelow, lack);
  lay(to, below, own, made, before, by);
}

// @ts-ignore: decorator
@inline
function blendSeparable(
  mode: i32, red: usize, green: usize, blue: usize, overRed: usize, overGreen: usize, overBlue: usize,
  mask: usize, weight: f32, covered: usize, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
): void {
  const end = <usize>n << 2;
  const factor = splat(weight);
  let at: usize = 0;
  do {
    const w = weightAt(mask, factor, at);
    const before = coveredAt(covered, at);
    const by = layCover(covered, at, before, w);
    laySeparable(mode, red + at, overRed + at, outRed + at, before, by);
    laySeparable(mode, green + at, overGreen + at, outGreen + at, before, by);
    laySeparable(mode, blue + at, overBlue + at, outBlue + at, before, by);
    at += 16;
  } while (at < end);
}

// @ts-ignore: decorator
@inline
function layNormal(plane: usize, above: usize, to: usize, by: v128): void {
  const below = v128.load(plane);
  v128.store(to, f32x4.add(below, f32x4.mul(f32x4.sub(v128.load(above), below), by)));
}

// @ts-ignore: decorator
@inline
function addLight(plane: usize, above: usize, to: usize, before: v128, w: v128, after: v128): void {
  const below = v128.load(plane);
  const sum = f32x4.add(f32x4.mul(before, below), f32x4.mul(w, cutCode(v128.load(above))));
  const made = f32x4.pmin(f32x4.pmax(splat(WHITE), below), f32x4.div(sum, after));
  v128.store(to, v128.bitselect(made, below, f32x4.gt(after, splat(0))));
}

// @ts-ignore: decorator
@inline
function blendPlain(
  adds: bool, red: usize, green: usize, blue: usize, overRed: usize, overGreen: usize, overBlue: usize,
  mask: usize, weight: f32, covered: usize, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
): void {
  const end = <usize>n << 2;
  const factor = splat(weight);
  let at: usize = 0;
  do {
    const w = weightAt(mask, factor, at);
    let before = splat(1);
    let after = before;
    if (covered != 0) {
      before = v128.load(covered + at);
      after = f32x4.add(before, w);
      after = adds ? f32x4.pmin(splat(1), after) : f32x4.sub(after, f32x4.mul(before, w));
      v128.store(covered + at, after);
    }
    if (adds) {
      addLight(red + at, overRed + at, outRed + at, before, w, after);
      addLight(green + at, overGreen + at, outGreen + at, before, w, after);
      addLight(blue + at, overBlue + at, outBlue + at, before, w, after);
    } else {
      const by = covered != 0 ? share(w, after) : w;
      layNormal(red + at, overRed + at, outRed + at, by);
      layNormal(green + at, overGreen + at, outGreen + at, by);
      layNormal(blue + at, overBlue + at, outBlue + at, by);
    }
    at += 16;
  } while (at < end);
}

// @ts-ignore: decorator
@inline
function spanOf(r: v128, g: v128, b: v128): v128 {
  return f32x4.sub(mostOf(r, g, b), leastOf(r, g, b));
}

/** Values by which a saturation becomes another; nothing of a grey. */
// @ts-ignore: decorator
@inline
function ratio(wanted: v128, own: v128): v128 {
  return v128.and(f32x4.div(wanted, own), f32x4.gt(own, splat(0)));
}

// @ts-ignore: decorator
@inline
function layColour(to: usize, below: v128, own: v128, luminosity: v128, away: v128, scale: v128, beyond: v128, before: v128, by: v128): void {
  lay(to, below, own, f32x4.mul(f32x4.add(luminosity, f32x4.mul(away, scale)), beyond), before, by);
}

/** Hue, saturation, color and luminosity: all of them give a luminosity to a colour, whose distances from its own are scaled: so that it has a
 * wanted saturation, and so far that it stays within 0..1. */
// @ts-ignore: decorator
@inline
function blendColours(
  mode: i32, red: usize, green: usize, blue: usize, overRed: usize, overGreen: usize, overBlue: usize,
  mask: usize, weight: f32, covered: usize, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
): void {
  const end = <usize>n << 2;
  const factor = splat(weight);
  const zero = splat(0);
  const one = splat(1);
  const step = splat(STEP);
  let at: usize = 0;
  do {
    const w = weightAt(mask, factor, at);
    const before = coveredAt(covered, at);
    const by = layCover(covered, at, before, w);
    const r = v128.load(red + at);
    const g = v128.load(green + at);
    const b = v128.load(blue + at);
    const ownR = cutCode(v128.load(overRed + at));
    const ownG = cutCode(v128.load(overGreen + at));
    const ownB = cutCode(v128.load(overBlue + at));
    const white = f32x4.pmax(splat(WHITE), mostOf(r, g, b));
    const perCode = f32x4.div(one, white);
    const belowR = f32x4.pmax(zero, r);
    const belowG = f32x4.pmax(zero, g);
    const belowB = f32x4.pmax(zero, b);
    // The colour that stays but for its luminosity, and its distances from its own, which are exact in codes however small.
    const takesAbove = mode != SATURATION && mode != LUMINOSITY;
    const cr = takesAbove ? ownR : belowR;
    const cg = takesAbove ? ownG : belowG;
    const cb = takesAbove ? ownB : belowB;
    const rg = f32x4.sub(cr, cg);
    const rb = f32x4.sub(cr, cb);
    const gb = f32x4.sub(cg, cb);
    const awayR = f32x4.add(f32x4.mul(splat(0.59), rg), f32x4.mul(splat(0.11), rb));
    const awayG = f32x4.sub(f32x4.mul(splat(0.11), gb), f32x4.mul(splat(0.3), rg));
    const awayB = f32x4.neg(f32x4.add(f32x4.mul(splat(0.3), rb), f32x4.mul(splat(0.59), gb)));
    const belowLuminosity = f32x4.mul(luminosityOf(belowR, belowG, belowB), perCode);
    const luminosity = mode == LUMINOSITY ? f32x4.mul(luminosityOf(ownR, ownG, ownB), step) : belowLuminosity;
    let scale = takesAbove ? step : perCode;
    if (mode == HUE) scale = ratio(f32x4.mul(spanOf(belowR, belowG, belowB), perCode), spanOf(cr, cg, cb));
    if (mode == SATURATION) scale = ratio(f32x4.mul(spanOf(ownR, ownG, ownB), step), spanOf(cr, cg, cb));
    const under = f32x4.neg(f32x4.mul(leastOf(awayR, awayG, awayB), scale));
    const over = f32x4.mul(mostOf(awayR, awayG, awayB), scale);
    const room = f32x4.sub(one, luminosity);
    // As far as the luminosity leaves room below and above it.
    scale = f32x4.mul(scale, v128.bitselect(f32x4.div(luminosity, under), one, f32x4.gt(under, luminosity)));
    scale = f32x4.mul(scale, v128.bitselect(f32x4.div(room, over), one, f32x4.gt(over, room)));
    const beyond = mode == LUMINOSITY ? one : f32x4.mul(white, step);
    layColour(outRed + at, r, ownR, luminosity, awayR, scale, beyond, before, by);
    layColour(outGreen + at, g, ownG, luminosity, awayG, scale, beyond, before, by);
    layColour(outBlue + at, b, ownB, luminosity, awayB, scale, beyond, before, by);
    at += 16;
  } while (at < end);
}

/** A picture over another in a mode, in codes 0..65535 and beyond. What comes out may lie where either of them does.
 * @param mask - Of samples; 0: `weight` throughout, which is a factor on it otherwise.
 * @param covered - How much of each place lies below, 0..1, in place; 0: all of it. */
export function blendOver(
  mode: i32, red: usize, green: usize, blue: usize, overRed: usize, overGreen: usize, overBlue: usize,
  mask: usize, weight: f32, covered: usize, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
): void {
  if (mode == 0) blendPlain(false, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == PLUS_LIGHTER) blendPlain(true, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == MULTIPLY) blendSeparable(MULTIPLY, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == SCREEN) blendSeparable(SCREEN, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == OVERLAY) blendSeparable(OVERLAY, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == DARKEN) blendSeparable(DARKEN, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == LIGHTEN) blendSeparable(LIGHTEN, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == COLOR_DODGE) blendSeparable(COLOR_DODGE, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == COLOR_BURN) blendSeparable(COLOR_BURN, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == HARD_LIGHT) blendSeparable(HARD_LIGHT, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == SOFT_LIGHT) blendSeparable(SOFT_LIGHT, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == DIFFERENCE) blendSeparable(DIFFERENCE, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == EXCLUSION) blendSeparable(EXCLUSION, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == LINEAR_BURN) blendSeparable(LINEAR_BURN, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == LINEAR_LIGHT) blendSeparable(LINEAR_LIGHT, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == VIVID_LIGHT) blendSeparable(VIVID_LIGHT, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == HUE) blendColours(HUE, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == SATURATION) blendColours(SATURATION, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == COLOR) blendColours(COLOR, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
  else if (mode == LUMINOSITY) blendColours(LUMINOSITY, red, green, blue, overRed, overGreen, overBlue, mask, weight, covered, outRed, outGreen, outBlue, n);
}

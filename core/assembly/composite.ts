import { four } from './gather';

/** One layer of a composite, 32 bytes: addresses of its red, green and blue planes and of its mask (0: the same weight
 * throughout), and the factor on the mask or the weight itself. */
const LAYER_BYTES: usize = 32;

// @ts-ignore: decorator
@inline
function over(below: v128, above: v128, weight: v128): v128 {
  return f32x4.add(below, f32x4.mul(f32x4.sub(above, below), weight));
}

/** 2^23: added to a float of 0 to 65,535 it leaves the nearest whole number in the low bits. Half as many instructions as
 * converting, which has to mind values out of range; a mixture of samples is always in range. */
const MAGIC: f32 = 8388608;

// @ts-ignore: decorator
@inline
function rounded(lo: v128, hi: v128): v128 {
  const magic = f32x4.splat(MAGIC);
  return i16x8.narrow_i32x4_u(i32x4.sub(f32x4.add(lo, magic), magic), i32x4.sub(f32x4.add(hi, magic), magic));
}

/** Layers over a base, eight pixels at a time through all layers: every plane and every mask is read once, and nothing
 * is written in between. */
// @ts-ignore: decorator
@inline
function compositeAtOnce(
  red: usize, green: usize, blue: usize, layers: usize, count: i32, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
  floats: i32,
): void {
  const bytes = <usize>n << 1;
  const end = layers + <usize>count * LAYER_BYTES;
  const fromFloats = (floats & 1) != 0;
  const toFloats = (floats & 2) != 0;
  let i: usize = 0;
  do {
    let rl: v128, rh: v128, gl: v128, gh: v128, bl: v128, bh: v128;
    if (fromFloats) {
      rl = v128.load(red + (i << 1));
      rh = v128.load(red + (i << 1), 16);
      gl = v128.load(green + (i << 1));
      gh = v128.load(green + (i << 1), 16);
      bl = v128.load(blue + (i << 1));
      bh = v128.load(blue + (i << 1), 16);
    } else {
      rl = four(red + i, 0);
      rh = four(red + i, 8);
      gl = four(green + i, 0);
      gh = four(green + i, 8);
      bl = four(blue + i, 0);
      bh = four(blue + i, 8);
    }
    for (let layer = layers; layer < end; layer += LAYER_BYTES) {
      const mask = <usize>load<u32>(layer, 12);
      let wl = v128.load32_splat(layer, 16);
      let wh = wl;
      if (mask != 0) {
        if ((load<u64>(mask + i) | load<u64>(mask + i, 8)) == 0) continue;
        wl = f32x4.mul(four(mask + i, 0), wl);
        wh = f32x4.mul(four(mask + i, 8), wh);
      }
      const ur = <usize>load<u32>(layer) + i;
      rl = over(rl, four(ur, 0), wl);
      rh = over(rh, four(ur, 8), wh);
      const ug = <usize>load<u32>(layer, 4) + i;
      gl = over(gl, four(ug, 0), wl);
      gh = over(gh, four(ug, 8), wh);
      const ub = <usize>load<u32>(layer, 8) + i;
      bl = over(bl, four(ub, 0), wl);
      bh = over(bh, four(ub, 8), wh);
    }
    if (toFloats) {
      v128.store(outRed + (i << 1), rl);
      v128.store(outRed + (i << 1), rh, 16);
      v128.store(outGreen + (i << 1), gl);
      v128.store(outGreen + (i << 1), gh, 16);
      v128.store(outBlue + (i << 1), bl);
      v128.store(outBlue + (i << 1), bh, 16);
    } else {
      v128.store(outRed + i, rounded(rl, rh));
      v128.store(outGreen + i, rounded(gl, gh));
      v128.store(outBlue + i, rounded(bl, bh));
    }
    i += 16;
  } while (i < bytes);
}

/** Samples that are taken through all layers before the next: what is in between stays in the nearest cache. */
const STRIP: usize = 512;

// @ts-ignore: decorator
@inline
function start(floats: bool, at: usize, i: usize, half: usize): v128 {
  return floats ? v128.load(at + (i << 1) + half * 2) : four(at + i + half, 0);
}

/** Two layers over one plane, eight samples of it. */
// @ts-ignore: decorator
@inline
function overPair(
  fromFloats: bool, toFloats: bool, below: usize, first: usize, second: usize, out: usize, i: usize,
  firstLow: v128, firstHigh: v128, secondLow: v128, secondHigh: v128,
): void {
  const lo = over(over(start(fromFloats, below, i, 0), four(first + i, 0), firstLow), four(second + i, 0), secondLow);
  const hi = over(over(start(fromFloats, below, i, 8), four(first + i, 8), firstHigh), four(second + i, 8), secondHigh);
  if (toFloats) {
    v128.store(out + (i << 1), lo);
    v128.store(out + (i << 1), hi, 16);
  } else v128.store(out + i, rounded(lo, hi));
}

/** Two layers over a strip of a picture. */
// @ts-ignore: decorator
@inline
function stripPair(
  fromFloats: bool, toFloats: bool, red: usize, green: usize, blue: usize, layer: usize, from: usize,
  outRed: usize, outGreen: usize, outBlue: usize,
): void {
  const r1 = <usize>load<u32>(layer) + from, g1 = <usize>load<u32>(layer, 4) + from, b1 = <usize>load<u32>(layer, 8) + from;
  const r2 = <usize>load<u32>(layer, 32) + from, g2 = <usize>load<u32>(layer, 36) + from, b2 = <usize>load<u32>(layer, 40) + from;
  const m1 = <usize>load<u32>(layer, 12) + from, m2 = <usize>load<u32>(layer, 44) + from;
  const w1 = v128.load32_splat(layer, 16), w2 = v128.load32_splat(layer, 48);
  let i: usize = 0;
  do {
    const l1 = f32x4.mul(four(m1 + i, 0), w1), h1 = f32x4.mul(four(m1 + i, 8), w1);
    const l2 = f32x4.mul(four(m2 + i, 0), w2), h2 = f32x4.mul(four(m2 + i, 8), w2);
    overPair(fromFloats, toFloats, red, r1, r2, outRed, i, l1, h1, l2, h2);
    overPair(fromFloats, toFloats, green, g1, g2, outGreen, i, l1, h1, l2, h2);
    overPair(fromFloats, toFloats, blue, b1, b2, outBlue, i, l1, h1, l2, h2);
    i += 16;
  } while (i < STRIP << 1);
}

/** One layer over a strip of a picture, left in floats. */
// @ts-ignore: decorator
@inline
function stripOne(
  red: usize, green: usize, blue: usize, layer: usize, from: usize, outRed: usize, outGreen: usize, outBlue: usize,
): void {
  const r = <usize>load<u32>(layer) + from, g = <usize>load<u32>(layer, 4) + from, b = <usize>load<u32>(layer, 8) + from;
  const mask = <usize>load<u32>(layer, 12) + from;
  const weight = v128.load32_splat(layer, 16);
  let i: usize = 0;
  do {
    const low = f32x4.mul(four(mask + i, 0), weight), high = f32x4.mul(four(mask + i, 8), weight);
    const to = i << 1;
    v128.store(outRed + to, over(four(red + i, 0), four(r + i, 0), low));
    v128.store(outRed + to, over(four(red + i, 8), four(r + i, 8), high), 16);
    v128.store(outGreen + to, over(four(green + i, 0), four(g + i, 0), low));
    v128.store(outGreen + to, over(four(green + i, 8), four(g + i, 8), high), 16);
    v128.store(outBlue + to, over(four(blue + i, 0), four(b + i, 0), low));
    v128.store(outBlue + to, over(four(blue + i, 8), four(b + i, 8), high), 16);
    i += 16;
  } while (i < STRIP << 1);
}

/** Two layers or more, all with masks of samples, over a picture of samples: two layers at a time go over a strip. To read from all
 * places at once is more than memory keeps up with. */
// @ts-ignore: decorator
@inline
function compositePairs(
  red: usize, green: usize, blue: usize, layers: usize, count: i32, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
  spare: usize,
): void {
  const last = layers + <usize>(count - 2) * LAYER_BYTES;
  const second = layers + (count & 1 ? LAYER_BYTES : 2 * LAYER_BYTES);
  const spareGreen = spare + (STRIP << 2);
  const spareBlue = spareGreen + (STRIP << 2);
  for (let at: usize = 0; at < <usize>n << 1; at += STRIP << 1) {
    if (count == 2) {
      stripPair(false, false, red + at, green + at, blue + at, layers, at, outRed + at, outGreen + at, outBlue + at);
      continue;
    }
    if (count & 1) stripOne(red + at, green + at, blue + at, layers, at, spare, spareGreen, spareBlue);
    else stripPair(false, true, red + at, green + at, blue + at, layers, at, spare, spareGreen, spareBlue);
    for (let pair = second; pair < last; pair += 2 * LAYER_BYTES)
      stripPair(true, true, spare, spareGreen, spareBlue, pair, at, spare, spareGreen, spareBlue);
    stripPair(true, false, spare, spareGreen, spareBlue, last, at, outRed + at, outGreen + at, outBlue + at);
  }
}

/** Layers over a base. `floats`: 1 when the base is in floats (0..65535), 2 when the result stays in floats, 3 both.
 * @param spare - Three strips of floats. */
export function composite(
  red: usize, green: usize, blue: usize, layers: usize, count: i32, outRed: usize, outGreen: usize, outBlue: usize, n: i32,
  floats: i32, spare: usize,
): void {
  let inPairs = floats == 0 && count > 1 && (<usize>n & (STRIP - 1)) == 0;
  for (let layer = layers; layer < layers + <usize>count * LAYER_BYTES; layer += LAYER_BYTES)
    if (load<u32>(layer, 12) == 0) inPairs = false;
  if (inPairs) compositePairs(red, green, blue, layers, count, outRed, outGreen, outBlue, n, spare);
  else compositeAtOnce(red, green, blue, layers, count, outRed, outGreen, outBlue, n, floats);
}

/** One picture in floats over another, through a mask of samples (0: the same weight throughout); one plane of it.
 * @param out - May be either of them. */
export function mixFloats(below: usize, above: usize, mask: usize, weight: f32, out: usize, n: i32): void {
  const factor = f32x4.splat(weight);
  const end = below + (<usize>n << 2);
  do {
    let low = factor, high = factor;
    if (mask != 0) {
      low = f32x4.mul(four(mask, 0), factor);
      high = f32x4.mul(four(mask, 8), factor);
      mask += 16;
    }
    v128.store(out, over(v128.load(below), v128.load(above), low));
    v128.store(out, over(v128.load(below, 16), v128.load(above, 16), high), 16);
    below += 32;
    above += 32;
    out += 32;
  } while (below < end);
}

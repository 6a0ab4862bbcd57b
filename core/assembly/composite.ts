/** One layer of a composite, 32 bytes: addresses of its red, green and blue planes and of its mask (0: the same weight
 * throughout), and the factor on the mask or the weight itself. */
const LAYER_BYTES: usize = 32;

/** Four samples as floats, widened while they are loaded: an instruction less than taking halves of a vector. */
// @ts-ignore: decorator
@inline
function four(at: usize, offset: usize): v128 {
  return f32x4.convert_i32x4_s(v128.load16x4_u(at + offset));
}

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
 * is written in between. `floats`: 1 when the base is in floats (0..65535), 2 when the result stays in floats, 3 both. */
export function composite(
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

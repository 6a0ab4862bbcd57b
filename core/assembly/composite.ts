/** One layer of a composite, 32 bytes: addresses of its red, green and blue planes and of its mask (0: the same weight
 * throughout), and the factor on the mask or the weight itself. */
const LAYER_BYTES: usize = 32;

// @ts-ignore: decorator
@inline
function low(v: v128): v128 {
  return f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v));
}

// @ts-ignore: decorator
@inline
function high(v: v128): v128 {
  return f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(v));
}

// @ts-ignore: decorator
@inline
function over(below: v128, above: v128, weight: v128): v128 {
  return f32x4.add(below, f32x4.mul(f32x4.sub(above, below), weight));
}

// @ts-ignore: decorator
@inline
function rounded(lo: v128, hi: v128): v128 {
  const half = f32x4.splat(0.5);
  return i16x8.narrow_i32x4_u(i32x4.trunc_sat_f32x4_s(f32x4.add(lo, half)), i32x4.trunc_sat_f32x4_s(f32x4.add(hi, half)));
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
  for (let i: usize = 0; i < bytes; i += 16) {
    let rl: v128, rh: v128, gl: v128, gh: v128, bl: v128, bh: v128;
    if (fromFloats) {
      rl = v128.load(red + (i << 1));
      rh = v128.load(red + (i << 1), 16);
      gl = v128.load(green + (i << 1));
      gh = v128.load(green + (i << 1), 16);
      bl = v128.load(blue + (i << 1));
      bh = v128.load(blue + (i << 1), 16);
    } else {
      const r = v128.load(red + i);
      const g = v128.load(green + i);
      const b = v128.load(blue + i);
      rl = low(r);
      rh = high(r);
      gl = low(g);
      gh = high(g);
      bl = low(b);
      bh = high(b);
    }
    for (let layer = layers; layer < end; layer += LAYER_BYTES) {
      const mask = <usize>load<u32>(layer, 12);
      let wl = v128.load32_splat(layer, 16);
      let wh = wl;
      if (mask != 0) {
        const m = v128.load(mask + i);
        if (!v128.any_true(m)) continue;
        wl = f32x4.mul(low(m), wl);
        wh = f32x4.mul(high(m), wh);
      }
      const ur = v128.load(<usize>load<u32>(layer) + i);
      rl = over(rl, low(ur), wl);
      rh = over(rh, high(ur), wh);
      const ug = v128.load(<usize>load<u32>(layer, 4) + i);
      gl = over(gl, low(ug), wl);
      gh = over(gh, high(ug), wh);
      const ub = v128.load(<usize>load<u32>(layer, 8) + i);
      bl = over(bl, low(ub), wl);
      bh = over(bh, high(ub), wh);
    }
    if (toFloats) {
      v128.store(outRed + (i << 1), rl);
      v128.store(outRed + (i << 1), rh, 16);
      v128.store(outGreen + (i << 1), gl);
      v128.store(outGreen + (i << 1), gh, 16);
      v128.store(outBlue + (i << 1), bl);
      v128.store(outBlue + (i << 1), bh, 16);
      continue;
    }
    v128.store(outRed + i, rounded(rl, rh));
    v128.store(outGreen + i, rounded(gl, gh));
    v128.store(outBlue + i, rounded(bl, bh));
  }
}

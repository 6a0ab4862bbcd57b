/** One layer of a composite, 16 bytes: address of its plane, address of its mask (0: the same weight throughout), and
 * the factor on the mask or the weight itself. */
const LAYER_BYTES: usize = 16;

// @ts-ignore: decorator
@inline
function low(v: v128): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v));
}

// @ts-ignore: decorator
@inline
function high(v: v128): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(v));
}

// @ts-ignore: decorator
@inline
function over(below: v128, above: v128, weight: v128): v128 {
  return f32x4.add(below, f32x4.mul(f32x4.sub(above, below), weight));
}

/** Layers over a base, eight samples at a time through all layers: every plane is read once and nothing is written
 * in between. */
export function composite(base: usize, layers: usize, count: i32, out: usize, n: i32): void {
  const half = f32x4.splat(0.5);
  const bytes = <usize>n << 1;
  for (let i: usize = 0; i < bytes; i += 16) {
    const b = v128.load(base + i);
    let lo = low(b);
    let hi = high(b);
    for (let k = 0; k < count; k++) {
      const layer = layers + <usize>k * LAYER_BYTES;
      const u = v128.load(<usize>load<u32>(layer) + i);
      const mask = <usize>load<u32>(layer, 4);
      const scale = f32x4.splat(load<f32>(layer, 8));
      if (mask != 0) {
        const m = v128.load(mask + i);
        lo = over(lo, low(u), f32x4.mul(low(m), scale));
        hi = over(hi, high(u), f32x4.mul(high(m), scale));
      } else {
        lo = over(lo, low(u), scale);
        hi = over(hi, high(u), scale);
      }
    }
    const lo32 = i32x4.trunc_sat_f32x4_s(f32x4.add(lo, half));
    const hi32 = i32x4.trunc_sat_f32x4_s(f32x4.add(hi, half));
    v128.store(out + i, i16x8.narrow_i32x4_u(lo32, hi32));
  }
}

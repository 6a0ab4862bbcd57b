const TILE: i32 = 128;
const PHASES: f32 = 1024;

// @ts-ignore: decorator
@inline
function clampFloat(value: f32, from: f32, to: f32): f32 {
  return max<f32>(from, min<f32>(to, value));
}

// @ts-ignore: decorator
@inline
function saturated(value: f32): u16 {
  return <u16>clampFloat(value + 0.5, 0, 65535);
}

// @ts-ignore: decorator
@inline
function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** Six rows of a plane from a place on, weighed. */
// @ts-ignore: decorator
@inline
function between(area: usize, stride: usize, wl: v128, wh: v128, down: usize): u16 {
  let sum = f32x4.splat(0);
  for (let row: usize = 0; row < 6; row++) {
    const eight = v128.load(area + row * stride);
    const low = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(eight)), wl);
    const high = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(eight)), wh);
    sum = f32x4.add(sum, f32x4.mul(f32x4.add(low, high), v128.load32_splat(down + (row << 2))));
  }
  return saturated(sumOf(sum));
}

/** Reads a tile of three planes out of areas of a picture that it is turned, shifted or tilted against.
 * @param side - Samples of a row of an area; an area has as many rows.
 * @param matrix - Nine floats, row by row: from a tile's pixel to a place in the area, both from their first pixel's centre.
 * @param weights - 1,025 phases of eight floats: weights of the samples from two before the place on, as `taps` says; the
 * rest are zero.
 * @param planes - Addresses of the areas' three planes and of the tile's three. */
export function warp(planes: usize, side: i32, matrix: usize, weights: usize): void {
  const h0 = load<f32>(matrix), h1 = load<f32>(matrix, 4), h2 = load<f32>(matrix, 8);
  const h3 = load<f32>(matrix, 12), h4 = load<f32>(matrix, 16), h5 = load<f32>(matrix, 20);
  const h6 = load<f32>(matrix, 24), h7 = load<f32>(matrix, 28), h8 = load<f32>(matrix, 32);
  const stride = <usize>side << 1;
  const last = <f32>(side - 6);
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++) {
      const fx = <f32>x;
      const fy = <f32>y;
      const w: f32 = 1 / (h6 * fx + h7 * fy + h8);
      const u = clampFloat((h0 * fx + h1 * fy + h2) * w, 2, last);
      const v = clampFloat((h3 * fx + h4 * fy + h5) * w, 2, last);
      const left = Mathf.floor(u);
      const top = Mathf.floor(v);
      const across = weights + (<usize>((u - left) * PHASES + 0.5) << 5);
      const down = weights + (<usize>((v - top) * PHASES + 0.5) << 5);
      const first = (<usize>(<i32>top - 2) * stride) + (<usize>(<i32>left - 2) << 1);
      const wl = v128.load(across);
      const wh = v128.load(across, 16);
      const to = <usize>(y * TILE + x) << 1;
      for (let plane: usize = 0; plane < 12; plane += 4) {
        const area = <usize>load<u32>(planes + plane) + first;
        store<u16>(<usize>load<u32>(planes + plane, 12) + to, between(area, stride, wl, wh, down));
      }
    }
  }
}

/** The same through a lens, each channel at a place of its own.
 * @param x0, y0, step - Straight place of the tile's first pixel, and from one to the next.
 * @param k1, k2, k3 - What bends it.
 * @param h0 - And on: from bent places to places in the area, row by row.
 * @param cx, cy - Place of the area from which channels are read farther, by their scales. */
export function warpBent(
  planes: usize, side: i32, weights: usize,
  x0: f64, y0: f64, step: f64, k1: f64, k2: f64, k3: f64,
  h0: f64, h1: f64, h2: f64, h3: f64, h4: f64, h5: f64, h6: f64, h7: f64, h8: f64,
  cx: f64, cy: f64, red: f64, green: f64, blue: f64,
): void {
  const stride = <usize>side << 1;
  const last = <f64>(side - 6);
  const areTogether = red == 1 && green == 1 && blue == 1;
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++) {
      const sx = x0 + <f64>x * step;
      const sy = y0 + <f64>y * step;
      const squared = sx * sx + sy * sy;
      const factor = 1 + squared * (k1 + squared * (k2 + squared * k3));
      const bx = sx * factor;
      const by = sy * factor;
      const w = h6 * bx + h7 * by + h8;
      const u = (h0 * bx + h1 * by + h2) / w - cx;
      const v = (h3 * bx + h4 * by + h5) / w - cy;
      const to = <usize>(y * TILE + x) << 1;
      if (areTogether) {
        const across = max<f64>(2, min<f64>(last, cx + u));
        const down = max<f64>(2, min<f64>(last, cy + v));
        const left = Math.floor(across);
        const top = Math.floor(down);
        const phase = weights + (<usize>((across - left) * 1024 + 0.5) << 5);
        const lower = weights + (<usize>((down - top) * 1024 + 0.5) << 5);
        const first = (<usize>(<i32>top - 2) * stride) + (<usize>(<i32>left - 2) << 1);
        const wl = v128.load(phase);
        const wh = v128.load(phase, 16);
        for (let plane: usize = 0; plane < 12; plane += 4) {
          const area = <usize>load<u32>(planes + plane) + first;
          store<u16>(<usize>load<u32>(planes + plane, 12) + to, between(area, stride, wl, wh, lower));
        }
        continue;
      }
      for (let plane: usize = 0; plane < 12; plane += 4) {
        const scale = plane == 0 ? red : plane == 4 ? green : blue;
        const across = max<f64>(2, min<f64>(last, cx + scale * u));
        const down = max<f64>(2, min<f64>(last, cy + scale * v));
        const left = Math.floor(across);
        const top = Math.floor(down);
        const phase = weights + (<usize>((across - left) * 1024 + 0.5) << 5);
        const lower = weights + (<usize>((down - top) * 1024 + 0.5) << 5);
        const first = (<usize>(<i32>top - 2) * stride) + (<usize>(<i32>left - 2) << 1);
        const area = <usize>load<u32>(planes + plane) + first;
        store<u16>(<usize>load<u32>(planes + plane, 12) + to, between(area, stride, v128.load(phase), v128.load(phase, 16), lower));
      }
    }
  }
}

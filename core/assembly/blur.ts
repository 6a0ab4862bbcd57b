// @ts-ignore: decorator
@inline
function clampIndex(i: i32, length: i32): usize {
  return <usize>(i < 0 ? 0 : i >= length ? length - 1 : i);
}

/** A box pass along rows; a running sum, one row after the other. */
export function boxRows(plane: usize, out: usize, width: i32, height: i32, radius: i32, edge: f32): void {
  const weight: f32 = 1 / (2 * <f32>radius + 1 + 2 * edge);
  for (let y = 0; y < height; y++) {
    const row = plane + (<usize>(y * width) << 2);
    const to = out + (<usize>(y * width) << 2);
    let sum: f64 = 0;
    for (let i = -radius; i <= radius; i++) sum += load<f32>(row + (clampIndex(i, width) << 2));
    for (let x = 0; x < width; x++) {
      const next = load<f32>(row + (clampIndex(x + radius + 1, width) << 2));
      const before = load<f32>(row + (clampIndex(x - radius - 1, width) << 2));
      store<f32>(to + (<usize>x << 2), (<f32>sum + edge * (before + next)) * weight);
      sum += <f64>next - <f64>load<f32>(row + (clampIndex(x - radius, width) << 2));
    }
  }
}

/** A box pass along columns, four columns at a time, with their running sums in one vector. `width` is a multiple of 4. */
export function boxColumns(plane: usize, out: usize, width: i32, height: i32, radius: i32, edge: f32): void {
  const weight = f32x4.splat(1 / (2 * <f32>radius + 1 + 2 * edge));
  const edges = f32x4.splat(edge);
  const stride = <usize>width << 2;
  for (let x: usize = 0; x < <usize>width; x += 4) {
    const column = plane + (x << 2);
    let sum = f32x4.splat(0);
    for (let i = -radius; i <= radius; i++) sum = f32x4.add(sum, v128.load(column + clampIndex(i, height) * stride));
    for (let y = 0; y < height; y++) {
      const next = v128.load(column + clampIndex(y + radius + 1, height) * stride);
      const before = v128.load(column + clampIndex(y - radius - 1, height) * stride);
      const here = f32x4.add(sum, f32x4.mul(edges, f32x4.add(before, next)));
      v128.store(out + (x << 2) + <usize>y * stride, f32x4.mul(here, weight));
      sum = f32x4.add(sum, f32x4.sub(next, v128.load(column + clampIndex(y - radius, height) * stride)));
    }
  }
}

/** Reads a tile of a finer level out of an area of a coarser one, between its pixels.
 * @param offsetX - Where the tile's left edge lies in the area, in the area's pixels; likewise `offsetY`.
 * @param step - Pixels of the tile for one of the area. */
export function enlarge(area: usize, side: i32, offsetX: f32, offsetY: f32, step: f32, out: usize): void {
  const unit: f32 = 1 / step;
  const stride = <usize>side << 2;
  for (let y = 0; y < 128; y++) {
    const sy = (<f32>y + 0.5) * unit - 0.5 + offsetY;
    const top = Mathf.floor(sy);
    const fy = f32x4.splat(sy - top);
    const upperRow = area + <usize>(<i32>top) * stride;
    const lowerRow = upperRow + stride;
    for (let x = 0; x < 128; x += 4) {
      const sx = f32x4.add(f32x4.mul(f32x4(<f32>x + 0.5, <f32>x + 1.5, <f32>x + 2.5, <f32>x + 3.5), f32x4.splat(unit)), f32x4.splat(offsetX - 0.5));
      const left = f32x4.floor(sx);
      const fx = f32x4.sub(sx, left);
      const at = i32x4.shl(i32x4.trunc_sat_f32x4_s(left), 2);
      const a0 = <usize>i32x4.extract_lane(at, 0);
      const a1 = <usize>i32x4.extract_lane(at, 1);
      const a2 = <usize>i32x4.extract_lane(at, 2);
      const a3 = <usize>i32x4.extract_lane(at, 3);
      const ul = f32x4(load<f32>(upperRow + a0), load<f32>(upperRow + a1), load<f32>(upperRow + a2), load<f32>(upperRow + a3));
      const ur = f32x4(load<f32>(upperRow + a0, 4), load<f32>(upperRow + a1, 4), load<f32>(upperRow + a2, 4), load<f32>(upperRow + a3, 4));
      const ll = f32x4(load<f32>(lowerRow + a0), load<f32>(lowerRow + a1), load<f32>(lowerRow + a2), load<f32>(lowerRow + a3));
      const lr = f32x4(load<f32>(lowerRow + a0, 4), load<f32>(lowerRow + a1, 4), load<f32>(lowerRow + a2, 4), load<f32>(lowerRow + a3, 4));
      const upper = f32x4.add(ul, f32x4.mul(f32x4.sub(ur, ul), fx));
      const lower = f32x4.add(ll, f32x4.mul(f32x4.sub(lr, ll), fx));
      v128.store(out + (<usize>(y * 128 + x) << 2), f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy)));
    }
  }
}

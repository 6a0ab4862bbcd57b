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

/** Reads a tile of a finer level out of an area of a coarser one, between its pixels. Rows are mixed first, four at a time,
 * then each pixel takes two neighbours of the mixed row: three times quicker than fetching four neighbours a pixel.
 * @param offsetX - Where the tile's left edge lies in the area, in the area's pixels; likewise `offsetY`.
 * @param step - Pixels of the tile for one of the area.
 * @param spare - 1,024 bytes and a row of the area, rounded up to 16 bytes. */
export function enlarge(area: usize, side: i32, offsetX: f32, offsetY: f32, step: f32, out: usize, spare: usize): void {
  const unit: f32 = 1 / step;
  const stride = <usize>side << 2;
  const fractions = spare + 512;
  const line = spare + 1024;
  for (let x = 0; x < 128; x++) {
    const sx = (<f32>x + 0.5) * unit - 0.5 + offsetX;
    const left = Mathf.floor(sx);
    store<i32>(spare + (<usize>x << 2), <i32>left << 2);
    store<f32>(fractions + (<usize>x << 2), sx - left);
  }
  const first = <usize>load<i32>(spare) & ~15;
  const end = <usize>load<i32>(spare, 508) + 8;
  for (let y = 0; y < 128; y++) {
    const sy = (<f32>y + 0.5) * unit - 0.5 + offsetY;
    const top = Mathf.floor(sy);
    const fy = f32x4.splat(sy - top);
    const upperRow = area + <usize>(<i32>top) * stride;
    for (let i = first; i < end; i += 16) {
      const upper = v128.load(upperRow + i);
      const lower = v128.load(upperRow + stride + i);
      v128.store(line + i, f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), fy)));
    }
    const row = out + (<usize>y << 9);
    for (let i: usize = 0; i < 512; i += 16) {
      const at = spare + i;
      let a = v128.load64_zero(line + <usize>load<i32>(at));
      a = v128.load64_lane(line + <usize>load<i32>(at, 4), a, 1);
      let b = v128.load64_zero(line + <usize>load<i32>(at, 8));
      b = v128.load64_lane(line + <usize>load<i32>(at, 12), b, 1);
      const left = v128.shuffle<f32>(a, b, 0, 2, 4, 6);
      const right = v128.shuffle<f32>(a, b, 1, 3, 5, 7);
      const fx = v128.load(fractions + i);
      v128.store(row + i, f32x4.add(left, f32x4.mul(f32x4.sub(right, left), fx)));
    }
  }
}

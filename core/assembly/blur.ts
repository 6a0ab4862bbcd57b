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

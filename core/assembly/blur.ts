import { fourRows, toFourRows } from './rows';

// @ts-ignore: decorator
@inline
function clampIndex(i: i32, length: i32): usize {
  return <usize>(i < 0 ? 0 : i >= length ? length - 1 : i);
}

/** Boxes of up to this radius are summed anew for every sample: vectors along a row beat running sums across rows. */
const NARROW: i32 = 8;

// @ts-ignore: decorator
@inline
function boxAt(row: usize, x: i32, width: i32, radius: i32, edge: f32): f32 {
  let sum: f32 = 0;
  for (let i = x - radius; i <= x + radius; i++) sum += load<f32>(row + (clampIndex(i, width) << 2));
  const before = load<f32>(row + (clampIndex(x - radius - 1, width) << 2));
  const after = load<f32>(row + (clampIndex(x + radius + 1, width) << 2));
  return sum + edge * (before + after);
}

/** Sixteen samples at a time, whose sums do not wait for each other. `width` is at least twice the radius and 18. */
function boxRow(row: usize, to: usize, width: i32, radius: i32, edge: f32, weight: f32): void {
  const weights = f32x4.splat(weight);
  const edges = f32x4.splat(edge);
  const taps = <usize>(2 * radius + 2) << 2;
  for (let x = 0; x <= radius; x++) {
    store<f32>(to + (<usize>x << 2), boxAt(row, x, width, radius, edge) * weight);
    const end = width - 1 - x;
    store<f32>(to + (<usize>end << 2), boxAt(row, end, width, radius, edge) * weight);
  }
  const inner = width - radius - 17; // the last vectors may be laid once more
  let x = radius + 1;
  do {
    if (x > inner) x = inner;
    const before = row + (<usize>(x - radius - 1) << 2);
    let a = f32x4.mul(edges, f32x4.add(v128.load(before), v128.load(before + taps)));
    let b = f32x4.mul(edges, f32x4.add(v128.load(before, 16), v128.load(before + taps, 16)));
    let c = f32x4.mul(edges, f32x4.add(v128.load(before, 32), v128.load(before + taps, 32)));
    let d = f32x4.mul(edges, f32x4.add(v128.load(before, 48), v128.load(before + taps, 48)));
    let tap: usize = 4;
    do {
      a = f32x4.add(a, v128.load(before + tap));
      b = f32x4.add(b, v128.load(before + tap, 16));
      c = f32x4.add(c, v128.load(before + tap, 32));
      d = f32x4.add(d, v128.load(before + tap, 48));
      tap += 4;
    } while (tap < taps);
    const at = to + (<usize>x << 2);
    v128.store(at, f32x4.mul(a, weights));
    v128.store(at, f32x4.mul(b, weights), 16);
    v128.store(at, f32x4.mul(c, weights), 32);
    v128.store(at, f32x4.mul(d, weights), 48);
    x += 16;
  } while (x < width - radius - 1);
}

/** A box pass along rows. Wide ones are running sums of four rows at once, and of what rows are left one by one. */
export function boxRows(plane: usize, out: usize, width: i32, height: i32, radius: i32, edge: f32): void {
  const weight: f32 = 1 / (2 * <f32>radius + 1 + 2 * edge);
  const stride = <usize>width << 2;
  const weights = f32x4.splat(weight);
  const edges = f32x4.splat(edge);
  let y = 0;
  if (radius <= NARROW && width >= 2 * radius + 18) {
    for (; y < height; y++) boxRow(plane + <usize>y * stride, out + <usize>y * stride, width, radius, edge, weight);
    return;
  }
  for (; y + 4 <= height; y += 4) {
    const row = plane + <usize>y * stride;
    const to = out + <usize>y * stride;
    let sum = f32x4.splat(0);
    for (let i = -radius; i <= radius; i++) sum = f32x4.add(sum, fourRows(row + (clampIndex(i, width) << 2), stride));
    for (let x = 0; x < width; x++) {
      const next = fourRows(row + (clampIndex(x + radius + 1, width) << 2), stride);
      const before = fourRows(row + (clampIndex(x - radius - 1, width) << 2), stride);
      const here = f32x4.add(sum, f32x4.mul(edges, f32x4.add(before, next)));
      toFourRows(to + (<usize>x << 2), stride, f32x4.mul(here, weights));
      sum = f32x4.add(sum, f32x4.sub(next, fourRows(row + (clampIndex(x - radius, width) << 2), stride)));
    }
  }
  for (; y < height; y++) {
    const row = plane + <usize>y * stride;
    const to = out + <usize>y * stride;
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

/** A box pass along columns: eight at a time, whose sums do not wait for each other, then four. `width` is a multiple of 4. */
export function boxColumns(plane: usize, out: usize, width: i32, height: i32, radius: i32, edge: f32): void {
  const weight = f32x4.splat(1 / (2 * <f32>radius + 1 + 2 * edge));
  const edges = f32x4.splat(edge);
  const stride = <usize>width << 2;
  let x: usize = 0;
  for (; x + 32 <= stride; x += 32) {
    const column = plane + x;
    let a = f32x4.splat(0);
    let b = a;
    for (let i = -radius; i <= radius; i++) {
      const at = column + clampIndex(i, height) * stride;
      a = f32x4.add(a, v128.load(at));
      b = f32x4.add(b, v128.load(at, 16));
    }
    let y = 0;
    do {
      const next = column + clampIndex(y + radius + 1, height) * stride;
      const before = column + clampIndex(y - radius - 1, height) * stride;
      const last = column + clampIndex(y - radius, height) * stride;
      const to = out + x + <usize>y * stride;
      const nextA = v128.load(next);
      const nextB = v128.load(next, 16);
      v128.store(to, f32x4.mul(f32x4.add(a, f32x4.mul(edges, f32x4.add(v128.load(before), nextA))), weight));
      v128.store(to, f32x4.mul(f32x4.add(b, f32x4.mul(edges, f32x4.add(v128.load(before, 16), nextB))), weight), 16);
      a = f32x4.add(a, f32x4.sub(nextA, v128.load(last)));
      b = f32x4.add(b, f32x4.sub(nextB, v128.load(last, 16)));
      y++;
    } while (y < height);
  }
  for (; x < stride; x += 16) {
    const column = plane + x;
    let sum = f32x4.splat(0);
    for (let i = -radius; i <= radius; i++) sum = f32x4.add(sum, v128.load(column + clampIndex(i, height) * stride));
    let y = 0;
    do {
      const next = v128.load(column + clampIndex(y + radius + 1, height) * stride);
      const before = v128.load(column + clampIndex(y - radius - 1, height) * stride);
      const here = f32x4.add(sum, f32x4.mul(edges, f32x4.add(before, next)));
      v128.store(out + x + <usize>y * stride, f32x4.mul(here, weight));
      sum = f32x4.add(sum, f32x4.sub(next, v128.load(column + clampIndex(y - radius, height) * stride)));
      y++;
    } while (y < height);
  }
}

// @ts-ignore: decorator
@inline
function tapAt(row: usize, to: usize, x: i32, width: i32, distance: i32, middle: f32, weight: f32): void {
  const before = load<f32>(row + (clampIndex(x - distance, width) << 2));
  const after = load<f32>(row + (clampIndex(x + distance, width) << 2));
  store<f32>(to + (<usize>x << 2), load<f32>(row + (<usize>x << 2)) * middle + (before + after) * weight);
}

/** Mixes each sample with the two `distance` away along its row. */
export function tapRows(plane: usize, out: usize, width: i32, height: i32, distance: i32, weight: f32): void {
  const middle: f32 = 1 - 2 * weight;
  const middles = f32x4.splat(middle);
  const weights = f32x4.splat(weight);
  let y = 0;
  do {
    const row = plane + (<usize>(y * width) << 2);
    const to = out + (<usize>(y * width) << 2);
    let x = 0;
    for (; x < min(distance, width); x++) tapAt(row, to, x, width, distance, middle, weight);
    if (x + 4 + distance <= width) {
      const away = <usize>distance << 2;
      do {
        const at = row + (<usize>x << 2);
        const sides = f32x4.add(v128.load(at - away), v128.load(at + away));
        v128.store(to + (<usize>x << 2), f32x4.add(f32x4.mul(v128.load(at), middles), f32x4.mul(sides, weights)));
        x += 4;
      } while (x + 4 + distance <= width);
    }
    for (; x < width; x++) tapAt(row, to, x, width, distance, middle, weight);
    y++;
  } while (y < height);
}

/** Likewise along columns. `width` is a multiple of 4. */
export function tapColumns(plane: usize, out: usize, width: i32, height: i32, distance: i32, weight: f32): void {
  const middles = f32x4.splat(1 - 2 * weight);
  const weights = f32x4.splat(weight);
  const stride = <usize>width << 2;
  let y = 0;
  do {
    const row = plane + <usize>y * stride;
    const above = plane + clampIndex(y - distance, height) * stride;
    const below = plane + clampIndex(y + distance, height) * stride;
    let x: usize = 0;
    do {
      const sides = f32x4.add(v128.load(above + x), v128.load(below + x));
      const mixed = f32x4.add(f32x4.mul(v128.load(row + x), middles), f32x4.mul(sides, weights));
      v128.store(out + <usize>y * stride + x, mixed);
      x += 16;
    } while (x < stride);
    y++;
  } while (y < height);
}

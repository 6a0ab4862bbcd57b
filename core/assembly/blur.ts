import { fourRows, highHalves, highPairs, lowHalves, lowPairs, toFourRows } from './rows';

// @ts-ignore: decorator
@inline
function clampIndex(i: i32, length: i32): usize {
  return <usize>(i < 0 ? 0 : i >= length ? length - 1 : i);
}

/** Boxes of up to this radius are summed anew for every sample: vectors along a row beat running sums across rows. */
const NARROW: i32 = 8;
const WIDEST_ROW: i32 = 600;

/** A row with its ends repeated outwards as far as a box reaches, and sixteen samples more, which are anything. */
// @ts-ignore: decorator
@inline
function padRow(row: usize, line: usize, width: i32, reach: i32): void {
  const bytes = <usize>width << 2;
  const from = line + (<usize>reach << 2);
  const first = load<f32>(row);
  const last = load<f32>(row + bytes - 4);
  for (let i: usize = 0; i < <usize>reach << 2; i += 4) {
    store<f32>(line + i, first);
    store<f32>(from + bytes + i, last);
  }
  memory.copy(from, row, bytes);
}

/** Sixteen samples at a time, whose sums do not wait for each other. `width` is at least 16.
 * @param line - The row as `padRow` lays it. */
function boxRow(line: usize, to: usize, width: i32, radius: i32, edge: f32, weight: f32): void {
  const weights = f32x4.splat(weight);
  const edges = f32x4.splat(edge);
  const taps = <usize>(2 * radius + 2) << 2;
  let x = 0;
  do {
    const before = line + (<usize>x << 2);
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
    // The last vectors may be laid once more.
    x += x + 32 > width && x + 16 < width ? width - x - 16 : 16;
  } while (x < width);
}

// @ts-ignore: decorator
@inline
function boxed(sum: v128, before: v128, next: v128, edges: v128, weight: v128): v128 {
  return f32x4.mul(f32x4.add(sum, f32x4.mul(edges, f32x4.add(before, next))), weight);
}

/** One column of four rows; the sum of the next one is answered. */
// @ts-ignore: decorator
@inline
function boxColumn(
  sum: v128, row: usize, to: usize, stride: usize, x: i32, width: i32, radius: i32, edges: v128, weights: v128,
): v128 {
  const next = fourRows(row + (clampIndex(x + radius + 1, width) << 2), stride);
  const before = fourRows(row + (clampIndex(x - radius - 1, width) << 2), stride);
  toFourRows(to + (<usize>x << 2), stride, boxed(sum, before, next, edges, weights));
  return f32x4.add(sum, f32x4.sub(next, fourRows(row + (clampIndex(x - radius, width) << 2), stride)));
}

/** A box pass along rows. Wide ones are running sums of four rows at once, and of what rows are left one by one.
 * @param line - Room for 640 samples. */
export function boxRows(plane: usize, out: usize, width: i32, height: i32, radius: i32, edge: f32, line: usize): void {
  const weight: f32 = 1 / (2 * <f32>radius + 1 + 2 * edge);
  const stride = <usize>width << 2;
  const weights = f32x4.splat(weight);
  const edges = f32x4.splat(edge);
  let y = 0;
  if (radius <= NARROW && width >= 16 && width <= WIDEST_ROW) {
    for (; y < height; y++) {
      padRow(plane + <usize>y * stride, line, width, radius + 1);
      boxRow(line, out + <usize>y * stride, width, radius, edge, weight);
    }
    return;
  }
  for (; y + 4 <= height; y += 4) {
    const row = plane + <usize>y * stride;
    const to = out + <usize>y * stride;
    let sum = f32x4.splat(0);
    for (let i = -radius; i <= radius; i++) sum = f32x4.add(sum, fourRows(row + (clampIndex(i, width) << 2), stride));
    let x = 0;
    for (; x < min(radius + 1, width); x++) sum = boxColumn(sum, row, to, stride, x, width, radius, edges, weights);
    // Where no end is near, four columns at a time: sums run over columns, all else goes by rows.
    for (; x + radius + 5 <= width; x += 4) {
      const next = row + (<usize>(x + radius + 1) << 2);
      const before = row + (<usize>(x - radius - 1) << 2);
      const nextA = v128.load(next);
      const nextB = v128.load(next + stride);
      const nextC = v128.load(next + 2 * stride);
      const nextD = v128.load(next + 3 * stride);
      const a = f32x4.sub(nextA, v128.load(before, 4));
      const b = f32x4.sub(nextB, v128.load(before + stride, 4));
      const c = f32x4.sub(nextC, v128.load(before + 2 * stride, 4));
      const d = f32x4.sub(nextD, v128.load(before + 3 * stride, 4));
      const second = f32x4.add(sum, lowHalves(lowPairs(a, b), lowPairs(c, d)));
      const third = f32x4.add(second, highHalves(lowPairs(a, b), lowPairs(c, d)));
      const fourth = f32x4.add(third, lowHalves(highPairs(a, b), highPairs(c, d)));
      const low = lowPairs(sum, second);
      const high = lowPairs(third, fourth);
      const lowNext = highPairs(sum, second);
      const highNext = highPairs(third, fourth);
      sum = f32x4.add(fourth, highHalves(highPairs(a, b), highPairs(c, d)));
      const at = to + (<usize>x << 2);
      v128.store(at, boxed(lowHalves(low, high), v128.load(before), nextA, edges, weights));
      v128.store(at + stride, boxed(highHalves(low, high), v128.load(before + stride), nextB, edges, weights));
      v128.store(at + 2 * stride, boxed(lowHalves(lowNext, highNext), v128.load(before + 2 * stride), nextC, edges, weights));
      v128.store(at + 3 * stride, boxed(highHalves(lowNext, highNext), v128.load(before + 3 * stride), nextD, edges, weights));
    }
    for (; x < width; x++) sum = boxColumn(sum, row, to, stride, x, width, radius, edges, weights);
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

/** A box pass along columns: sixteen at a time, whose sums do not wait for each other, then four. `width` is a multiple of 4. */
export function boxColumns(plane: usize, out: usize, width: i32, height: i32, radius: i32, edge: f32): void {
  const weight = f32x4.splat(1 / (2 * <f32>radius + 1 + 2 * edge));
  const edges = f32x4.splat(edge);
  const stride = <usize>width << 2;
  let x: usize = 0;
  for (; x + 64 <= stride; x += 64) {
    const column = plane + x;
    let a = f32x4.splat(0);
    let b = a;
    let c = a;
    let d = a;
    for (let i = -radius; i <= radius; i++) {
      const at = column + clampIndex(i, height) * stride;
      a = f32x4.add(a, v128.load(at));
      b = f32x4.add(b, v128.load(at, 16));
      c = f32x4.add(c, v128.load(at, 32));
      d = f32x4.add(d, v128.load(at, 48));
    }
    let to = out + x;
    let y = 0;
    do {
      const next = column + clampIndex(y + radius + 1, height) * stride;
      const before = column + clampIndex(y - radius - 1, height) * stride;
      const last = column + clampIndex(y - radius, height) * stride;
      v128.store(to, boxed(a, v128.load(before), v128.load(next), edges, weight));
      v128.store(to, boxed(b, v128.load(before, 16), v128.load(next, 16), edges, weight), 16);
      v128.store(to, boxed(c, v128.load(before, 32), v128.load(next, 32), edges, weight), 32);
      v128.store(to, boxed(d, v128.load(before, 48), v128.load(next, 48), edges, weight), 48);
      a = f32x4.add(a, f32x4.sub(v128.load(next), v128.load(last)));
      b = f32x4.add(b, f32x4.sub(v128.load(next, 16), v128.load(last, 16)));
      c = f32x4.add(c, f32x4.sub(v128.load(next, 32), v128.load(last, 32)));
      d = f32x4.add(d, f32x4.sub(v128.load(next, 48), v128.load(last, 48)));
      to += stride;
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
      v128.store(out + x + <usize>y * stride, boxed(sum, before, next, edges, weight));
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

import { code, uniform } from './coverage';
import { fourRows, highHalves, highPairs, lowHalves, lowPairs, toFourRows } from './rows';

// @ts-ignore: decorator
@inline
function least(a: i32, b: i32): i32 {
  return a < b ? a : b;
}

// @ts-ignore: decorator
@inline
function meanAt(row: usize, x: i32, width: i32, radius: i32): f32 {
  const first = max(x - radius, 0);
  const last = least(x + radius, width - 1);
  let sum: f32 = 0;
  for (let at = first; at <= last; at++) sum += load<f32>(row + (<usize>at << 2));
  return sum / <f32>(last - first + 1);
}

/** Values on a grid whose step is the last place of `grid`: sums of them are exact. 0 leaves them as they are. */
// @ts-ignore: decorator
@inline
function onGrid(values: v128, grid: v128): v128 {
  return f32x4.sub(f32x4.add(values, grid), grid);
}

/** Mean of a window along rows, cut off at the ends: running sums of four rows at once, and of what rows are left one by one. */
export function meanRows(plane: usize, out: usize, width: i32, height: i32, radius: i32, grid: f32): void {
  const stride = <usize>width << 2;
  let y = 0;
  for (; y + 4 <= height; y += 4) meanFourRows(plane + <usize>y * stride, out + <usize>y * stride, stride, width, radius, grid);
  for (; y < height; y++) {
    const row = plane + <usize>y * stride;
    const to = out + <usize>y * stride;
    let sum: f64 = 0;
    for (let x = 0; x < least(radius, width); x++) sum += load<f32>(row + (<usize>x << 2));
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum += load<f32>(row + (<usize>(x + radius) << 2));
      if (x - radius - 1 >= 0) sum -= load<f32>(row + (<usize>(x - radius - 1) << 2));
      const count = least(x + radius, width - 1) - max(x - radius, 0) + 1;
      store<f32>(to + (<usize>x << 2), (<f32>(sum / <f64>count) + grid) - grid);
    }
  }
}

/** Column by column at the ends, where windows are cut off, and four columns at a time between. */
function meanFourRows(row: usize, out: usize, stride: usize, width: i32, radius: i32, grid: f32): void {
  const steps = f32x4.splat(grid);
  let sum = f32x4.splat(0);
  for (let x = 0; x < least(radius, width); x++) sum = f32x4.add(sum, onGrid(fourRows(row + (<usize>x << 2), stride), steps));
  let x = 0;
  for (; x < least(radius + 1, width); x++) sum = meanColumn(sum, row, out, stride, x, width, radius, steps);
  const share = f32x4.splat(1 / (2 * <f32>radius + 1));
  for (; x + 4 + radius <= width; x += 4) {
    const enters = row + (<usize>(x + radius) << 2);
    const leaves = row + (<usize>(x - radius - 1) << 2);
    // What comes and what goes, by rows, turned over: sums run over columns, and take in what comes first, as they do at the ends.
    const a = onGrid(v128.load(enters), steps);
    const b = onGrid(v128.load(enters + stride), steps);
    const c = onGrid(v128.load(enters + 2 * stride), steps);
    const d = onGrid(v128.load(enters + 3 * stride), steps);
    const e = onGrid(v128.load(leaves), steps);
    const f = onGrid(v128.load(leaves + stride), steps);
    const g = onGrid(v128.load(leaves + 2 * stride), steps);
    const h = onGrid(v128.load(leaves + 3 * stride), steps);
    const ab = lowPairs(a, b);
    const cd = lowPairs(c, d);
    const ef = lowPairs(e, f);
    const gh = lowPairs(g, h);
    const first = f32x4.sub(f32x4.add(sum, lowHalves(ab, cd)), lowHalves(ef, gh));
    const second = f32x4.sub(f32x4.add(first, highHalves(ab, cd)), highHalves(ef, gh));
    const abHigh = highPairs(a, b);
    const cdHigh = highPairs(c, d);
    const efHigh = highPairs(e, f);
    const ghHigh = highPairs(g, h);
    const third = f32x4.sub(f32x4.add(second, lowHalves(abHigh, cdHigh)), lowHalves(efHigh, ghHigh));
    sum = f32x4.sub(f32x4.add(third, highHalves(abHigh, cdHigh)), highHalves(efHigh, ghHigh));
    const low = lowPairs(first, second);
    const high = lowPairs(third, sum);
    const lowNext = highPairs(first, second);
    const highNext = highPairs(third, sum);
    const to = out + (<usize>x << 2);
    v128.store(to, onGrid(f32x4.mul(lowHalves(low, high), share), steps));
    v128.store(to + stride, onGrid(f32x4.mul(highHalves(low, high), share), steps));
    v128.store(to + 2 * stride, onGrid(f32x4.mul(lowHalves(lowNext, highNext), share), steps));
    v128.store(to + 3 * stride, onGrid(f32x4.mul(highHalves(lowNext, highNext), share), steps));
  }
  for (; x < width; x++) sum = meanColumn(sum, row, out, stride, x, width, radius, steps);
}

/** Moves a sum of four rows on to a column, whose means are written. */
// @ts-ignore: decorator
@inline
function meanColumn(before: v128, row: usize, out: usize, stride: usize, x: i32, width: i32, radius: i32, steps: v128): v128 {
  let sum = before;
  if (x + radius < width) sum = f32x4.add(sum, onGrid(fourRows(row + (<usize>(x + radius) << 2), stride), steps));
  if (x - radius - 1 >= 0) sum = f32x4.sub(sum, onGrid(fourRows(row + (<usize>(x - radius - 1) << 2), stride), steps));
  const count = least(x + radius, width - 1) - max(x - radius, 0) + 1;
  toFourRows(out + (<usize>x << 2), stride, onGrid(f32x4.mul(sum, f32x4.splat(1 / <f32>count)), steps));
  return sum;
}

/** The same along columns: sixteen at a time, whose sums do not wait for each other, then four. `width` is a multiple of 4. */
export function meanColumns(plane: usize, out: usize, width: i32, height: i32, radius: i32): void {
  const stride = <usize>width << 2;
  let x: usize = 0;
  for (; x + 64 <= stride; x += 64) {
    const column = plane + x;
    let a = f32x4.splat(0);
    let b = a;
    let c = a;
    let d = a;
    for (let y = 0; y < least(radius, height); y++) {
      const at = column + <usize>y * stride;
      a = f32x4.add(a, v128.load(at));
      b = f32x4.add(b, v128.load(at, 16));
      c = f32x4.add(c, v128.load(at, 32));
      d = f32x4.add(d, v128.load(at, 48));
    }
    for (let y = 0; y < height; y++) {
      if (y + radius < height) {
        const at = column + <usize>(y + radius) * stride;
        a = f32x4.add(a, v128.load(at));
        b = f32x4.add(b, v128.load(at, 16));
        c = f32x4.add(c, v128.load(at, 32));
        d = f32x4.add(d, v128.load(at, 48));
      }
      if (y - radius - 1 >= 0) {
        const at = column + <usize>(y - radius - 1) * stride;
        a = f32x4.sub(a, v128.load(at));
        b = f32x4.sub(b, v128.load(at, 16));
        c = f32x4.sub(c, v128.load(at, 32));
        d = f32x4.sub(d, v128.load(at, 48));
      }
      const share = f32x4.splat(1 / <f32>(least(y + radius, height - 1) - max(y - radius, 0) + 1));
      const to = out + x + <usize>y * stride;
      v128.store(to, f32x4.mul(a, share));
      v128.store(to, f32x4.mul(b, share), 16);
      v128.store(to, f32x4.mul(c, share), 32);
      v128.store(to, f32x4.mul(d, share), 48);
    }
  }
  for (; x < stride; x += 16) {
    const column = plane + x;
    let sum = f32x4.splat(0);
    for (let y = 0; y < least(radius, height); y++) sum = f32x4.add(sum, v128.load(column + <usize>y * stride));
    for (let y = 0; y < height; y++) {
      if (y + radius < height) sum = f32x4.add(sum, v128.load(column + <usize>(y + radius) * stride));
      if (y - radius - 1 >= 0) sum = f32x4.sub(sum, v128.load(column + <usize>(y - radius - 1) * stride));
      const count = least(y + radius, height - 1) - max(y - radius, 0) + 1;
      v128.store(out + x + <usize>y * stride, f32x4.mul(sum, f32x4.splat(1 / <f32>count)));
    }
  }
}

/** Product of two planes. */
export function multiply(a: usize, b: usize, out: usize, n: i32): void {
  let i: usize = 0;
  do {
    v128.store(out + i, f32x4.mul(v128.load(a + i), v128.load(b + i)));
    i += 16;
  } while (i < <usize>n << 2);
}

/** Slope and offset of the line that explains the mask by the guide, from their means and the means of their products.
 * `guideSquare` is overwritten with the slope, `product` with the offset. */
export function fitLine(guide: usize, mask: usize, guideSquare: usize, product: usize, epsilon: f32, n: i32): void {
  const eps = f32x4.splat(epsilon);
  const zero = f32x4.splat(0);
  let i: usize = 0;
  do {
    const g = v128.load(guide + i);
    const m = v128.load(mask + i);
    const variance = f32x4.pmax(zero, f32x4.sub(v128.load(guideSquare + i), f32x4.mul(g, g)));
    const covariance = f32x4.sub(v128.load(product + i), f32x4.mul(g, m));
    const slope = f32x4.div(covariance, f32x4.add(variance, eps));
    v128.store(guideSquare + i, slope);
    v128.store(product + i, f32x4.sub(m, f32x4.mul(slope, g)));
    i += 16;
  } while (i < <usize>n << 2);
}

/** Takes the means along one more row into sums of the last rows, in the place of those along a row that leaves. Edges first, then
 * sixteen samples at a time; the last vectors may be laid once more, which changes nothing.
 * @param means - Along the row that leaves; overwritten. */
function slideRow(row: usize, means: usize, sums: usize, width: i32, radius: i32): void {
  const share = f32x4.splat(1 / (2 * <f32>radius + 1));
  const taps = <usize>(2 * radius) << 2;
  for (let x = 0; x < radius; x++) {
    slideOne(<usize>x << 2, meanAt(row, x, width, radius), means, sums);
    const end = width - 1 - x;
    slideOne(<usize>end << 2, meanAt(row, end, width, radius), means, sums);
  }
  const inner = width - radius - 16;
  let x = radius;
  do {
    if (x > inner) x = inner;
    const first = row + (<usize>(x - radius) << 2);
    let a = v128.load(first);
    let b = v128.load(first, 16);
    let c = v128.load(first, 32);
    let d = v128.load(first, 48);
    let tap: usize = 4;
    do {
      a = f32x4.add(a, v128.load(first + tap));
      b = f32x4.add(b, v128.load(first + tap, 16));
      c = f32x4.add(c, v128.load(first + tap, 32));
      d = f32x4.add(d, v128.load(first + tap, 48));
      tap += 4;
    } while (tap <= taps);
    const at = <usize>x << 2;
    slideFour(at, f32x4.mul(a, share), means, sums);
    slideFour(at + 16, f32x4.mul(b, share), means, sums);
    slideFour(at + 32, f32x4.mul(c, share), means, sums);
    slideFour(at + 48, f32x4.mul(d, share), means, sums);
    x += 16;
  } while (x < width - radius);
}

// @ts-ignore: decorator
@inline
function slideOne(at: usize, mean: f32, means: usize, sums: usize): void {
  store<f32>(sums + at, load<f32>(sums + at) + (mean - load<f32>(means + at)));
  store<f32>(means + at, mean);
}

// @ts-ignore: decorator
@inline
function slideFour(at: usize, mean: v128, means: usize, sums: usize): void {
  v128.store(sums + at, f32x4.add(v128.load(sums + at), f32x4.sub(mean, v128.load(means + at))));
  v128.store(means + at, mean);
}

// @ts-ignore: decorator
@inline
function takeRow(sums: usize, row: usize, stride: usize): void {
  let i: usize = 0;
  do {
    v128.store(sums + i, f32x4.sub(v128.load(sums + i), v128.load(row + i)));
    i += 16;
  } while (i < stride);
}

/** Lines that explain a mask by a guide, averaged: all of the above for narrow windows, row after row, so that what is in
 * between never leaves the nearest cache. `width` is a multiple of 4 and at least twice the radius and 16.
 * @param spare - 6 (2 radius + 2) + 4 rows. */
export function fitNarrow(
  guide: usize, mask: usize, slope: usize, offset: usize, width: i32, height: i32, radius: i32, epsilon: f32, spare: usize,
): void {
  const stride = <usize>width << 2;
  const rows = 2 * radius + 1;
  // Means along the last rows of guide, mask, their product, the guide squared, slope, offset; then their sums; then rows in the making.
  const ring = <usize>rows * stride;
  const sums = spare + 6 * ring;
  const line = sums + 6 * stride;
  memory.fill(spare, 0, 6 * (ring + stride));
  const eps = f32x4.splat(epsilon);
  const zero = f32x4.splat(0);
  for (let t = 0; t < height + 2 * radius; t++) {
    const slot = spare + <usize>(t % rows) * stride;
    if (t >= height) for (let k: usize = 0; k < 4; k++) takeRow(sums + k * stride, slot + k * ring, stride);
    else {
      const g = guide + <usize>t * stride;
      const m = mask + <usize>t * stride;
      let i: usize = 0;
      do {
        const tone = v128.load(g + i);
        v128.store(line + i, f32x4.mul(tone, v128.load(m + i)));
        v128.store(line + stride + i, f32x4.mul(tone, tone));
        i += 16;
      } while (i < stride);
      slideRow(g, slot, sums, width, radius);
      slideRow(m, slot + ring, sums + stride, width, radius);
      slideRow(line, slot + 2 * ring, sums + 2 * stride, width, radius);
      slideRow(line + stride, slot + 3 * ring, sums + 3 * stride, width, radius);
    }
    const y = t - radius;
    if (y < 0) continue;
    const lines = spare + 4 * ring + <usize>(y % rows) * stride;
    const lineSums = sums + 4 * stride;
    if (y >= height) for (let k: usize = 0; k < 2; k++) takeRow(lineSums + k * stride, lines + k * ring, stride);
    else {
      const share = f32x4.splat(1 / <f32>(least(y + radius, height - 1) - max(y - radius, 0) + 1));
      const fit = line + 2 * stride;
      let i: usize = 0;
      do {
        const g = f32x4.mul(v128.load(sums + i), share);
        const m = f32x4.mul(v128.load(sums + stride + i), share);
        const product = f32x4.mul(v128.load(sums + 2 * stride + i), share);
        const square = f32x4.mul(v128.load(sums + 3 * stride + i), share);
        const variance = f32x4.pmax(zero, f32x4.sub(square, f32x4.mul(g, g)));
        const rise = f32x4.div(f32x4.sub(product, f32x4.mul(g, m)), f32x4.add(variance, eps));
        v128.store(fit + i, rise);
        v128.store(fit + stride + i, f32x4.sub(m, f32x4.mul(rise, g)));
        i += 16;
      } while (i < stride);
      slideRow(fit, lines, lineSums, width, radius);
      slideRow(fit + stride, lines + ring, lineSums + stride, width, radius);
    }
    const z = y - radius;
    if (z < 0) continue;
    const share = f32x4.splat(1 / <f32>(least(z + radius, height - 1) - max(z - radius, 0) + 1));
    let i: usize = 0;
    do {
      v128.store(slope + <usize>z * stride + i, f32x4.mul(v128.load(lineSums + i), share));
      v128.store(offset + <usize>z * stride + i, f32x4.mul(v128.load(lineSums + stride + i), share));
      i += 16;
    } while (i < stride);
  }
}

/** The mask that lines make of a guide of 16-bit samples, cut to 0..1 and narrowed: a tile of 128 x 128. Answers the one value that
 * all have, or -1.
 * @param stride - Bytes from row to row of slopes and offsets.
 * @param guide - Samples, or 0 for `constant` throughout. */
export function applyLine(slope: usize, offset: usize, stride: usize, guide: usize, constant: f32, out: usize): i32 {
  const unit = f32x4.splat(1.0 / 65535.0);
  const same = f32x4.mul(f32x4.splat(constant), unit);
  let y: usize = 0;
  do {
    const a = slope + y * stride;
    const b = offset + y * stride;
    let x: usize = 0;
    do {
      let low = same;
      let high = same;
      if (guide != 0) {
        const eight = v128.load(guide + (y << 8) + (x << 1));
        low = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(eight)), unit);
        high = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(eight)), unit);
      }
      const at = x << 2;
      low = code(f32x4.add(f32x4.mul(v128.load(a + at), low), v128.load(b + at)));
      high = code(f32x4.add(f32x4.mul(v128.load(a + at, 16), high), v128.load(b + at, 16)));
      v128.store(out + (y << 8) + (x << 1), i16x8.narrow_i32x4_u(low, high));
      x += 8;
    } while (x < 128);
    y++;
  } while (y < 128);
  return uniform(out, 128 * 128);
}

/** Mean of a square window around every sample. `out` may be `plane`. */
export function windowMeans(plane: usize, out: usize, spare: usize, width: i32, height: i32, radius: i32, grid: f32): void {
  meanRows(plane, spare, width, height, radius, grid);
  meanColumns(spare, out, width, height, radius);
}

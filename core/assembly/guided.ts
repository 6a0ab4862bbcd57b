import { fourRows, toFourRows } from './rows';

// @ts-ignore: decorator
@inline
function least(a: i32, b: i32): i32 {
  return a < b ? a : b;
}

/** Mean of a window along rows, cut off at the ends: running sums of four rows at once, and of what rows are left one by one. */
export function meanRows(plane: usize, out: usize, width: i32, height: i32, radius: i32): void {
  const stride = <usize>width << 2;
  let y = 0;
  for (; y + 4 <= height; y += 4) {
    const row = plane + <usize>y * stride;
    const to = out + <usize>y * stride;
    let sum = f32x4.splat(0);
    for (let x = 0; x < least(radius, width); x++) sum = f32x4.add(sum, fourRows(row + (<usize>x << 2), stride));
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum = f32x4.add(sum, fourRows(row + (<usize>(x + radius) << 2), stride));
      if (x - radius - 1 >= 0) sum = f32x4.sub(sum, fourRows(row + (<usize>(x - radius - 1) << 2), stride));
      const count = least(x + radius, width - 1) - max(x - radius, 0) + 1;
      toFourRows(to + (<usize>x << 2), stride, f32x4.mul(sum, f32x4.splat(1 / <f32>count)));
    }
  }
  for (; y < height; y++) {
    const row = plane + <usize>y * stride;
    const to = out + <usize>y * stride;
    let sum: f64 = 0;
    for (let x = 0; x < least(radius, width); x++) sum += load<f32>(row + (<usize>x << 2));
    for (let x = 0; x < width; x++) {
      if (x + radius < width) sum += load<f32>(row + (<usize>(x + radius) << 2));
      if (x - radius - 1 >= 0) sum -= load<f32>(row + (<usize>(x - radius - 1) << 2));
      const count = least(x + radius, width - 1) - max(x - radius, 0) + 1;
      store<f32>(to + (<usize>x << 2), <f32>(sum / <f64>count));
    }
  }
}

/** The same along columns, four at a time. `width` is a multiple of 4. */
export function meanColumns(plane: usize, out: usize, width: i32, height: i32, radius: i32): void {
  const stride = <usize>width << 2;
  for (let x: usize = 0; x < stride; x += 16) {
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
  for (let i: usize = 0; i < <usize>n << 2; i += 16) v128.store(out + i, f32x4.mul(v128.load(a + i), v128.load(b + i)));
}

/** Slope and offset of the line that explains the mask by the guide, from their means and the means of their products.
 * `guideSquare` is overwritten with the slope, `product` with the offset. */
export function fitLine(guide: usize, mask: usize, guideSquare: usize, product: usize, epsilon: f32, n: i32): void {
  const eps = f32x4.splat(epsilon);
  const zero = f32x4.splat(0);
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const g = v128.load(guide + i);
    const m = v128.load(mask + i);
    const variance = f32x4.pmax(zero, f32x4.sub(v128.load(guideSquare + i), f32x4.mul(g, g)));
    const covariance = f32x4.sub(v128.load(product + i), f32x4.mul(g, m));
    const slope = f32x4.div(covariance, f32x4.add(variance, eps));
    v128.store(guideSquare + i, slope);
    v128.store(product + i, f32x4.sub(m, f32x4.mul(slope, g)));
  }
}

/** The mask that a line makes of the guide: slope times guide plus offset, cut to 0..1. */
export function applyLine(slope: usize, offset: usize, guide: usize, out: usize, n: i32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let i: usize = 0; i < <usize>n << 2; i += 16) {
    const value = f32x4.add(f32x4.mul(v128.load(slope + i), v128.load(guide + i)), v128.load(offset + i));
    v128.store(out + i, f32x4.pmin(one, f32x4.pmax(zero, value)));
  }
}

/** 16-bit samples to floats 0..1. */
export function widen(samples: usize, out: usize, n: i32): void {
  const unit = f32x4.splat(1.0 / 65535.0);
  let i: usize = 0;
  do {
    const v = v128.load(samples + (i << 1));
    v128.store(out + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v)), unit));
    v128.store(out + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(v)), unit), 16);
    i += 8;
  } while (i < <usize>n);
}

/** 2^23: added to a float of 0 to 65,535 it leaves the nearest whole number in the low bits. */
const MAGIC: f32 = 8388608;

/** 0..1 as whole numbers 0..65,535, rounded and cut. */
// @ts-ignore: decorator
@inline
export function code(value: v128): v128 {
  const magic = f32x4.splat(MAGIC);
  const most = f32x4.splat(65535);
  const cut = f32x4.pmin(most, f32x4.pmax(f32x4.splat(0), f32x4.mul(value, most)));
  return i32x4.sub(f32x4.add(cut, magic), magic);
}

/** Rows of 16-bit samples to rows of floats 0..1, of any length and at any place.
 * @param stride - Bytes from row to row; likewise `outStride`. */
export function widenRows(samples: usize, stride: usize, out: usize, outStride: usize, width: i32, rows: i32): void {
  const unit = f32x4.splat(1.0 / 65535.0);
  for (let y = 0; y < rows; y++) {
    const from = samples + <usize>y * stride;
    const to = out + <usize>y * outStride;
    let x = 0;
    for (; x + 8 <= width; x += 8) {
      const v = v128.load(from + (<usize>x << 1));
      const at = to + (<usize>x << 2);
      v128.store(at, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v)), unit));
      v128.store(at, f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(v)), unit), 16);
    }
    for (; x < width; x++) store<f32>(to + (<usize>x << 2), <f32>load<u16>(from + (<usize>x << 1)) * (1.0 / 65535.0));
  }
}

/** Floats to 16-bit samples, rounded and cut. Answers the one value that all have, or -1. */
export function narrow(values: usize, out: usize, n: i32): i32 {
  let i: usize = 0;
  do {
    const lo = code(v128.load(values + (i << 2)));
    const hi = code(v128.load(values + (i << 2), 16));
    v128.store(out + (i << 1), i16x8.narrow_i32x4_u(lo, hi));
    i += 8;
  } while (i < <usize>n);
  return uniform(out, n);
}

// @ts-ignore: decorator
@inline
function joined(mode: i32, m: v128, p: v128, h: v128): v128 {
  const one = f32x4.splat(1);
  if (mode == 0) return f32x4.add(p, f32x4.mul(m, f32x4.sub(one, h)));
  if (mode == 1) return f32x4.mul(m, f32x4.sub(one, p));
  if (mode == 2) return f32x4.mul(m, p);
  const both = f32x4.mul(m, p);
  return f32x4.sub(f32x4.add(m, p), f32x4.add(both, both));
}

// @ts-ignore: decorator
@inline
function joinSamplesBy(mode: i32, mask: usize, part: usize, alpha: usize, out: usize, n: i32): void {
  const unit = f32x4.splat(1.0 / 65535.0);
  let i: usize = 0;
  do {
    const ml = f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(mask + (i << 1))), unit);
    const mh = f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(mask + (i << 1), 8)), unit);
    const lo = code(joined(mode, ml, v128.load(part + (i << 2)), v128.load(alpha + (i << 2))));
    const hi = code(joined(mode, mh, v128.load(part + (i << 2), 16), v128.load(alpha + (i << 2), 16)));
    v128.store(out + (i << 1), i16x8.narrow_i32x4_u(lo, hi));
    i += 8;
  } while (i < <usize>n);
}

/** Joins a part to a mask of 16-bit samples and rounds at once: widening, joining and narrowing in one go. Answers the one
 * value that all have, or -1. `out` may be `mask`. */
export function joinSamples(mode: i32, mask: usize, part: usize, alpha: usize, out: usize, n: i32): i32 {
  if (mode == 0) joinSamplesBy(0, mask, part, alpha, out, n);
  else if (mode == 1) joinSamplesBy(1, mask, part, alpha, out, n);
  else if (mode == 2) joinSamplesBy(2, mask, part, alpha, out, n);
  else joinSamplesBy(3, mask, part, alpha, out, n);
  return uniform(out, n);
}

/** The one value that all samples have, or -1. */
export function uniform(samples: usize, n: i32): i32 {
  const first = load<u16>(samples);
  const all = i16x8.splat(first);
  for (let i: usize = 0; i < <usize>n << 1; i += 16) {
    if (v128.any_true(v128.xor(v128.load(samples + i), all))) return -1;
  }
  return first;
}

export function invert(plane: usize, n: i32): void {
  const one = f32x4.splat(1);
  let i: usize = 0;
  do {
    v128.store(plane + i, f32x4.sub(one, v128.load(plane + i)));
    i += 16;
  } while (i < <usize>n << 2);
}

/** Each sample becomes the larger of both; `n` and the places are any. */
export function maxInto(out: usize, other: usize, n: i32): void {
  const end = <usize>n << 2;
  let i: usize = 0;
  for (; i + 16 <= end; i += 16) v128.store(out + i, f32x4.pmax(v128.load(out + i), v128.load(other + i)));
  for (; i < end; i += 4) store<f32>(out + i, max<f32>(load<f32>(out + i), load<f32>(other + i)));
}

// @ts-ignore: decorator
@inline
function joinBy(mode: i32, mask: usize, part: usize, alpha: usize, n: i32): void {
  let i: usize = 0;
  do {
    v128.store(mask + i, joined(mode, v128.load(mask + i), v128.load(part + i), v128.load(alpha + i)));
    i += 16;
  } while (i < <usize>n << 2);
}

/** Joins a part to the mask so far: 0 add, 1 subtract, 2 intersect, 3 exclude. */
export function join(mode: i32, mask: usize, part: usize, alpha: usize, n: i32): void {
  if (mode == 0) joinBy(0, mask, part, alpha, n);
  else if (mode == 1) joinBy(1, mask, part, alpha, n);
  else if (mode == 2) joinBy(2, mask, part, alpha, n);
  else joinBy(3, mask, part, alpha, n);
}

// @ts-ignore: decorator
@inline
function joinFromSamplesBy(mode: i32, mask: usize, part: usize, n: i32): void {
  const unit = f32x4.splat(1.0 / 65535.0);
  let i: usize = 0;
  do {
    const v = v128.load(part + (i << 1));
    const low = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v)), unit);
    const high = f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(v)), unit);
    const at = mask + (i << 2);
    v128.store(at, joined(mode, v128.load(at), low, low));
    v128.store(at, joined(mode, v128.load(at, 16), high, high), 16);
    i += 8;
  } while (i < <usize>n);
}

/** Joins a part of 16-bit samples, which decides as much as it covers. */
export function joinFromSamples(mode: i32, mask: usize, part: usize, n: i32): void {
  if (mode == 0) joinFromSamplesBy(0, mask, part, n);
  else if (mode == 1) joinFromSamplesBy(1, mask, part, n);
  else if (mode == 2) joinFromSamplesBy(2, mask, part, n);
  else joinFromSamplesBy(3, mask, part, n);
}

// @ts-ignore: decorator
@inline
function smooth(t: v128): v128 {
  const cut = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), t));
  return f32x4.mul(f32x4.mul(cut, cut), f32x4.sub(f32x4.splat(3), f32x4.add(cut, cut)));
}

/** How far inside a covered area places lie, times `amount`; over the means.
 * @param begins - Share of the surroundings that is covered where a place begins to fill, and 1 over how much more fills it. */
export function findCore(mean: usize, square: usize, amount: f32, from: f32, begins: f32, steep: f32, n: i32): void {
  const zero = f32x4.splat(0);
  const least = f32x4.splat(from / 3);
  let i: usize = 0;
  do {
    const m = v128.load(mean + i);
    const q = v128.load(square + i);
    const share = f32x4.sub(f32x4.div(f32x4.mul(m, m), q), f32x4.splat(begins));
    const inside = smooth(f32x4.mul(share, f32x4.splat(steep)));
    const area = smooth(f32x4.sub(f32x4.mul(m, f32x4.splat(<f32>1.5 / from)), f32x4.splat(0.5)));
    const isNone = v128.or(f32x4.le(q, zero), f32x4.le(m, least));
    v128.store(mean + i, v128.andnot(f32x4.mul(f32x4.mul(inside, area), f32x4.splat(amount)), isNone));
    i += 16;
  } while (i < <usize>n << 2);
}

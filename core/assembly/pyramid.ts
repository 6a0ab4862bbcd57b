const TILE: usize = 128;
const HALF: usize = 64;

/** Halves a tile plane into one quarter of the coarser tile's plane: the rounded mean of 2 x 2. */
export function halve(fine: usize, out: usize, quarterX: i32, quarterY: i32): void {
  const two = i32x4.splat(2);
  for (let y: usize = 0; y < HALF; y++) {
    let from = fine + 2 * y * TILE * 2;
    let to = out + ((<usize>quarterY * HALF + y) * TILE + <usize>quarterX * HALF) * 2;
    let x: usize = 0;
    do {
      let lo = i32x4.add(i32x4.extadd_pairwise_i16x8_u(v128.load(from)), i32x4.extadd_pairwise_i16x8_u(v128.load(from, 256)));
      let hi = i32x4.add(
        i32x4.extadd_pairwise_i16x8_u(v128.load(from, 16)),
        i32x4.extadd_pairwise_i16x8_u(v128.load(from, 272)),
      );
      lo = i32x4.shr_u(i32x4.add(lo, two), 2);
      hi = i32x4.shr_u(i32x4.add(hi, two), 2);
      v128.store(to, i16x8.narrow_i32x4_u(lo, hi));
      from += 32;
      to += 16;
      x += 8;
    } while (x < HALF);
  }
}

/** Spreads a block of interleaved 16-bit RGB over three tile planes, eight pixels at a time: each output takes its samples
 * from three vectors, with zeros between them.
 * @param stride - Bytes from one row of the block to the next. */
export function spread16(block: usize, stride: i32, red: usize, green: usize, blue: usize, width: i32, rows: i32): void {
  const red0 = i8x16(0, 1, 6, 7, 12, 13, -128, -128, -128, -128, -128, -128, -128, -128, -128, -128);
  const red1 = i8x16(-128, -128, -128, -128, -128, -128, 2, 3, 8, 9, 14, 15, -128, -128, -128, -128);
  const red2 = i8x16(-128, -128, -128, -128, -128, -128, -128, -128, -128, -128, -128, -128, 4, 5, 10, 11);
  const green0 = i8x16(2, 3, 8, 9, 14, 15, -128, -128, -128, -128, -128, -128, -128, -128, -128, -128);
  const green1 = i8x16(-128, -128, -128, -128, -128, -128, 4, 5, 10, 11, -128, -128, -128, -128, -128, -128);
  const green2 = i8x16(-128, -128, -128, -128, -128, -128, -128, -128, -128, -128, 0, 1, 6, 7, 12, 13);
  const blue0 = i8x16(4, 5, 10, 11, -128, -128, -128, -128, -128, -128, -128, -128, -128, -128, -128, -128);
  const blue1 = i8x16(-128, -128, -128, -128, 0, 1, 6, 7, 12, 13, -128, -128, -128, -128, -128, -128);
  const blue2 = i8x16(-128, -128, -128, -128, -128, -128, -128, -128, -128, -128, 2, 3, 8, 9, 14, 15);
  const eights = <usize>(width & ~7) << 1;
  for (let y: usize = 0; y < <usize>rows; y++) {
    let from = block + y * <usize>stride;
    const to = y * TILE * 2;
    let i: usize = to;
    if (eights > 0) do {
      const a = v128.load(from);
      const b = v128.load(from, 16);
      const c = v128.load(from, 32);
      v128.store(red + i, v128.or(v128.or(v128.swizzle(a, red0), v128.swizzle(b, red1)), v128.swizzle(c, red2)));
      v128.store(green + i, v128.or(v128.or(v128.swizzle(a, green0), v128.swizzle(b, green1)), v128.swizzle(c, green2)));
      v128.store(blue + i, v128.or(v128.or(v128.swizzle(a, blue0), v128.swizzle(b, blue1)), v128.swizzle(c, blue2)));
      from += 48;
      i += 16;
    } while (i < to + eights);
    for (; i < to + (<usize>width << 1); i += 2) {
      store<u16>(red + i, load<u16>(from));
      store<u16>(green + i, load<u16>(from, 2));
      store<u16>(blue + i, load<u16>(from, 4));
      from += 6;
    }
  }
}

/** The same from 8 bits, each value spread to 257 times itself. */
export function spread8(block: usize, stride: i32, red: usize, green: usize, blue: usize, width: i32, rows: i32): void {
  for (let y: usize = 0; y < <usize>rows; y++) {
    let from = block + y * <usize>stride;
    const to = y * TILE * 2;
    for (let i: usize = to; i < to + ((<usize>width) << 1); i += 2) {
      store<u16>(red + i, <u16>load<u8>(from) * 257);
      store<u16>(green + i, <u16>load<u8>(from, 1) * 257);
      store<u16>(blue + i, <u16>load<u8>(from, 2) * 257);
      from += 3;
    }
  }
}

/** Three tile planes as interleaved RGB, row after row, eight pixels at a time: each output takes the samples of one plane
 * at their places and zeros between them. */
export function interleave(red: usize, green: usize, blue: usize, out: usize, n: i32): void {
  const red0 = i8x16(0, 1, -128, -128, -128, -128, 2, 3, -128, -128, -128, -128, 4, 5, -128, -128);
  const green0 = i8x16(-128, -128, 0, 1, -128, -128, -128, -128, 2, 3, -128, -128, -128, -128, 4, 5);
  const blue0 = i8x16(-128, -128, -128, -128, 0, 1, -128, -128, -128, -128, 2, 3, -128, -128, -128, -128);
  const red1 = i8x16(-128, -128, 6, 7, -128, -128, -128, -128, 8, 9, -128, -128, -128, -128, 10, 11);
  const green1 = i8x16(-128, -128, -128, -128, 6, 7, -128, -128, -128, -128, 8, 9, -128, -128, -128, -128);
  const blue1 = i8x16(4, 5, -128, -128, -128, -128, 6, 7, -128, -128, -128, -128, 8, 9, -128, -128);
  const red2 = i8x16(-128, -128, -128, -128, 12, 13, -128, -128, -128, -128, 14, 15, -128, -128, -128, -128);
  const green2 = i8x16(10, 11, -128, -128, -128, -128, 12, 13, -128, -128, -128, -128, 14, 15, -128, -128);
  const blue2 = i8x16(-128, -128, 10, 11, -128, -128, -128, -128, 12, 13, -128, -128, -128, -128, 14, 15);
  let to = out;
  const end = <usize>n << 1;
  let i: usize = 0;
  do {
    const r = v128.load(red + i);
    const g = v128.load(green + i);
    const b = v128.load(blue + i);
    v128.store(to, v128.or(v128.or(v128.swizzle(r, red0), v128.swizzle(g, green0)), v128.swizzle(b, blue0)));
    v128.store(to, v128.or(v128.or(v128.swizzle(r, red1), v128.swizzle(g, green1)), v128.swizzle(b, blue1)), 16);
    v128.store(to, v128.or(v128.or(v128.swizzle(r, red2), v128.swizzle(g, green2)), v128.swizzle(b, blue2)), 32);
    to += 48;
    i += 16;
  } while (i < end);
}

/** Four planes as interleaved RGBA, eight pixels at a time.
 * @param alpha - A plane, or 0 where `value` is what it has throughout.
 * @param clears - Whether there is no colour where alpha is 0. */
export function interleaveCovered(
  red: usize, green: usize, blue: usize, alpha: usize, value: i32, clears: i32, out: usize, n: i32,
): void {
  const none = i16x8.splat(0);
  const always = i32x4.splat(clears != 0 ? 0 : -1);
  const end = <usize>n << 1;
  let to = out;
  let i: usize = 0;
  do {
    const a = alpha == 0 ? i16x8.splat(<i16>value) : v128.load(alpha + i);
    const kept = v128.or(always, i16x8.ne(a, none));
    const r = v128.and(kept, v128.load(red + i));
    const g = v128.and(kept, v128.load(green + i));
    const b = v128.and(kept, v128.load(blue + i));
    const rgLow = v128.shuffle<i16>(r, g, 0, 8, 1, 9, 2, 10, 3, 11);
    const rgHigh = v128.shuffle<i16>(r, g, 4, 12, 5, 13, 6, 14, 7, 15);
    const baLow = v128.shuffle<i16>(b, a, 0, 8, 1, 9, 2, 10, 3, 11);
    const baHigh = v128.shuffle<i16>(b, a, 4, 12, 5, 13, 6, 14, 7, 15);
    v128.store(to, v128.shuffle<i32>(rgLow, baLow, 0, 4, 1, 5));
    v128.store(to, v128.shuffle<i32>(rgLow, baLow, 2, 6, 3, 7), 16);
    v128.store(to, v128.shuffle<i32>(rgHigh, baHigh, 0, 4, 1, 5), 32);
    v128.store(to, v128.shuffle<i32>(rgHigh, baHigh, 2, 6, 3, 7), 48);
    to += 64;
    i += 16;
  } while (i < end);
}

const UNIT: f32 = 1.0 / 65535.0;
const QUARTER: f32 = 0.25;

// @ts-ignore: decorator
@inline
function wide(at: usize): v128 {
  return f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(at)), f32x4.splat(UNIT));
}

/** The mean of each two by two of eight columns of two rows, once these are added. */
// @ts-ignore: decorator
@inline
function meanOfTwo(a: v128, b: v128): v128 {
  const left = v128.shuffle<f32>(a, b, 0, 2, 4, 6);
  return f32x4.mul(f32x4.add(left, v128.shuffle<f32>(a, b, 1, 3, 5, 7)), f32x4.splat(QUARTER));
}

// @ts-ignore: decorator
@inline
function halved(at: usize, stride: usize): v128 {
  const below = at + stride;
  return meanOfTwo(f32x4.add(wide(at), wide(below)), f32x4.add(wide(at + 8), wide(below + 8)));
}

// @ts-ignore: decorator
@inline
function single(at: usize): f32 {
  return <f32>load<u16>(at) * UNIT;
}

// @ts-ignore: decorator
@inline
function halvedOne(at: usize, stride: usize): f32 {
  return (single(at) + single(at + stride) + (single(at + 2) + single(at + stride + 2))) * QUARTER;
}

/** Rows of samples as floats at half or a quarter of their size, each the mean of two by two. `width` and `rows` are multiples of two or of
 * four. */
export function shrinkRows(
  samples: usize, stride: usize, out: usize, outStride: usize, width: i32, rows: i32, halvings: i32,
): void {
  const bytes = <usize>width << 1;
  const step = 1 << halvings;
  for (let y = 0; y < rows; y += step) {
    const from = samples + <usize>y * stride;
    const to = out + <usize>(y >> halvings) * outStride;
    let x: usize = 0;
    if (halvings == 1) {
      for (; x + 16 <= bytes; x += 16) v128.store(to + x, halved(from + x, stride));
      for (; x < bytes; x += 4) store<f32>(to + x, halvedOne(from + x, stride));
      continue;
    }
    const lower = from + 2 * stride;
    for (; x + 32 <= bytes; x += 32) {
      const left = f32x4.add(halved(from + x, stride), halved(lower + x, stride));
      const right = f32x4.add(halved(from + x + 16, stride), halved(lower + x + 16, stride));
      v128.store(to + (x >> 1), meanOfTwo(left, right));
    }
    for (; x < bytes; x += 8) {
      const left = halvedOne(from + x, stride) + halvedOne(lower + x, stride);
      const right = halvedOne(from + x + 4, stride) + halvedOne(lower + x + 4, stride);
      store<f32>(to + (x >> 1), (left + right) * QUARTER);
    }
  }
}

const TILE: i32 = 128;
const PHASES: f32 = 1024;
/** Samples less this are signed. */
const HALF: i16 = -32768;
/** Weights downwards count 32,768ths, negated. */
const ONE: f32 = -1.0 / 32768;
/** A float at which the last bit of the fraction is one: adding it rounds. */
const ROUNDING: f32 = 8388608;
const ROUNDING_TWO: f64 = 4503599627370496;

// @ts-ignore: decorator
@inline
function signed(from: usize): v128 {
  return v128.xor(v128.load(from), i16x8.splat(HALF));
}

// @ts-ignore: decorator
@inline
function pairs(upper: v128, lower: v128): v128 {
  return v128.shuffle<i16>(upper, lower, 0, 8, 1, 9, 2, 10, 3, 11);
}

// @ts-ignore: decorator
@inline
function laterPairs(upper: v128, lower: v128): v128 {
  return v128.shuffle<i16>(upper, lower, 4, 12, 5, 13, 6, 14, 7, 15);
}

/** Writes each row of an area beside the next one, sample by sample and signed, as rows are weighed two and two. */
function pairRows(area: usize, side: i32, out: usize): void {
  const stride = <usize>side << 1;
  for (let row = 1; row < side; row++) {
    let at: usize = 0;
    do {
      const upper = signed(area + at), lower = signed(area + stride + at);
      v128.store(out + 2 * at, pairs(upper, lower));
      v128.store(out + 2 * at, laterPairs(upper, lower), 16);
      at += 16;
    } while (at < stride);
    area += stride;
    out += 2 * stride;
  }
}

/** Four parts of what is read of a plane: six rows from a place on are weighed two and two, then their columns.
 * @param from - Where the place lies in paired rows.
 * @param two - Bytes of two of these.
 * @param across, down - Where the weights of the place lie. */
// @ts-ignore: decorator
@inline
function between(from: usize, two: usize, across: usize, down: usize): v128 {
  const later = from + two, last = later + two;
  const d0 = v128.load32_splat(down), d2 = v128.load32_splat(down, 4), d4 = v128.load32_splat(down, 8);
  const low = i32x4.add(
    i32x4.add(i32x4.dot_i16x8_s(v128.load(from), d0), i32x4.dot_i16x8_s(v128.load(later), d2)),
    i32x4.dot_i16x8_s(v128.load(last), d4),
  );
  const high = i32x4.add(
    i32x4.add(i32x4.dot_i16x8_s(v128.load(from, 16), d0), i32x4.dot_i16x8_s(v128.load(later, 16), d2)),
    i32x4.dot_i16x8_s(v128.load(last, 16), d4),
  );
  return f32x4.add(
    f32x4.mul(f32x4.convert_i32x4_s(low), v128.load(across)),
    f32x4.mul(f32x4.convert_i32x4_s(high), v128.load(across, 16)),
  );
}

/** Whole numbers, 0 to 2^52, of two doubles, rounded. */
// @ts-ignore: decorator
@inline
function wholesOfTwo(values: v128): v128 {
  return v128.xor(f64x2.add(values, f64x2.splat(ROUNDING_TWO)), f64x2.splat(ROUNDING_TWO));
}

/** The same as `between`, by a place across and down and its whole part. */
// @ts-ignore: decorator
@inline
function betweenPlaces(area: usize, two: usize, place: v128, whole: v128, across: usize, down: usize): v128 {
  const cells = wholesOfTwo(whole);
  const phases = wholesOfTwo(f64x2.mul(f64x2.sub(place, whole), f64x2.splat(1024)));
  const left = <usize>i64x2.extract_lane(cells, 0);
  const top = <usize>i64x2.extract_lane(cells, 1);
  return between(
    area + (top - 2) * (two >> 1) + ((left - 2) << 2), two,
    across + (<usize>i64x2.extract_lane(phases, 0) << 5),
    down + (<usize>i64x2.extract_lane(phases, 1) << 4),
  );
}

// @ts-ignore: decorator
@inline
function clamped(value: v128, last: v128): v128 {
  return f32x4.pmax(f32x4.splat(2), f32x4.pmin(last, value));
}

/** Whole numbers, 0 to 2^23, of floats, rounded. */
// @ts-ignore: decorator
@inline
function wholes(values: v128): v128 {
  return v128.and(f32x4.add(values, f32x4.splat(ROUNDING)), i32x4.splat(0x7fffff));
}

/** Four samples of four parts each, as eight of 16 bits. */
// @ts-ignore: decorator
@inline
function joined(a: v128, b: v128, c: v128, d: v128): v128 {
  const ab = f32x4.add(v128.shuffle<i32>(a, b, 0, 4, 1, 5), v128.shuffle<i32>(a, b, 2, 6, 3, 7));
  const cd = f32x4.add(v128.shuffle<i32>(c, d, 0, 4, 1, 5), v128.shuffle<i32>(c, d, 2, 6, 3, 7));
  const sums = f32x4.add(v128.shuffle<i64>(ab, cd, 0, 2), v128.shuffle<i64>(ab, cd, 1, 3));
  const values = f32x4.add(f32x4.mul(sums, f32x4.splat(ONE)), f32x4.splat(32768));
  const cut = f32x4.pmin(f32x4.splat(65535), f32x4.pmax(f32x4.splat(0), values));
  const whole = wholes(cut);
  return i16x8.narrow_i32x4_u(whole, whole);
}

/** Reads a tile of planes out of areas of a picture that it is turned, shifted or tilted against.
 * @param planes - Addresses of the areas' planes and, from the fourth on, of the tile's.
 * @param paired - Room for as many planes of four bytes a sample.
 * @param count - Planes, at most three.
 * @param side - Samples of a row of an area; an area has as many rows.
 * @param matrix - Nine floats, row by row: from a tile's pixel to a place in the area, both from their first pixel's centre.
 * @param across - 1,025 phases of eight floats: weights of the samples from two before the place on; the last two are zero.
 * @param down - The same in whole numbers of 16 bits, which count 32,768ths and are negated. */
export function warp(
  planes: usize, count: i32, side: i32, matrix: usize, across: usize, down: usize, paired: usize,
): void {
  const h0 = v128.load32_splat(matrix), h3 = v128.load32_splat(matrix, 12), h6 = v128.load32_splat(matrix, 24);
  const h1 = load<f32>(matrix, 4), h2 = load<f32>(matrix, 8);
  const h4 = load<f32>(matrix, 16), h5 = load<f32>(matrix, 20);
  const h7 = load<f32>(matrix, 28), h8 = load<f32>(matrix, 32);
  const two = <usize>side << 3;
  const room = <usize>(side * side) << 2;
  const last = f32x4.splat(<f32>(side - 6));
  const phases = f32x4.splat(PHASES);
  const end = planes + (<usize>count << 2);
  for (let plane = 0; plane < count; plane++)
    pairRows(load<u32>(planes + (<usize>plane << 2)), side, paired + <usize>plane * room);
  for (let y = 0; y < TILE; y++) {
    const fy = <f32>y;
    const nu = f32x4.splat(h1 * fy + h2), nv = f32x4.splat(h4 * fy + h5), nw = f32x4.splat(h7 * fy + h8);
    for (let x = 0; x < TILE; x += 4) {
      const fx = f32x4.add(f32x4.splat(<f32>x), f32x4(0, 1, 2, 3));
      const w = f32x4.div(f32x4.splat(1), f32x4.add(f32x4.mul(h6, fx), nw));
      const u = clamped(f32x4.mul(f32x4.add(f32x4.mul(h0, fx), nu), w), last);
      const v = clamped(f32x4.mul(f32x4.add(f32x4.mul(h3, fx), nv), w), last);
      const left = f32x4.floor(u), top = f32x4.floor(v);
      const a = i32x4.shl(wholes(f32x4.mul(f32x4.sub(u, left), phases)), 5);
      const d = i32x4.shl(wholes(f32x4.mul(f32x4.sub(v, top), phases)), 4);
      const firsts = i32x4.shl(i32x4.add(i32x4.mul(i32x4.sub(wholes(top), i32x4.splat(2)), i32x4.splat(side)), i32x4.sub(wholes(left), i32x4.splat(2))), 2);
      const a0 = across + <usize>i32x4.extract_lane(a, 0), a1 = across + <usize>i32x4.extract_lane(a, 1);
      const a2 = across + <usize>i32x4.extract_lane(a, 2), a3 = across + <usize>i32x4.extract_lane(a, 3);
      const d0 = down + <usize>i32x4.extract_lane(d, 0), d1 = down + <usize>i32x4.extract_lane(d, 1);
      const d2 = down + <usize>i32x4.extract_lane(d, 2), d3 = down + <usize>i32x4.extract_lane(d, 3);
      const f0 = <usize>i32x4.extract_lane(firsts, 0), f1 = <usize>i32x4.extract_lane(firsts, 1);
      const f2 = <usize>i32x4.extract_lane(firsts, 2), f3 = <usize>i32x4.extract_lane(firsts, 3);
      const to = <usize>(y * TILE + x) << 1;
      let area = paired;
      for (let plane = planes; plane < end; plane += 4) {
        v128.store64_lane(
          <usize>load<u32>(plane, 12) + to,
          joined(
            between(area + f0, two, a0, d0),
            between(area + f1, two, a1, d1),
            between(area + f2, two, a2, d2),
            between(area + f3, two, a3, d3),
          ),
          0,
        );
        area += room;
      }
    }
  }
}

/** The same through a lens, each channel at a place of its own.
 * @param paired - As above, for three planes.
 * @param s0 - And on: from the tile's pixels to straight places, row by row.
 * @param k1, k2, k3 - What bends it.
 * @param h0 - And on: from bent places to places in the area, row by row.
 * @param cx, cy - Place of the area from which channels are read farther, by their scales. */
export function warpBent(
  planes: usize, side: i32, across: usize, down: usize, paired: usize,
  s0: f64, s1: f64, s2: f64, s3: f64, s4: f64, s5: f64, s6: f64, s7: f64, s8: f64, k1: f64, k2: f64, k3: f64,
  h0: f64, h1: f64, h2: f64, h3: f64, h4: f64, h5: f64, h6: f64, h7: f64, h8: f64,
  cx: f64, cy: f64, red: f64, green: f64, blue: f64,
): void {
  const two = <usize>side << 3;
  const room = <usize>(side * side) << 2;
  const start = f64x2.splat(2);
  const last = f64x2.splat(<f64>(side - 6));
  const centre = f64x2(cx, cy);
  const reds = f64x2.splat(red), greens = f64x2.splat(green), blues = f64x2.splat(blue);
  const redArea = paired, greenArea = paired + room, blueArea = paired + 2 * room;
  for (let plane: usize = 0; plane < 3; plane++) pairRows(load<u32>(planes + (plane << 2)), side, paired + plane * room);
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++) {
      const depth = s6 * <f64>x + s7 * <f64>y + s8;
      const sx = (s0 * <f64>x + s1 * <f64>y + s2) / depth;
      const sy = (s3 * <f64>x + s4 * <f64>y + s5) / depth;
      const squared = sx * sx + sy * sy;
      const factor = 1 + squared * (k1 + squared * (k2 + squared * k3));
      const bx = sx * factor;
      const by = sy * factor;
      const w = 1 / (h6 * bx + h7 * by + h8);
      const from = f64x2.sub(f64x2((h0 * bx + h1 * by + h2) * w, (h3 * bx + h4 * by + h5) * w), centre);
      const r = f64x2.pmax(start, f64x2.pmin(last, f64x2.add(centre, f64x2.mul(reds, from))));
      const g = f64x2.pmax(start, f64x2.pmin(last, f64x2.add(centre, f64x2.mul(greens, from))));
      const b = f64x2.pmax(start, f64x2.pmin(last, f64x2.add(centre, f64x2.mul(blues, from))));
      const first = betweenPlaces(redArea, two, r, f64x2.floor(r), across, down);
      const second = betweenPlaces(greenArea, two, g, f64x2.floor(g), across, down);
      const third = betweenPlaces(blueArea, two, b, f64x2.floor(b), across, down);
      const three = joined(first, second, third, third);
      const to = <usize>(y * TILE + x) << 1;
      v128.store16_lane(<usize>load<u32>(planes, 12) + to, three, 0);
      v128.store16_lane(<usize>load<u32>(planes, 16) + to, three, 1);
      v128.store16_lane(<usize>load<u32>(planes, 20) + to, three, 2);
    }
  }
}

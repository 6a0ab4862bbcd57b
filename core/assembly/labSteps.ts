import { fourOnLine, knotsFrom, offsetsOf } from './gather';

/** What is done to planes of lightness and two axes of colour, in place. */

// @ts-ignore: decorator
@inline
function smooth(t: v128): v128 {
  const cut = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), t));
  return f32x4.mul(f32x4.mul(cut, cut), f32x4.sub(f32x4.splat(3), f32x4.add(cut, cut)));
}

// @ts-ignore: decorator
@inline
function chromaOf(a: v128, b: v128): v128 {
  return f32x4.sqrt(f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b)));
}

/** Places of hues on the square whose corners lie on the axes, 0..720, as `core/kernels/hueTurn.ts` finds them: 180 for each side. */
// @ts-ignore: decorator
@inline
function hueKnots(a: v128, b: v128): v128 {
  const x = f32x4.abs(a);
  const y = f32x4.abs(b);
  const around = f32x4.pmax(f32x4.splat(1e-30), f32x4.add(x, y));
  const side = f32x4.div(f32x4.mul(y, f32x4.splat(180)), around);
  const half = v128.bitselect(f32x4.sub(f32x4.splat(360), side), side, f32x4.lt(a, f32x4.splat(0)));
  return v128.bitselect(f32x4.sub(f32x4.splat(720), half), half, f32x4.lt(b, f32x4.splat(0)));
}

/** Colours turned, strengthened and lightened by their hue.
 * @param table - 721 times four values: what is added to an axis of itself and of the other, of lightness to itself, and whether anything
 * is done from there to the next knot.
 * @param hueless - One over the chroma from which on a colour has a hue. */
export function changeHues(table: usize, hueless: f32, lightness: usize, first: usize, second: usize, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const a = v128.load(first + at);
    const b = v128.load(second + at);
    const place = hueKnots(a, b);
    const left = f32x4.pmin(f32x4.splat(719), f32x4.floor(place));
    const shares = f32x4.sub(place, left);
    const places = offsetsOf(left, 4);
    const from = knotsFrom(table, 4);
    const k0 = from + i32x4.extract_lane(places, 0);
    const k1 = from + i32x4.extract_lane(places, 1);
    const k2 = from + i32x4.extract_lane(places, 2);
    const k3 = from + i32x4.extract_lane(places, 3);
    if (load<u32>(k0, 12) | load<u32>(k1, 12) | load<u32>(k2, 12) | load<u32>(k3, 12)) {
      const p0 = fourOnLine(k0, f32x4.extract_lane(shares, 0));
      const p1 = fourOnLine(k1, f32x4.extract_lane(shares, 1));
      const p2 = fourOnLine(k2, f32x4.extract_lane(shares, 2));
      const p3 = fourOnLine(k3, f32x4.extract_lane(shares, 3));
      // Turned over: one number of all four.
      const front = v128.shuffle<i32>(p0, p1, 0, 4, 1, 5);
      const back = v128.shuffle<i32>(p2, p3, 0, 4, 1, 5);
      const third = v128.shuffle<i32>(v128.shuffle<i32>(p0, p1, 2, 6, 3, 7), v128.shuffle<i32>(p2, p3, 2, 6, 3, 7), 0, 1, 4, 5);
      const much = smooth(f32x4.mul(chromaOf(a, b), f32x4.splat(hueless)));
      const along = f32x4.mul(much, v128.shuffle<i32>(front, back, 0, 1, 4, 5));
      const across = f32x4.mul(much, v128.shuffle<i32>(front, back, 2, 3, 6, 7));
      const lighter = f32x4.mul(much, third);
      const l = v128.load(lightness + at);
      v128.store(lightness + at, f32x4.add(l, f32x4.mul(l, lighter)));
      v128.store(first + at, f32x4.sub(f32x4.add(a, f32x4.mul(a, along)), f32x4.mul(b, across)));
      v128.store(second + at, f32x4.add(f32x4.add(b, f32x4.mul(a, across)), f32x4.mul(b, along)));
    }
    at += 16;
  } while (at < end);
}

/** Colours times `1 + amount`, of which less is done to what is vivid: nothing of `spare` of it at `1 / vivid`. */
export function saturate(amount: f32, spare: f32, vivid: f32, first: usize, second: usize, n: i32): void {
  const end = <usize>n << 2;
  const one = f32x4.splat(1);
  let at: usize = 0;
  do {
    const a = v128.load(first + at);
    const b = v128.load(second + at);
    const full = f32x4.pmin(one, f32x4.mul(chromaOf(a, b), f32x4.splat(vivid)));
    const by = f32x4.add(one, f32x4.mul(f32x4.splat(amount), f32x4.sub(one, f32x4.mul(f32x4.splat(spare), full))));
    v128.store(first + at, f32x4.mul(a, by));
    v128.store(second + at, f32x4.mul(b, by));
    at += 16;
  } while (at < end);
}

/** Two pixels' tints, from the knots on whose line they lie: both axes of one, then of the other. */
// @ts-ignore: decorator
@inline
function tintsOf(knot: usize, next: usize, shares: v128): v128 {
  const one = v128.load(knot);
  const other = v128.load(next);
  const here = v128.shuffle<i64>(one, other, 0, 2);
  return f32x4.add(here, f32x4.mul(f32x4.sub(v128.shuffle<i64>(one, other, 1, 3), here), shares));
}

/** Colours moved by a table of lightness: knots at every thousandth up to four.
 * @param table - 4,002 pairs: what is added to each axis. */
export function tintByLightness(table: usize, lightness: usize, first: usize, second: usize, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const l = f32x4.pmin(f32x4.splat(4), f32x4.pmax(f32x4.splat(0), v128.load(lightness + at)));
    const place = f32x4.mul(l, f32x4.splat(1000));
    const knot = f32x4.floor(place);
    const shares = f32x4.sub(place, knot);
    const places = offsetsOf(knot, 3);
    const from = knotsFrom(table, 3);
    const p = tintsOf(from + i32x4.extract_lane(places, 0), from + i32x4.extract_lane(places, 1), v128.shuffle<i32>(shares, shares, 0, 0, 1, 1));
    const q = tintsOf(from + i32x4.extract_lane(places, 2), from + i32x4.extract_lane(places, 3), v128.shuffle<i32>(shares, shares, 2, 2, 3, 3));
    v128.store(first + at, f32x4.add(v128.load(first + at), v128.shuffle<i32>(p, q, 0, 2, 4, 6)));
    v128.store(second + at, f32x4.add(v128.load(second + at), v128.shuffle<i32>(p, q, 1, 3, 5, 7)));
    at += 16;
  } while (at < end);
}

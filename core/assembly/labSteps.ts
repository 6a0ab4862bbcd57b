import { firstTwo, fourOnLine, knotsAt, lastTwo, one, other } from './gather';

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
  const unsigned = i32x4.splat(0x7fffffff);
  const x = v128.and(a, unsigned);
  const y = v128.and(b, unsigned);
  const around = f32x4.pmax(f32x4.splat(1e-30), f32x4.add(x, y));
  const side = f32x4.div(f32x4.mul(y, f32x4.splat(180)), around);
  // Beyond an axis what is missing to the next: the distance from it.
  const half = v128.and(f32x4.sub(side, v128.and(f32x4.lt(a, f32x4.splat(0)), f32x4.splat(360))), unsigned);
  return v128.and(f32x4.sub(half, v128.and(f32x4.lt(b, f32x4.splat(0)), f32x4.splat(720))), unsigned);
}

// @ts-ignore: decorator
@inline
function knotBelow(place: v128): v128 {
  return f32x4.pmin(f32x4.splat(719), f32x4.floor(place));
}

/** Whether anything is done from one of four knots to the next. */
// @ts-ignore: decorator
@inline
function isAnyDone(first: u64, last: u64): u32 {
  return load<u32>(one(first), 12) | load<u32>(other(first), 12) | load<u32>(one(last), 12) | load<u32>(other(last), 12);
}

/** Four pixels turned, strengthened and lightened.
 * @param first, last - Addresses of their knots, two and two.
 * @param shares - Of the way to the next knot. */
// @ts-ignore: decorator
@inline
function changeFour(
  first: u64, last: u64, shares: v128, hueless: f32, a: v128, b: v128, lightness: usize, toFirst: usize, toSecond: usize,
): void {
  const p0 = fourOnLine(one(first), v128.shuffle<i32>(shares, shares, 0, 0, 0, 0));
  const p1 = fourOnLine(other(first), v128.shuffle<i32>(shares, shares, 1, 1, 1, 1));
  const p2 = fourOnLine(one(last), v128.shuffle<i32>(shares, shares, 2, 2, 2, 2));
  const p3 = fourOnLine(other(last), v128.shuffle<i32>(shares, shares, 3, 3, 3, 3));
  // Turned over: one number of all four.
  const front = v128.shuffle<i32>(p0, p1, 0, 4, 1, 5);
  const back = v128.shuffle<i32>(p2, p3, 0, 4, 1, 5);
  const third = v128.shuffle<i64>(v128.shuffle<i32>(p0, p1, 2, 6, 3, 7), v128.shuffle<i32>(p2, p3, 2, 6, 3, 7), 0, 2);
  const much = smooth(f32x4.mul(chromaOf(a, b), f32x4.splat(hueless)));
  const along = f32x4.mul(much, v128.shuffle<i64>(front, back, 0, 2));
  const across = f32x4.mul(much, v128.shuffle<i64>(front, back, 1, 3));
  const lighter = f32x4.mul(much, third);
  const l = v128.load(lightness);
  v128.store(lightness, f32x4.add(l, f32x4.mul(l, lighter)));
  v128.store(toFirst, f32x4.sub(f32x4.add(a, f32x4.mul(a, along)), f32x4.mul(b, across)));
  v128.store(toSecond, f32x4.add(f32x4.add(b, f32x4.mul(a, across)), f32x4.mul(b, along)));
}

/** Colours turned, strengthened and lightened by their hue. Eight at a time: what takes long is waiting for the step before, and guessing
 * whether anything is done, which is noise where it depends on few pixels.
 * @param table - 721 times four values: what is added to an axis of itself and of the other, of lightness to itself, and whether anything
 * is done from there to the next knot.
 * @param hueless - One over the chroma from which on a colour has a hue. */
export function changeHues(table: usize, hueless: f32, lightness: usize, first: usize, second: usize, n: i32): void {
  const end = <usize>n << 2;
  let at: usize = 0;
  do {
    const a = v128.load(first + at);
    const b = v128.load(second + at);
    const nextA = v128.load(first + at, 16);
    const nextB = v128.load(second + at, 16);
    const place = hueKnots(a, b);
    const nextPlace = hueKnots(nextA, nextB);
    const left = knotBelow(place);
    const nextLeft = knotBelow(nextPlace);
    const knots = knotsAt(table, left, 4);
    const nextKnots = knotsAt(table, nextLeft, 4);
    const k0 = firstTwo(knots), k2 = lastTwo(knots);
    const k4 = firstTwo(nextKnots), k6 = lastTwo(nextKnots);
    if (isAnyDone(k0, k2) | isAnyDone(k4, k6)) {
      changeFour(k0, k2, f32x4.sub(place, left), hueless, a, b, lightness + at, first + at, second + at);
      const next = at + 16;
      changeFour(k4, k6, f32x4.sub(nextPlace, nextLeft), hueless, nextA, nextB, lightness + next, first + next, second + next);
    }
    at += 32;
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
    const knots = knotsAt(table, knot, 3);
    const two = firstTwo(knots), last = lastTwo(knots);
    const p = tintsOf(one(two), other(two), v128.shuffle<i32>(shares, shares, 0, 0, 1, 1));
    const q = tintsOf(one(last), other(last), v128.shuffle<i32>(shares, shares, 2, 2, 3, 3));
    v128.store(first + at, f32x4.add(v128.load(first + at), v128.shuffle<i32>(p, q, 0, 2, 4, 6)));
    v128.store(second + at, f32x4.add(v128.load(second + at), v128.shuffle<i32>(p, q, 1, 3, 5, 7)));
    at += 16;
  } while (at < end);
}

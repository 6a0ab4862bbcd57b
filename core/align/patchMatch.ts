import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Match } from './fit.ts';
import { invertSymmetric, solveSymmetric } from './linear.ts';
import { overThree } from './overThree.ts';
import { atLevel, mapPoint, type Point } from './placement.ts';
import { readTone } from './readTone.ts';
import type { PixelSource } from './tileSource.ts';
import { type ToneSignal, toneSignal } from './toneSignal.ts';

/** Two pictures whose tones are compared. */
export interface Pair {
  base: PixelSource;
  frame: PixelSource;
  /** Light added to each, see `toneSignal`. */
  floors: readonly [number, number];
}

/** A patch of the base found again in the frame. */
export interface PatchMatch {
  /** Frame pixel to base pixel, both at full size. */
  match: Match;
  /** How alike the two are there, 0..1, planes of light apart. */
  likeness: number;
}

/** Why a patch tells nothing: it holds too little that can be compared, or what is there does not look alike. */
export type PatchFailure = 'empty' | 'unlike';

/** Side of a patch in pixels of the level. */
export const PATCH = 41;
const HALF = (PATCH - 1) / 2;
const ROUNDS = 14;
/** A step this short is the last: at full size, and on the way there. */
const DONE = 1e-4;
const ROUGHLY_DONE = 0.01;
/** A step may not be larger; patches farther away than `REACH` from where they are expected are not found. */
const LONGEST_STEP = 1;
const REACH = 3.5;
/** Part of a patch that has to hold tones in both pictures. */
const LEAST_SHARE = 0.3;
const LEAST_LIKENESS = 0.55;
/** Neighbouring samples share their noise, since signals are smooth and pyramids averaged: how many count as one. */
const SHARED = 4;

/**
 * Finds where a patch of the base lies in the frame, to small fractions of a pixel, starting from a placement: Gauss-Newton
 * on shift, gain, offset and a plane of light together, so that exposure and slow changes of light do not matter (Lucas and
 * Kanade 1981; the gain as in Evangelidis and Psarakis 2008).
 * @param centre - Of the patch in the base, whole pixels of the level.
 * @param placement - Frame pixels to base pixels, at full size.
 */
export function matchPatch(pair: Pair, level: number, centre: Point, placement: Matrix3): PatchMatch | PatchFailure {
  const toFrame = invert3(atLevel(placement, level));
  const base = cut(pair.base, level, centre.x - HALF - 1, centre.y - HALF - 1, PATCH + 2, pair.floors[0]);
  const expected = mapPoint(toFrame, centre);
  const turn = localTurn(toFrame, centre);
  const margin =
    Math.ceil(REACH) + 4 + Math.ceil((Math.abs(turn[0] - 1) + Math.abs(turn[1]) + Math.abs(turn[3] - 1)) * HALF);
  const [left, top] = [Math.round(expected.x) - HALF - margin, Math.round(expected.y) - HALF - margin];
  const frame = cut(pair.frame, level, left, top, PATCH + 2 * margin, pair.floors[1]);
  const start = { x: expected.x - left, y: expected.y - top };
  const found = descend(base, frame, start, turn, level === 0);
  if (typeof found === 'string') return found;
  const back = (point: Point): Point => {
    const step = 2 ** level;
    return { x: point.x * step + (step - 1) / 2, y: point.y * step + (step - 1) / 2 };
  };
  const scale = 4 ** -level;
  return {
    likeness: found.likeness,
    match: {
      from: back({ x: found.x + left, y: found.y + top }),
      to: back(centre),
      sureness: found.sureness.map((value) => value * scale) as unknown as Match['sureness'],
    },
  };
}

/** Tones of a square of a level, smooth a little. */
function cut(source: PixelSource, level: number, x: number, y: number, side: number, floor: number): ToneSignal {
  const planes = source.area(level, { x, y, width: side, height: side });
  return smooth(toneSignal(planes, side, side, floor));
}

export const binomial = (before: number, own: number, after: number): number => (before + 2 * own + after) / 4;

/** 1 2 1 across and down: noise would otherwise tilt what lies between samples. */
export const smooth = (signal: ToneSignal): ToneSignal => ({
  ...signal,
  value: overThree(signal.value, signal.width, signal.height, binomial),
});

/** How directions turn at a point: the derivatives of the placement there, row by row. */
function localTurn(m: Matrix3, { x, y }: Point): [number, number, number, number] {
  const w = m[6] * x + m[7] * y + m[8];
  const at = mapPoint(m, { x, y });
  return [(m[0] - m[6] * at.x) / w, (m[1] - m[7] * at.x) / w, (m[3] - m[6] * at.y) / w, (m[4] - m[7] * at.y) / w];
}

interface Found extends Point {
  sureness: readonly [number, number, number];
  likeness: number;
}

/** Gradient across and down, tone, 1, place across and down: what the frame's tones are made of. */
const TERMS = 6;

/** The base's part of the equations, which stays while the frame is moved. */
interface Terms {
  /** Places of the patch that count, from its centre, and their weights in the base. */
  count: number;
  x: Float32Array;
  y: Float32Array;
  weight: Float32Array;
  rows: readonly Float32Array[];
}

function termsOf(base: ToneSignal): Terms {
  const side = base.width;
  const all = () => new Float32Array(PATCH * PATCH);
  const terms = { x: all(), y: all(), weight: all(), rows: Array.from({ length: TERMS }, all) };
  let count = 0;
  for (let y = -HALF; y <= HALF; y++) {
    for (let x = -HALF; x <= HALF; x++) {
      const i = (y + HALF + 1) * side + x + HALF + 1;
      if (base.weight[i] === 0) continue;
      terms.x[count] = x;
      terms.y[count] = y;
      terms.weight[count] = base.weight[i];
      terms.rows[0][count] = (base.value[i + 1] - base.value[i - 1]) / 2;
      terms.rows[1][count] = (base.value[i + side] - base.value[i - side]) / 2;
      terms.rows[2][count] = base.value[i];
      terms.rows[3][count] = 1;
      terms.rows[4][count] = x / HALF;
      terms.rows[5][count] = y / HALF;
      count++;
    }
  }
  return { ...terms, count };
}

/** Tones of the frame under a patch, and what they count. */
interface Seen {
  tone: Float32Array;
  weight: Float32Array;
  mass: number;
}

function descend(
  base: ToneSignal,
  frame: ToneSignal,
  start: Point,
  turn: readonly [number, number, number, number],
  precise: boolean,
): Found | PatchFailure {
  const [txx, txy, tyx, tyy] = turn;
  const at = { ...start };
  const terms = termsOf(base);
  const seen: Seen = { tone: new Float32Array(terms.count), weight: new Float32Array(terms.count), mass: 0 };
  let matrix: Float64Array | undefined;
  let step = 0;
  for (let round = 0; round < ROUNDS; round++) {
    look(frame, terms, at, turn, seen);
    if (seen.mass < LEAST_SHARE * PATCH * PATCH) return 'empty';
    // What the places weigh hardly changes any more once the frame is nearly in place.
    if (!matrix || step > 0.05 || round % 4 === 0) matrix = squares(terms, seen.weight);
    const x = solveSymmetric(Float64Array.from(matrix), products(terms, seen));
    if (!x) return 'empty';
    const gain = x[2];
    if (!(gain > 0.15 && gain < 6)) return round === 0 && !(Math.abs(gain) > 0.02) ? 'empty' : 'unlike';
    // Tones of the frame = gain x (tones of the base, moved): a motion across the base by -u / gain, -v / gain.
    const mx = Math.max(-LONGEST_STEP, Math.min(LONGEST_STEP, -x[0] / gain));
    const my = Math.max(-LONGEST_STEP, Math.min(LONGEST_STEP, -x[1] / gain));
    at.x += txx * mx + txy * my;
    at.y += tyx * mx + tyy * my;
    if (!(Math.hypot(at.x - start.x, at.y - start.y) < REACH)) return 'unlike';
    step = Math.hypot(mx, my);
    if (step >= (round < ROUNDS - 1 ? (precise ? DONE : ROUGHLY_DONE) : 0.05)) continue;
    return judge(at, squares(terms, seen.weight), products(terms, seen), seen);
  }
  return 'unlike';
}

/** A tone and its weight, as they are read. */
const read = new Float64Array(2);

/** Reads the frame under the patch. */
function look(frame: ToneSignal, terms: Terms, at: Point, [txx, txy, tyx, tyy]: readonly number[], seen: Seen): void {
  let mass = 0;
  for (let k = 0; k < terms.count; k++) {
    const x = terms.x[k];
    const y = terms.y[k];
    readTone(frame, at.x + txx * x + txy * y, at.y + tyx * x + tyy * y, read);
    const w = terms.weight[k] * read[1];
    seen.weight[k] = w;
    if (w === 0) continue;
    mass += w;
    seen.tone[k] = read[0];
  }
  seen.mass = mass;
}

/** Weighted sums of products of the terms, in one pass; the fourth term is 1. */
function squares({ rows, count }: Terms, weight: Float32Array): Float64Array {
  const [gx, gy, tone, , px, py] = rows;
  let [xx, xy, xt, x1, xp, xq] = [0, 0, 0, 0, 0, 0];
  let [yy, yt, y1, yp, yq] = [0, 0, 0, 0, 0];
  let [tt, t1, tp, tq] = [0, 0, 0, 0];
  let [one, p1, q1, pp, pq, qq] = [0, 0, 0, 0, 0, 0];
  for (let k = 0; k < count; k++) {
    const w = weight[k];
    const x = gx[k];
    const y = gy[k];
    const t = tone[k];
    const p = px[k];
    const q = py[k];
    const wx = w * x;
    const wy = w * y;
    const wt = w * t;
    const wp = w * p;
    xx += wx * x;
    xy += wx * y;
    xt += wx * t;
    x1 += wx;
    xp += wx * p;
    xq += wx * q;
    yy += wy * y;
    yt += wy * t;
    y1 += wy;
    yp += wy * p;
    yq += wy * q;
    tt += wt * t;
    t1 += wt;
    tp += wt * p;
    tq += wt * q;
    one += w;
    p1 += wp;
    q1 += w * q;
    pp += wp * p;
    pq += wp * q;
    qq += w * q * q;
  }
  return Float64Array.of(
    ...[xx, xy, xt, x1, xp, xq],
    ...[xy, yy, yt, y1, yp, yq],
    ...[xt, yt, tt, t1, tp, tq],
    ...[x1, y1, t1, one, p1, q1],
    ...[xp, yp, tp, p1, pp, pq],
    ...[xq, yq, tq, q1, pq, qq],
  );
}

/** Weighted sums of products of the terms with the frame's tones. */
function products({ rows, count }: Terms, { tone, weight }: Seen): Float64Array {
  const [gx, gy, own, , px, py] = rows;
  let [x, y, t, one, p, q] = [0, 0, 0, 0, 0, 0];
  for (let k = 0; k < count; k++) {
    const w = weight[k] * tone[k];
    x += w * gx[k];
    y += w * gy[k];
    t += w * own[k];
    one += w;
    p += w * px[k];
    q += w * py[k];
  }
  return Float64Array.of(x, y, t, one, p, q);
}

/** How sure a place is, and how alike the pictures are there. */
function judge(at: Point, a: Float64Array, b: Float64Array, { tone, weight, mass }: Seen): Found | PatchFailure {
  const x = solveSymmetric(Float64Array.from(a), b);
  if (!x) return 'empty';
  let energy = 0;
  for (let k = 0; k < tone.length; k++) energy += weight[k] * tone[k] * tone[k];
  const left = Math.max(0, energy - b.reduce((sum, value, i) => sum + value * x[i], 0));
  const noise = left / mass;
  // What the base's tones explain beyond a plane of light: their part of the inverse says how much they stand apart.
  const inverse = invertSymmetric(subMatrix(a, [2, 3, 4, 5]), 4);
  const covariance = invertSymmetric(Float64Array.from(a), TERMS);
  if (!inverse || !covariance) return 'empty';
  const contrast = x[2] ** 2 / inverse[0] / mass;
  const likeness = Math.sqrt(contrast / (contrast + noise));
  // Rounding of the samples themselves is noise that even equal pictures have.
  const scale = ((noise + 1e-9) * SHARED) / x[2] ** 2;
  const [xx, xy, yy] = [covariance[0] * scale, covariance[1] * scale, covariance[TERMS + 1] * scale];
  const determinant = xx * yy - xy * xy;
  if (!(determinant > 0)) return 'empty';
  if (likeness < LEAST_LIKENESS) return contrast < 3 * noise && Math.sqrt(xx + yy) > 1 ? 'empty' : 'unlike';
  return { ...at, likeness, sureness: [yy / determinant, -xy / determinant, xx / determinant] };
}

function subMatrix(a: Float64Array, keep: readonly number[]): Float64Array {
  return Float64Array.from(keep.flatMap((p) => keep.map((q) => a[p * TERMS + q])));
}

import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { dropPlane, holdToCamera, SHARED } from './denseKnown.ts';
import { FREEDOM, jacobian, stepMatrix, tukey, unitFrame } from './fit.ts';
import { invertSymmetric, solveSymmetric } from './linear.ts';
import { atLevel, compose, cornersOf, fromLevel, type Model, mapPoint, type Point } from './placement.ts';
import { readTone } from './readTone.ts';
import type { ToneSignal } from './toneSignal.ts';

/** Tones of two whole pictures at a level, smooth, and the slopes of the base's. */
export interface DensePair {
  level: number;
  base: ToneSignal;
  frame: ToneSignal;
  across: Float32Array;
  down: Float32Array;
}

/** A placement from the whole. */
export interface Placed {
  /** Frame to base, at full size. */
  matrix: Matrix3;
  /** What it leaves, as a deviation in stops. */
  spread: number;
  /** Deviation of where it takes a corner, at most, in pixels of full size: of noise alone. */
  doubt: number;
}

/** A motion of the whole picture. */
export type DenseModel = Exclude<Model, 'none'>;

/** Rounds at a level, and a step so short that it is the last, in pixels of the level. */
const ROUNDS = 16;
/** Rounds before which noise is not known yet. */
const LEAST_ROUNDS = 2;
const DONE = 3e-3;
/** A step may move a corner by no more than this share of the picture. */
const LONGEST = 0.03;
/** Least share of the picture that both have to hold. */
const LEAST_SHARE = 0.03;
/** The light's own terms: gain, offset and a plane. */
const LIGHT = 4;
/** Noise is known by tones: so many steps of so many stops, from as dark as counts. */
const TONES = 24;
const TONE_STEP = 0.5;
const DARKEST = -9;
/** A tone that so few places have is no surer than all of them are, in places. */
const FEW = 50;
/** Noise that there is in any case, in stops. */
const LEAST_NOISE = 1e-3;

const toneOf = (stops: number): number => Math.min(TONES - 1, Math.max(0, Math.round((stops - DARKEST) / TONE_STEP)));

/** Prepares two pictures at a level, whose tones are smooth.
 * @param wanted - How much a place of the base, in pixels of the level, is to be looked at, 0..1. */
export function densePair(
  level: number,
  base: ToneSignal,
  frame: ToneSignal,
  wanted: (at: Point) => number,
): DensePair {
  const { width, height, value } = base;
  const weight = base.weight.map((each, i) =>
    each === 0 ? 0 : each * wanted({ x: i % width, y: Math.floor(i / width) }),
  );
  const [across, down] = [new Float32Array(value.length), new Float32Array(value.length)];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      across[i] = (value[i + 1] - value[i - 1]) / 2;
      down[i] = (value[i + width] - value[i - width]) / 2;
    }
  return { level, base: { ...base, weight }, frame, across, down };
}

/** Finds a placement from all tones that two pictures share, wherever there are slopes: Gauss-Newton steps on a motion of the whole,
 * and on gain, offset and a plane of light, together; what does not fit counts less and less (Lucas and Kanade 1981; Irani and
 * Anandan 1999, "About direct methods"; Tukey's biweight).
 * @param start - Frame to base, at full size.
 * @returns Undefined when they share too little, or what they share does not determine the motion. */
export function alignDensely(pair: DensePair, start: Matrix3, model: DenseModel): Placed | undefined {
  const { level, base } = pair;
  const size = { width: base.width, height: base.height };
  const unit = unitFrame(size);
  const equations = new DenseEquations(pair, model, unit);
  let toFrame = invert3(atLevel(start, level));
  for (let round = 0; round < ROUNDS; round++) {
    const motion = equations.solve(toFrame);
    if (!motion) return undefined;
    // The base moved by so much is what the frame shows: the frame is to be read elsewhere, by as much the other way.
    const step = stepMatrix(
      model,
      motion.map((each) => -each),
    );
    const by = farthestMove(step, size);
    if (!(by <= LONGEST * size.width)) return undefined;
    toFrame = compose(unit, step, invert3(unit), toFrame);
    if (by < DONE && round >= LEAST_ROUNDS) break;
  }
  const toLevel = invert3(fromLevel(level));
  const matrix = compose(toLevel, invert3(toFrame), fromLevel(level));
  const doubt = equations.doubt * 2 ** level;
  return matrix.every(Number.isFinite) ? { matrix, spread: equations.spread, doubt } : undefined;
}

/** How far a step takes a corner, in pixels. */
function farthestMove(step: Matrix3, { width, height }: Size): number {
  let most = 0;
  for (const x of [-1, 1])
    for (const y of [-height / width, height / width]) {
      const w = step[6] * x + step[7] * y + step[8];
      const dx = (step[0] * x + step[1] * y + step[2]) / w - x;
      const dy = (step[3] * x + step[4] * y + step[5]) / w - y;
      most = Math.max(most, (Math.hypot(dx, dy) * width) / 2);
    }
  return most;
}

/** The equations of a step, and what is known of the light from the step before. */
class DenseEquations {
  readonly #pair: DensePair;
  readonly #model: DenseModel;
  readonly #unit: Matrix3;
  /** Gain, offset and plane, and the variance of what they leave at each tone of the base, in stops. */
  #light: Float64Array | undefined;
  #noise = new Float64Array(TONES).fill(1);
  #isKnown = false;

  constructor(pair: DensePair, model: DenseModel, unit: Matrix3) {
    this.#pair = pair;
    this.#model = model;
    this.#unit = unit;
  }

  /** Deviation of what the step before left, in stops. */
  spread = Infinity;
  /** Covariance of all unknowns of the last step, in base coordinates of about -1..1. */
  #covariance: Float64Array | undefined;

  /** Deviation of where the motion takes a corner, at most, in pixels of the level. */
  get doubt(): number {
    const [n, c] = [FREEDOM[this.#model], this.#covariance];
    if (!c) return Infinity;
    const all = n + LIGHT;
    const [jx, jy] = [new Float64Array(n), new Float64Array(n)];
    const doubts = cornersOf(this.#pair.base).map((corner) => {
      jacobian(this.#model, mapPoint(this.#unit, corner), jx, jy);
      let sum = 0;
      for (let k = 0; k < n; k++) for (let l = 0; l < n; l++) sum += c[k * all + l] * (jx[k] * jx[l] + jy[k] * jy[l]);
      return Math.sqrt(sum) / this.#unit[0];
    });
    return Math.max(...doubts);
  }

  /** The motion across the base, in coordinates of about -1..1, that the frame shows where it is read now. */
  solve(toFrame: Matrix3): Float64Array | undefined {
    const { base, frame, across, down } = this.#pair;
    const { width, height } = base;
    const unit = this.#unit;
    const motions = FREEDOM[this.#model];
    const n = motions + LIGHT;
    const [a, b, terms] = [new Float64Array(n * n), new Float64Array(n), new Float64Array(n)];
    const [jx, jy, seen] = [new Float64Array(motions), new Float64Array(motions), new Float64Array(2)];
    const at = { x: 0, y: 0 };
    const light = this.#light;
    const noise = this.#noise;
    const isFirst = !this.#isKnown;
    const [masses, squares] = [new Float64Array(TONES), new Float64Array(TONES)];
    let mass = 0;
    for (let y = 1; y < height - 1; y++) {
      for (let x = 1; x < width - 1; x++) {
        const i = y * width + x;
        if (base.weight[i] === 0) continue;
        const w = toFrame[6] * x + toFrame[7] * y + toFrame[8];
        readTone(
          frame,
          (toFrame[0] * x + toFrame[1] * y + toFrame[2]) / w,
          (toFrame[3] * x + toFrame[4] * y + toFrame[5]) / w,
          seen,
        );
        if (seen[1] === 0) continue;
        at.x = unit[0] * x + unit[2];
        at.y = unit[4] * y + unit[5];
        let weight = base.weight[i] * seen[1];
        mass += weight;
        if (light) {
          const miss = seen[0] - (light[0] * base.value[i] + light[1] + light[2] * at.x + light[3] * at.y);
          const tone = toneOf(base.value[i]);
          if (!isFirst) weight *= tukey(Math.abs(miss) / Math.sqrt(noise[tone]));
          if (weight === 0) continue;
          masses[tone] += weight;
          squares[tone] += weight * miss * miss;
          weight /= noise[tone];
        }
        jacobian(this.#model, at, jx, jy);
        for (let k = 0; k < motions; k++) terms[k] = (across[i] * jx[k] + down[i] * jy[k]) / unit[0];
        terms[motions] = base.value[i];
        terms[motions + 1] = 1;
        terms[motions + 2] = at.x;
        terms[motions + 3] = at.y;
        for (let k = 0; k < n; k++) {
          const wk = weight * terms[k];
          b[k] += wk * seen[0];
          for (let l = 0; l <= k; l++) a[k * n + l] += wk * terms[l];
        }
      }
    }
    if (mass < LEAST_SHARE * width * height) return undefined;
    for (let k = 0; k < n; k++) for (let l = 0; l < k; l++) a[l * n + k] = a[k * n + l];
    if (this.#model === 'perspective') holdToCamera(a, b, n, light?.[0] ?? 1, compose(invert3(unit), toFrame, unit));
    dropPlane(a, b);
    const covariance = invertSymmetric(Float64Array.from(a), n);
    const x = solveSymmetric(a, b);
    const gain = x?.[motions] ?? 0;
    if (!x?.every(Number.isFinite) || !(gain > 0.2 && gain < 5)) return undefined;
    this.#light = x.slice(motions);
    if (light) this.#learn(masses, squares);
    this.#covariance = covariance?.map((each) => (each * SHARED) / gain ** 2);
    return x.slice(0, motions).map((each) => each / gain);
  }

  /** What a step leaves at each tone is its noise, for the next one. */
  #learn(masses: Float64Array, squares: Float64Array): void {
    const sum = (values: Float64Array) => values.reduce((all, each) => all + each, 0);
    const whole = sum(squares) / sum(masses);
    this.spread = Math.sqrt(whole);
    // What is cut off makes the rest look closer than it is.
    for (let tone = 0; tone < TONES; tone++)
      this.#noise[tone] = (1.3 * (squares[tone] + FEW * whole)) / (masses[tone] + FEW) + LEAST_NOISE ** 2;
    this.#isKnown = true;
  }
}

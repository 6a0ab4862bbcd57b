import type { Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import type { Found } from './alignment.ts';
import { chooseModel, type Explanation } from './chooseModel.ts';
import { alignDensely, type DenseModel, type DensePair, densePair } from './dense.ts';
import { matchAreas } from './denseMatches.ts';
import { uncertainty } from './fit.ts';
import { levelUnder } from './levels.ts';
import type { Pair } from './patchMatch.ts';
import { cornersOf, type Point } from './placement.ts';
import { wholeSignal } from './toneSignal.ts';
import { scaleOf } from './verdict.ts';

/** Longest sides of the levels that are looked at, from the coarsest: what has low texture has it at large. */
const SIDES = [160, 320, 640] as const;
/** Motions that are tried at each of them. */
const MODELS: readonly (readonly DenseModel[])[] = [
  ['shift', 'similarity'],
  ['similarity', 'perspective'],
  ['perspective'],
];
/** How far areas may be off the whole at first, and how sure one can be at best, in pixels of the finest level. */
const LOOSE = 0.6;
const LEAST_NOISE = 0.012;
/** How uncertain the corners may be for all of a motion to be taken, in pixels at the usual width. */
const KNOWN = 0.35;

/** Finds how a frame lies on the base from all tones that both hold, coarse levels first.
 * @param starts - Frame to base; the one from which least is left over is followed.
 * @param wanted - How much a place of the base, in pixels of a level, is to be looked at, 0..1.
 * @returns Undefined when nothing is to be found. */
export function findDensely(
  { base, frame, floors }: Pair,
  starts: readonly Matrix3[],
  wanted: (level: number) => (at: Point) => number,
  onProgress: (share: number) => void,
): Found | undefined {
  const levels = [...new Set(SIDES.map((side) => levelUnder(base, side)))];
  const pairAt = (level: number) =>
    densePair(level, wholeSignal(base, level, floors[0]), wholeSignal(frame, level, floors[1]), wanted(level));
  let pair: DensePair | undefined;
  let matrix: Matrix3 | undefined;
  for (const [index, level] of levels.entries()) {
    onProgress(index / levels.length);
    pair = pairAt(level);
    const found = (matrix ? [matrix] : starts).flatMap(
      (start) => through(pair as DensePair, start, MODELS[index]) ?? [],
    );
    const [best] = found.sort((a, b) => a.spread - b.spread);
    if (best) matrix = best.matrix;
    else if (!matrix) return undefined;
  }
  if (!pair || !matrix) return undefined;
  onProgress(0.9);
  const matched = matchAreas(pair, matrix);
  const scale = 2 ** pair.level;
  const precision = { loose: LOOSE * scale, least: LEAST_NOISE * scale };
  const chosen = chooseModel(matched.matches, base.size, matrix, precision);
  return chosen && { explanation: withWhole(chosen, matrix, base.size), matched };
}

/** Areas alone seldom prove that a camera leaned, which the whole may well have found: it is taken where it is known well enough. */
function withWhole(chosen: Explanation, matrix: Matrix3, size: Size): Explanation {
  const corners = uncertainty('perspective', chosen.inliers, matrix, size, chosen.noise, cornersOf(size));
  const isKnown = corners && Math.max(...corners) < KNOWN * scaleOf(size);
  return isKnown ? { ...chosen, model: 'perspective', matrix } : chosen;
}

/** Richer motions one after the other; undefined when none is found. */
function through(pair: DensePair, start: Matrix3, models: readonly DenseModel[]) {
  let found: ReturnType<typeof alignDensely>;
  for (const model of models) found = alignDensely(pair, found?.matrix ?? start, model) ?? found;
  return found;
}

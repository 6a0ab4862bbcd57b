import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Found } from './alignment.ts';
import { chooseModel } from './chooseModel.ts';
import { alignDensely, type DenseModel, type DensePair, densePair, type Placed } from './dense.ts';
import { matchAreas } from './denseMatches.ts';
import { levelUnder } from './levels.ts';
import { halveLight, type LightSignal, lightAt, tonesOf } from './lightLevels.ts';
import type { Pair } from './patchMatch.ts';
import { atLevel, mapPoint, type Point } from './placement.ts';
import { readTone } from './readTone.ts';
import type { PixelSource } from './tileSource.ts';
import { floorsFor } from './toneSignal.ts';
import { scaleOf } from './verdict.ts';

/** Longest sides of the levels that are looked at, from the coarsest: what has low texture has it at large. */
const SIDES = [160, 320, 640] as const;
/** Motions that are tried at each of them. */
const MODELS: readonly (readonly DenseModel[])[] = [
  ['shift', 'similarity'],
  ['similarity', 'perspective'],
  ['perspective'],
];
/** Share of the work that reading light is, for each picture. */
const READING = 0.3;
/** How far areas may be off the whole at first, and how sure one can be at best, in pixels of the finest level. */
const LOOSE = 0.6;
const LEAST_NOISE = 0.012;
/** How uncertain the corners may be for all of a motion to be taken, in pixels at the usual width. */
const KNOWN = 0.5;

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
  const lights = [base, frame].map((source, index) =>
    lightLevels(source, levels, (share) => onProgress((index + share) * READING)),
  );
  let added = floors;
  let pair: DensePair | undefined;
  let placed: Placed | undefined;
  for (const [index, level] of levels.entries()) {
    onProgress(2 * READING + ((1 - 2 * READING) * index) / levels.length);
    const [first, second] = lights.map((light, which) => tonesOf(light[index], added[which]));
    const at = densePair(level, first, second, wanted(level));
    const from = placed ? [placed.matrix] : starts;
    const found = from.flatMap((start) => through(at, start, MODELS[index]) ?? []);
    const [best] = found.sort((a, b) => a.spread - b.spread);
    placed = best ?? placed;
    if (!placed) return undefined;
    pair = at;
    // Laid on each other, pictures tell how much brighter one is, and so what is to be added for both to be the same tones.
    added = floorsFor(stopsBetween(at, added, placed.matrix));
  }
  if (!pair || !placed) return undefined;
  const matched = matchAreas(pair, placed.matrix);
  const scale = 2 ** pair.level;
  const precision = { loose: LOOSE * scale, least: LEAST_NOISE * scale };
  const chosen = chooseModel(matched.matches, base.size, placed.matrix, precision);
  if (!chosen) return undefined;
  // Areas alone seldom prove that a camera leaned, which the whole may well have found.
  const isKnown = placed.doubt < KNOWN * scaleOf(base.size);
  const explanation = isKnown ? { ...chosen, model: 'perspective' as const, matrix: placed.matrix } : chosen;
  return { explanation, matched };
}

/** Light at some levels, the coarsest first. */
function lightLevels(
  source: PixelSource,
  levels: readonly number[],
  onProgress: (share: number) => void,
): LightSignal[] {
  const finest = levels[levels.length - 1];
  const found: LightSignal[] = [];
  let light = lightAt(source, finest, onProgress);
  for (let level = finest; level <= levels[0]; level++) {
    if (levels.includes(level)) found.unshift(light);
    light = halveLight(light);
  }
  return found;
}

/** Richer motions one after the other; undefined when none is found. */
function through(pair: DensePair, start: Matrix3, models: readonly DenseModel[]): Placed | undefined {
  let found: Placed | undefined;
  for (const model of models) found = alignDensely(pair, found?.matrix ?? start, model) ?? found;
  return found;
}

/** Stops by which the frame is brighter than the base where both hold tones, as they lie on each other: from sums of light, which
 * noise does not move.
 * @param floors - Light that was added to the tones.
 * @param placement - Frame to base, at full size. */
function stopsBetween(
  { level, base, frame }: DensePair,
  floors: readonly [number, number],
  placement: Matrix3,
): number {
  const toFrame = invert3(atLevel(placement, level));
  const seen = new Float64Array(2);
  let [own, its] = [0, 0];
  for (let y = 0; y < base.height; y++)
    for (let x = 0; x < base.width; x++) {
      const i = y * base.width + x;
      if (base.weight[i] === 0) continue;
      const at = mapPoint(toFrame, { x, y });
      readTone(frame, at.x, at.y, seen);
      const weight = base.weight[i] * seen[1];
      own += weight * (2 ** base.value[i] - floors[0]);
      its += weight * (2 ** seen[0] - floors[1]);
    }
  return own > 0 && its > 0 ? Math.log2(its / own) : Math.log2(floors[1] / floors[0]);
}

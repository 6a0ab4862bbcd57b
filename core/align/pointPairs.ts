import { IDENTITY3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { fitModel, type Match, missOf } from './fit.ts';
import { matchPatch, type Pair } from './patchMatch.ts';
import { type Model, mapPoint, type Point, shiftMatrix } from './placement.ts';
import { exposureStops, FLOOR, floorsFor, wholeSignal } from './toneSignal.ts';

/** The same spot in a frame and in the base, in pixels of each. */
export interface PointPair {
  frame: Point;
  base: Point;
}

/** Most pairs that make sense to place by hand. */
export const MOST_PAIRS = 8;

/** The motion that pairs determine: one a shift, two or three a similarity, four and more perspective. */
export const modelOfPairs = (count: number): Model =>
  count === 0 ? 'none' : count === 1 ? 'shift' : count < 4 ? 'similarity' : 'perspective';

/** The placement that takes all pairs to each other best, and how far each is off, in pixels; undefined when pairs lie so that
 * they do not determine one. */
export function placeByPairs(
  pairs: readonly PointPair[],
  size: Size,
): { matrix: Matrix3; model: Model; misses: number[] } | undefined {
  const matches: Match[] = pairs.map(({ frame, base }) => ({ from: frame, to: base, sureness: [1, 0, 1] }));
  const options = { noise: 0, robust: false };
  let model = modelOfPairs(pairs.length);
  let matrix = model === 'none' ? IDENTITY3 : fitModel(model, matches, size, options);
  if (!matrix && model === 'perspective') {
    model = 'similarity'; // three of them in a line say no more
    matrix = fitModel(model, matches, size, options);
  }
  return matrix && { matrix, model, misses: matches.map((match) => missOf(match, matrix)) };
}

/** Moves the frame's half of a pair to the exact spot that looks like the base's, near where it was put.
 * @returns Undefined when nothing there looks like it. */
export function snapPair({ frame, base }: PointPair, pictures: Omit<Pair, 'floors'>): PointPair | undefined {
  // Hardly finer than a single tile: enough to tell exposures apart.
  const [a, b] = [pictures.base, pictures.frame].map((source) =>
    wholeSignal(source, Math.max(0, source.levels - 2), FLOOR),
  );
  const floors = floorsFor(exposureStops(a, b));
  const start = shiftMatrix(base.x - frame.x, base.y - frame.y);
  const centre = { x: Math.round(base.x), y: Math.round(base.y) };
  // From a coarser level first, for the hand may be some pixels off.
  let placement = start;
  for (const level of [2, 1, 0]) {
    const scale = 2 ** level;
    const at = { x: Math.round((centre.x + 0.5) / scale - 0.5), y: Math.round((centre.y + 0.5) / scale - 0.5) };
    const found = matchPatch({ ...pictures, floors }, level, at, placement);
    if (typeof found === 'string') {
      if (level > 0) continue;
      return undefined;
    }
    placement = shiftMatrix(found.match.to.x - found.match.from.x, found.match.to.y - found.match.from.y);
  }
  const exact = mapPoint(shiftMatrix(-placement[2], -placement[5]), base);
  return { base, frame: exact };
}

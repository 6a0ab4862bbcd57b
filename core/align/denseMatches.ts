import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Matched } from './alignment.ts';
import type { DensePair } from './dense.ts';
import { SHARED } from './denseKnown.ts';
import type { Match } from './fit.ts';
import { invertSymmetric, solveSymmetric } from './linear.ts';
import { atLevel, fromLevel, mapPoint, type Point } from './placement.ts';
import { readTone } from './readTone.ts';

/** Areas that the picture is cut into. */
const COLUMNS = 9;
const ROWS = 6;
/** Least share of an area that both have to hold. */
const LEAST_SHARE = 0.25;
/** How alike an area has to be for it to have been found again. */
const LEAST_LIKENESS = 0.5;
/** An area that knows its place no better than this, in pixels of its level, tells nothing. */
const LEAST_SURE = 3;
/** Slope across and down, tone, 1, place across and down. */
const TERMS = 6;

/** Looks at large areas of two pictures, one by one, from a placement that holds for the whole: where each lies by itself, and how
 * surely. It is what a dense placement is judged by.
 * @param placement - Frame to base, at full size. */
export function matchAreas(pair: DensePair, placement: Matrix3): Matched {
  const matched: Matched = { matches: [], unlike: [] };
  const { width, height } = pair.base;
  const toFrame = invert3(atLevel(placement, pair.level));
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) {
      const area = {
        left: Math.max(1, Math.floor((column * width) / COLUMNS)),
        top: Math.max(1, Math.floor((row * height) / ROWS)),
        right: Math.min(width - 1, Math.floor(((column + 1) * width) / COLUMNS)),
        bottom: Math.min(height - 1, Math.floor(((row + 1) * height) / ROWS)),
      };
      const found = matchArea(pair, toFrame, area);
      if (found?.match) matched.matches.push(found.match);
      else if (found) matched.unlike.push(mapPoint(fromLevel(pair.level), found.centre));
    }
  return matched;
}

interface Area {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

function matchArea(
  { level, base, frame, across, down }: DensePair,
  toFrame: Matrix3,
  { left, top, right, bottom }: Area,
): { centre: Point; match?: Match } | undefined {
  const a = new Float64Array(TERMS * TERMS);
  const [b, terms, seen] = [new Float64Array(TERMS), new Float64Array(TERMS), new Float64Array(2)];
  const half = { x: (right - left) / 2, y: (bottom - top) / 2 };
  const middle = { x: left + half.x, y: top + half.y };
  let [mass, energy] = [0, 0];
  const heart = { x: 0, y: 0 };
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const i = y * base.width + x;
      if (base.weight[i] === 0) continue;
      const at = mapPoint(toFrame, { x, y });
      readTone(frame, at.x, at.y, seen);
      const weight = base.weight[i] * seen[1];
      if (weight === 0) continue;
      terms.set([across[i], down[i], base.value[i], 1, (x - middle.x) / half.x, (y - middle.y) / half.y]);
      mass += weight;
      energy += weight * seen[0] * seen[0];
      // Where its slopes lie is where it is known.
      const slope = weight * (across[i] ** 2 + down[i] ** 2);
      heart.x += slope * x;
      heart.y += slope * y;
      for (let k = 0; k < TERMS; k++) {
        b[k] += weight * terms[k] * seen[0];
        for (let l = 0; l < TERMS; l++) a[k * TERMS + l] += weight * terms[k] * terms[l];
      }
    }
  if (mass < LEAST_SHARE * (right - left) * (bottom - top)) return undefined;
  const x = solveSymmetric(Float64Array.from(a), b);
  const covariance = invertSymmetric(Float64Array.from(a), TERMS);
  const own = invertSymmetric(
    Float64Array.from([2, 3, 4, 5].flatMap((p) => [2, 3, 4, 5].map((q) => a[p * TERMS + q]))),
    4,
  );
  if (!x || !covariance || !own) return undefined;
  const noise = Math.max(0, energy - b.reduce((sum, value, k) => sum + value * x[k], 0)) / mass;
  const gain = x[2];
  const contrast = gain ** 2 / own[0] / mass;
  const scale = ((noise + 1e-9) * SHARED) / gain ** 2;
  const [xx, xy, yy] = [covariance[0] * scale, covariance[1] * scale, covariance[TERMS + 1] * scale];
  const determinant = xx * yy - xy * xy;
  // Known in one direction at least.
  const least = (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy);
  if (!(determinant > 0) || least > LEAST_SURE ** 2) return undefined;
  const slopes = a[0] + a[TERMS + 1];
  const centre = { x: heart.x / slopes, y: heart.y / slopes };
  if (!(gain > 0.2 && gain < 5) || Math.sqrt(contrast / (contrast + noise)) < LEAST_LIKENESS)
    return contrast < 3 * noise ? undefined : { centre };
  // The base moved by so much is what the frame shows where it was read.
  const toFull = fromLevel(level);
  const shown = { x: centre.x + x[0] / gain, y: centre.y + x[1] / gain };
  const shrink = 4 ** -level / determinant;
  return {
    centre,
    match: {
      from: mapPoint(toFull, mapPoint(toFrame, centre)),
      to: mapPoint(toFull, shown),
      sureness: [yy * shrink, -xy * shrink, xx * shrink],
    },
  };
}

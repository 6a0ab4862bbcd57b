import { IDENTITY3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { deviation, FREEDOM, fitModel, type Match, missOf } from './fit.ts';
import { MODELS, type Model } from './placement.ts';

/** A placement that explains matches. */
export interface Explanation {
  model: Model;
  matrix: Matrix3;
  /** What matches do not know of themselves, in pixels: see `fitModel`. */
  noise: number;
  /** Matches that agree. */
  inliers: Match[];
  /** Why this model: its cost against the next simpler one and the next richer one (Schwarz 1978: chi squared plus numbers of
   * the model times the logarithm of matches); less is better. */
  costs: Partial<Record<Model, number>>;
}

/** Variances within which a match agrees: about three and a half standard deviations in two directions. */
const AGREES = 12;
const NOISE_ROUNDS = 4;
/** A richer model has to earn more than chance: what errors that neighbours share would earn it. */
const STRICTNESS = 6;

/** The simplest motion that explains the matches: the richest that they determine says which of them agree, and each simpler one
 * is then weighed against it on those.
 * @param start - About where the placement is.
 * @param loose - How far matches may be off at first, in pixels, and `least` how far at last, at least. */
export function chooseModel(
  matches: readonly Match[],
  size: Size,
  start: Matrix3,
  { loose, least }: { loose: number; least: number },
): Explanation | undefined {
  const richest = richestFit(matches, size, start, loose, least);
  if (!richest) return undefined;
  const { noise } = richest;
  const inliers = matches.filter((match) => deviation(match, richest.matrix, noise) < AGREES);
  const costs: Explanation['costs'] = {};
  let best: { model: Model; matrix: Matrix3 } | undefined;
  for (const model of MODELS) {
    const matrix =
      model === 'none'
        ? IDENTITY3
        : fitModel(model, inliers, size, {
            start: model === 'perspective' ? richest.matrix : IDENTITY3,
            noise,
            robust: false,
          });
    if (!matrix || inliers.length * 2 <= FREEDOM[model]) continue;
    const misfit = inliers.reduce((sum, match) => sum + deviation(match, matrix, noise), 0);
    costs[model] = misfit + STRICTNESS * FREEDOM[model] * Math.log(Math.max(2, inliers.length));
    if (!best || (costs[model] ?? 0) < (costs[best.model] ?? 0)) best = { model, matrix };
  }
  return best && { ...best, noise, inliers, costs };
}

function richestFit(
  matches: readonly Match[],
  size: Size,
  start: Matrix3,
  loose: number,
  least: number,
): { matrix: Matrix3; noise: number } | undefined {
  let fit: { matrix: Matrix3; noise: number } | undefined;
  const ladder: Model[] = matches.length < 16 ? ['shift', 'similarity'] : ['similarity', 'perspective'];
  for (const model of ladder) {
    let noise = fit?.noise ?? loose;
    let matrix = fit?.matrix ?? start;
    for (let round = 0; round < NOISE_ROUNDS; round++) {
      const next = fitModel(model, matches, size, { start: matrix, noise, robust: true });
      if (!next) return fit;
      matrix = next;
      const misses = matches
        .filter((match) => deviation(match, next, noise) < AGREES)
        .map((match) => missOf(match, next))
        .sort((a, b) => a - b);
      if (misses.length < 4) return fit;
      // 1.17741: the median of a distance in two directions, in standard deviations (Rayleigh).
      noise = Math.max(least, misses[misses.length >> 1] / 1.17741);
    }
    fit = { matrix, noise };
  }
  return fit;
}

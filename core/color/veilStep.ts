import type { Run } from './surroundings.ts';

/** A little of the veil stays, so that what is far looks far (the paper's omega). */
const KEPT = 0.05;
/** Light of which less than this share comes through is not made more of (the paper's t0). */
const LEAST_THROUGH = 0.1;
/** A veil that is laid covers what stands near by this share of what it covers at its thickest. */
const NEAR = 0.3;

/** A veil that is taken away, J = (I - A) / t + A, or laid, the other way round.
 * @param amount - Share that is taken away; below 0, laid.
 * @param veil - Its light. */
export function veilRun(amount: number, veil: readonly [number, number, number]): Run {
  const shares =
    amount >= 0
      ? { amount, thick: 1 - KEPT, near: 0, least: LEAST_THROUGH, veil }
      : { amount, thick: 1 - NEAR, near: NEAR, least: LEAST_THROUGH, veil };
  return (light, { veil: thickness = 0 }, { kernels }) => kernels.lightThroughVeil(thickness, shares, light);
}

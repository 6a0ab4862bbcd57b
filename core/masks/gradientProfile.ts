import { PROFILE_STEPS } from '../kernels/gradient.ts';
import { smoothstep } from '../kernels/smoothstep.ts';
import type { GradientPart } from '../scene/mask.ts';

/** Coverage along a gradient.
 * @param t - 0 where it starts, 1 where it ends.
 * @returns 1 down to 0. */
export function gradientCoverage({ profile, middle }: Pick<GradientPart, 'profile' | 'middle'>, t: number): number {
  // The power that takes the middle to a half.
  const bent = Math.min(1, Math.max(0, t)) ** (Math.log(0.5) / Math.log(middle));
  return 1 - (profile === 'smooth' ? smoothstep(bent) : bent);
}

/** Coverage at even steps of a gradient, for `fillGradient`. */
export function gradientProfile(part: Pick<GradientPart, 'profile' | 'middle'>): Float32Array {
  return Float32Array.from({ length: PROFILE_STEPS + 1 }, (_, step) => gradientCoverage(part, step / PROFILE_STEPS));
}

import { PROFILE_STEPS } from '../kernels/gradient.ts';
import { smoothstep } from '../kernels/smoothstep.ts';

/** How a gradient falls: evenly, or slowly at both ends; and where it has fallen by half, as a share of the way. */
export interface Fall {
  profile: 'linear' | 'smooth';
  middle: number;
}

/** Coverage along a gradient.
 * @param t - 0 where it starts, 1 where it ends.
 * @returns 1 down to 0. */
export function gradientCoverage({ profile, middle }: Fall, t: number): number {
  // The power that takes the middle to a half.
  const bent = Math.min(1, Math.max(0, t)) ** (Math.log(0.5) / Math.log(middle));
  return 1 - (profile === 'smooth' ? smoothstep(bent) : bent);
}

/** Coverage at even steps of a gradient, for `fillGradient`. */
export function gradientProfile(part: Fall): Float32Array {
  return Float32Array.from({ length: PROFILE_STEPS + 1 }, (_, step) => gradientCoverage(part, step / PROFILE_STEPS));
}

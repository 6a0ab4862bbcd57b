import { TILE } from '../raster/size.ts';
import { address, defineKernel } from './defineKernel.ts';
import { smoothstep } from './smoothstep.ts';

/** Steps that a profile is tabled in. */
export const PROFILE_STEPS = 1024;

/** How a fall goes from 1 to 0: straight, softly at both ends, or as a table of {@link PROFILE_STEPS} + 1 even steps says. */
export type FallProfile = 'linear' | 'smooth' | Float32Array;

/** Fills a tile with a fall along a line.
 * @param out - A tile's float plane; overwritten.
 * @param start - How far along the fall the first pixel's centre lies: 0 at its beginning, 1 at its end.
 * @param across - What one pixel to the right adds; likewise `down`. */
export function fillGradient(
  out: Float32Array,
  start: number,
  across: number,
  down: number,
  profile: FallProfile,
): void {
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++)
      out[y * TILE + x] = coverageAt(profile, Math.min(1, Math.max(0, start + across * x + down * y)));
  }
}

function coverageAt(profile: FallProfile, t: number): number {
  if (profile === 'linear') return 1 - t;
  if (profile === 'smooth') return 1 - smoothstep(t);
  const place = t * PROFILE_STEPS;
  const step = Math.min(PROFILE_STEPS - 1, Math.floor(place));
  return profile[step] + (profile[step + 1] - profile[step]) * (place - step);
}

export const fillGradientKernel = defineKernel(fillGradient)({
  compiled: ['gradient'],
  bind:
    ({ wasm }) =>
    (out, start, across, down, profile) => {
      const isTable = typeof profile !== 'string';
      wasm.gradient(address(out), start, across, down, isTable ? address(profile) : 0, profile === 'smooth' ? 1 : 0);
    },
  samples: {
    'a gradient': (make) => [
      ...([make.floats(), make.number(-1, 1), make.number(-0.01, 0.01), 0.003] as const),
      make.table(PROFILE_STEPS + 1, (step) => 1 - step / PROFILE_STEPS),
    ],
    'a smooth gradient': (make) => [make.floats(), make.number(-1, 1), 0.004, make.number(-0.01, 0.01), 'smooth'],
  },
  floats: 1e-5,
});

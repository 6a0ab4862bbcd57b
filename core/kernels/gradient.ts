import { TILE } from '../raster/size.ts';

/** Steps that a profile is tabled in. */
export const PROFILE_STEPS = 1024;

/** Fills a tile with a fall along a line.
 * @param out - A tile's float plane; overwritten.
 * @param start - How far along the fall the first pixel's centre lies: 0 at its beginning, 1 at its end.
 * @param across - What one pixel to the right adds; likewise `down`.
 * @param profile - Coverage at {@link PROFILE_STEPS} + 1 even steps of the fall. */
export function fillGradient(
  out: Float32Array,
  start: number,
  across: number,
  down: number,
  profile: Float32Array,
): void {
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++) {
      const t = Math.min(1, Math.max(0, start + across * x + down * y)) * PROFILE_STEPS;
      const step = Math.min(PROFILE_STEPS - 1, Math.floor(t));
      out[y * TILE + x] = profile[step] + (profile[step + 1] - profile[step]) * (t - step);
    }
  }
}

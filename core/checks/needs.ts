import type { CheckName } from './checkedBlock.ts';

/** A check that could not be made, and why. */
export interface NotMade {
  check: CheckName;
  reason: string;
}

/** Checks that need what frames have not. With fewer than two frames there is nothing to check.
 * @param evs - Stops of the frames' exposures, null where none is known. */
export function notMadeOf(evs: readonly (number | null)[]): NotMade[] {
  const dark = evs.filter((ev) => ev === null).length;
  if (evs.length < 2 || dark === 0) return [];
  return [{ check: 'light', reason: `${dark} of ${evs.length} frames have no exposure data` }];
}

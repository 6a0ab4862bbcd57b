import { type Lens, PLAIN_LENS } from '../raster/lens.ts';
import type { fringes } from './fringes.ts';
import type { lens } from './lens.ts';
import type { Develop } from './list.ts';

/** What settings say of a frame's lens: it counts where the frame is placed.
 * @param develop - That nothing is wrong with. */
export function lensOf(develop: Develop): Lens {
  const bent = develop.lens as typeof lens.rest | undefined;
  const apart = develop.fringes as typeof fringes.rest | undefined;
  if (!bent && !apart) return PLAIN_LENS;
  const { k1 = 0, k2 = 0, k3 = 0 } = bent ?? {};
  const { red = 0, blue = 0 } = apart ?? {};
  return { bend: [k1, k2, k3], red, blue };
}

import type { Mask } from '../scene/mask.ts';
import type { Refinements } from '../scene/refinements.ts';

/** How far a change of coverage can be felt once it is refined, in scene pixels. */
const reachOfOne = ({ softness, edgeFit, grow, coreFill }: Refinements): number =>
  4 * softness + 2 * edgeFit.radius + Math.abs(grow) + (coreFill.amount > 0 ? 2 * coreFill.reach : 0);

/** How far around a stroke a mask changes, in scene pixels. */
export const reachOf = ({ parts, refine }: Mask): number =>
  reachOfOne(refine) +
  Math.max(0, ...parts.filter(({ kind }) => kind === 'painted').map((part) => reachOfOne(part.refine)));

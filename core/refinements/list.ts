import { z } from 'zod';
import type { Source } from '../masks/source.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';
import { coreFill } from './coreFill.ts';
import type { Refinement, RefineTools } from './defineRefinement.ts';
import { edgeFit } from './edgeFit.ts';
import { finish } from './finish.ts';
import { greys } from './greys.ts';
import { grow } from './grow.ts';
import { softness } from './softness.ts';

/** What is done to coverage after it is made, in this order. Every one at rest leaves it as it is. Lengths are in scene pixels. */
export const Refinements = z.strictObject({
  ...greys.schema,
  ...softness.schema,
  ...edgeFit.schema,
  ...grow.schema,
  ...coreFill.schema,
  ...finish.schema,
});
export type Refinements = z.infer<typeof Refinements>;

export const REFINEMENTS: readonly Refinement<Refinements>[] = [
  greys,
  softness,
  edgeFit,
  grow,
  coreFill,
  finish,
] as readonly unknown[] as readonly Refinement<Refinements>[];

export const AT_REST: Refinements = Object.assign({}, ...REFINEMENTS.map(({ rest }) => rest));

/** Those that do something. */
export const activeRefinements = (refine: Refinements): Refinement<Refinements>[] =>
  REFINEMENTS.filter((each) => !each.isAtRest(refine));

/** How far a change of coverage is felt once it is refined, in scene pixels. */
export const reachOfRefinements = (refine: Refinements): number =>
  activeRefinements(refine).reduce((sum, each) => sum + (each.reach?.(refine) ?? 0), 0);

/** Pictures that refining looks at. */
export const sourcesOfRefinements = (refine: Refinements): Source[] =>
  activeRefinements(refine).flatMap((each) => each.sources?.(refine) ?? []);

/** Coverage with what is done to it.
 * @param which - Those that are to be done. */
export const refined = (
  node: TileNode,
  refine: Refinements,
  tools: RefineTools,
  which: (refinement: Refinement<Refinements>) => boolean = () => true,
): TileNode =>
  activeRefinements(refine)
    .filter(which)
    .reduce((now, each) => each.build(now, refine, tools), node);

import type { FrameId, LayerId } from '../../scene/ids.ts';
import type { Mask } from '../../scene/mask.ts';
import { MOST_DEPTH, MOST_STEPS, maskLoad } from '../../scene/maskLoad.ts';
import type { MaskPlace } from '../../scene/places.ts';
import { type Scene, sceneSize } from '../../scene/scene.ts';
import type { Source } from '../../scene/source.ts';
import { MaskNode } from '../nodes/maskNode.ts';
import { RenderError, type TileNode } from '../tiles/renderContext.ts';
import { PlanBuilder, type PlanMemory } from './planBuilder.ts';

/** What can be asked of a scene: each a node whose tiles are pixels or coverage. */
export interface RenderPlan {
  readonly size: { width: number; height: number };
  /** The whole picture. */
  readonly result: TileNode;
  frame(id: FrameId): TileNode;
  /** Where a placed frame is; everywhere for one that covers the scene. */
  inside(id: FrameId): TileNode;
  /** A layer's mask as it is joined and refined, or undefined when there is no such layer. */
  mask(id: LayerId): TileNode | undefined;
  /** A layer's stencil, on or not. */
  stencil(id: LayerId): TileNode | undefined;
  /** The mask at a place, or how a layer is shown by all of them; undefined when there is none. */
  coverage(id: LayerId, of: MaskPlace['of'] | 'shown'): TileNode | undefined;
  /** A mask that the scene need not have, as seen from a layer. */
  recipe(mask: Mask, id: LayerId): TileNode | undefined;
  /** The picture without a layer. */
  without(id: LayerId): TileNode;
  /** The pixels that a source names, as seen from a layer. */
  toneSource(id: LayerId, source: Source): TileNode | undefined;
}

/** Full coverage. */
const EVERYWHERE = new MaskNode([], true);

/** Compiles a scene; undefined while it has no frames.
 * @param memory - The same for all plans of a thread.
 * @param selected - The layer that is being worked on: what lies below it is kept mixed.
 * @throws {RangeError} when the scene names a frame that it does not have.
 * @throws {RenderError} `too-deep` when its masks build on each other further than can be computed, `too-much` when
 * they ask for too many steps. */
export function compilePlan(scene: Scene, memory: PlanMemory = new Map(), selected?: LayerId): RenderPlan | undefined {
  const size = sceneSize(scene);
  if (!size || scene.base === null) return undefined;
  const { depth, steps } = maskLoad(scene);
  if (depth > MOST_DEPTH) throw new RenderError('too-deep', `${depth} of ${MOST_DEPTH}`);
  if (steps > MOST_STEPS) throw new RenderError('too-much', `${steps} of ${MOST_STEPS}`);
  const builder = new PlanBuilder(scene, { memory });
  const coverage = (id: LayerId, of: MaskPlace['of'] | 'shown') => {
    const context = builder.contextOf(id);
    return context && builder.coverage(of, context);
  };
  return {
    size,
    result: builder.result(selected, true),
    frame: (id) => builder.frame(id),
    inside: (id) => builder.inside(id) ?? EVERYWHERE,
    mask: (id) => coverage(id, 'mask'),
    stencil: (id) => coverage(id, 'stencil'),
    coverage,
    recipe: (mask, id) => {
      const context = builder.contextOf(id);
      return context && builder.recipe(mask, context);
    },
    without: (id) => builder.without(id),
    toneSource: (id, source) => {
      const context = builder.contextOf(id);
      return context && builder.source(source, context);
    },
  };
}

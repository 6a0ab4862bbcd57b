import { DetailNode } from '../../develop/detailNode.ts';
import type { FrameId, ItemId } from '../../ids.ts';
import type { Size } from '../../raster/size.ts';
import { isUpright } from '../../scene/geometry.ts';
import { MOST_DEPTH, MOST_STEPS, maskLoad } from '../../scene/maskLoad.ts';
import { type Scene, sceneSize } from '../../scene/scene.ts';
import { CompareNode } from '../nodes/compareNode.ts';
import { CompositeNode } from '../nodes/compositeNode.ts';
import { withExposure } from '../nodes/lightNode.ts';
import { MaskNode } from '../nodes/maskNode.ts';
import { RenderError, sceneExtent, type TileNode } from '../tiles/renderContext.ts';
import { PlanBuilder } from './planBuilder.ts';
import { PlanMemory } from './planMemory.ts';
import { isPicture, type RenderRequest } from './request.ts';

/** What a scene's pixels are made by. */
export interface RenderPlan {
  /** Of the scene. */
  readonly size: Size;
  /** The node whose tiles are what a request names; undefined for what the scene has not.
   * @throws {RangeError} when it names a frame that the scene has not. */
  node(request: RenderRequest): TileNode | undefined;
}

/** One of two plans is asked: that of the scene, or of the one that it is compared with. */
export const nodeOfEither =
  (plan?: RenderPlan, other?: RenderPlan): RenderPlan['node'] =>
  (request) =>
    request.what === 'other' ? other?.node({ what: 'result' }) : plan?.node(request);

/** Compiles a scene; undefined while it has no frames.
 * @param memory - The same for all plans of a thread.
 * @param selected - The item that is being worked on: what lies below it is kept mixed.
 * @throws {RenderError} `too-deep` when its masks build on each other further than can be computed, `too-much` when
 * they ask for too many steps. */
export function compilePlan(scene: Scene, memory = new PlanMemory(), selected?: ItemId): RenderPlan | undefined {
  const size = sceneSize(scene);
  if (!size || scene.base === null) return undefined;
  const { depth, steps } = maskLoad(scene);
  if (depth > MOST_DEPTH) throw new RenderError('too-deep', `${depth} of ${MOST_DEPTH}`);
  if (steps > MOST_STEPS) throw new RenderError('too-much', `${steps} of ${MOST_STEPS}`);
  const builder = new PlanBuilder(scene, sceneExtent(size), { memory });
  const result = builder.result(selected, true);
  // Without steps that finish it the picture is the blend.
  const isResult = ({ what }: RenderRequest) => what === 'result' || (what === 'blend' && scene.finish.length === 0);
  return {
    size,
    node: ({ turned, ...bare }) => {
      const request = bare as RenderRequest;
      if (!turned || (turned === 'finished' && isUncut(scene)))
        return isResult(request) ? result : nodeOf(builder, request as Exclude<RenderRequest, { what: 'result' }>);
      const { what } = request;
      const isWhole = what === 'result' || what === 'blend';
      const once = turned === 'finished' && isWhole ? builder.turnedStack(what, selected) : undefined;
      if (once) return once;
      // What is turned is read by many tiles, so that it is kept.
      const flat = isResult(request)
        ? builder.result(selected)
        : nodeOf(builder, request as Exclude<RenderRequest, { what: 'result' }>);
      const of = { isPicture: isPicture(request), isRounded: isResult(request) };
      return flat && builder.turned(flat, of, turned);
    },
  };
}

/** Standard deviation, in scene pixels, and times of the contrast that spots are looked for with (common practice, no source). */
const RELIEF_RADIUS = 40;
const RELIEF_AMOUNT = 6;

/** Whether the picture is delivered as the scene lies. */
const isUncut = ({ geometry }: Scene): boolean => isUpright(geometry) && geometry.crop === null;

function nodeOf(builder: PlanBuilder, request: Exclude<RenderRequest, { what: 'result' }>): TileNode | undefined {
  const from = (id: ItemId) => builder.contextOf(id);
  const inside = (id: FrameId) => builder.inside(id) ?? new MaskNode([], true, builder.extent);
  switch (request.what) {
    case 'blend':
      return builder.blend();
    case 'relief':
      return new DetailNode(builder.blend(), RELIEF_RADIUS, RELIEF_AMOUNT);
    case 'inner':
      return builder.inner(request.at);
    case 'clipped':
      return builder.clipped(request.at, request.end);
    case 'without':
      return builder.without(request.at);
    case 'frame':
      return withExposure(builder.shownFrame(request.at, request.taken ?? false), -(request.stops ?? 0));
    case 'halves': {
      const source = withExposure(builder.frame(request.at), -request.stops);
      const over = { source, mask: inside(request.at), opacity: request.share };
      return new CompositeNode(builder.frame(request.against), [over], { isTransient: true });
    }
    case 'compared': {
      const frame = withExposure(builder.frame(request.at), -request.stops);
      return new CompareNode(builder.frame(request.against), frame, inside(request.at), request.how, request.stops);
    }
    case 'content':
      return builder.content(request.at);
    case 'covering':
      return builder.covering(request.at);
    case 'tried':
      return builder.tried(request.at, request.as);
    case 'other':
      return undefined;
    case 'source': {
      const context = from(request.at);
      return context && builder.source(request.source, context);
    }
    case 'recipe': {
      const context = from(request.at);
      return context && builder.recipe(request.recipe, context);
    }
    case 'inside':
      return inside(request.at);
    case 'window':
      return builder.window(request.at);
    case 'effect':
      return builder.effect(request.at);
    case 'covers':
      return builder.covers(request.at);
    case 'filled': {
      const context = from(request.at);
      return context && builder.filled(request.of, context);
    }
    default: {
      const context = from(request.at);
      return context && builder.coverage(request.what, context);
    }
  }
}

import { MOST_FRAMES } from '../../checks/holdings.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import { isAtRest } from '../../develop/list.ts';
import type { FrameId, ItemId } from '../../ids.ts';
import type { Size } from '../../raster/size.ts';
import { frameOfLayer } from '../../scene/item.ts';
import { boundsOf } from '../../scene/retouch.ts';
import type { Scene } from '../../scene/scene.ts';
import { activeLeaves, asOneStack } from '../../scene/tree.ts';
import type { TileNode } from '../tiles/renderContext.ts';
import type { RenderPlan } from './plan.ts';
import type { PlaneRequest } from './request.ts';

/** Something that is laid, as checks see it. */
export interface LookedItem {
  id: ItemId;
  /** What would come out if it covered all, and how much of it counts. */
  content: TileNode;
  share: TileNode;
  /** The frame that it shows; undefined for what shows none. */
  frame?: FrameId;
  /** What is below it is changed, not covered. */
  isChange: boolean;
}

export interface LookedFrame {
  id: FrameId;
  picture: TileNode;
  /** As it was taken. */
  taken: TileNode;
  inside: TileNode;
  isPlaced: boolean;
  /** Stops of its exposure; null where none is known. */
  ev: number | null;
}

/** Where a layer's mask would show a placed frame, wherever that is. */
export interface LookedEdge {
  item: ItemId;
  frame: FrameId;
  mask: TileNode;
  opacity: number;
}

/** What checks look at of a scene. */
export interface BlendLook {
  size: Size;
  space: WorkingSpace;
  inLight: boolean;
  base: FrameId;
  bottom: TileNode;
  /** From the base upwards. */
  items: readonly LookedItem[];
  frames: readonly LookedFrame[];
  edges: readonly LookedEdge[];
  /** Parts of the scene that are repaired: what is wrong there is covered. */
  repaired: readonly { x: number; y: number; width: number; height: number }[];
  /** Places that are judged; all if it is not told. */
  within?: TileNode;
}

/** What of a scene is checked. */
export interface CheckScope {
  /** Places that are judged; all if it is not told. */
  within?: PlaneRequest;
  /** The steps that finish the picture as well. */
  finished?: boolean;
}

/** What there is to be checked of a scene; undefined for one in which nothing is blended. */
export function blendLook(
  document: Scene,
  plan: RenderPlan,
  { within, finished = false }: CheckScope = {},
): BlendLook | undefined {
  const scene = finished ? asOneStack(document).scene : document;
  const { base, frames } = scene;
  if (base === null || frames.length < 2) return undefined;
  const bottom = plan.node({ what: 'frame', at: base });
  const items = activeLeaves(scene).flatMap(({ item, groups }): LookedItem[] => {
    const isSeen = [item, ...groups].every(({ visible }) => visible);
    if (!isSeen || (item.item === 'adjustment' && isAtRest(item.kind, item.settings))) return [];
    const content = plan.node({ what: 'covering', at: item.id });
    const share = plan.node({ what: 'effect', at: item.id });
    if (!content || !share) return [];
    const frame = item.item === 'layer' ? frameOfLayer(item) : undefined;
    const isChange = item.item === 'adjustment' || 'below' in item.content || item.mode !== 'normal';
    return [{ id: item.id, content, share, frame, isChange }];
  });
  const edges = activeLeaves(scene).flatMap(({ item, groups }): LookedEdge[] => {
    const frame =
      item.item === 'layer' && [item, ...groups].every(({ visible }) => visible) ? frameOfLayer(item) : undefined;
    const mask = frame !== undefined && plan.node({ what: 'mask', at: item.id });
    return frame !== undefined && mask ? [{ item: item.id, frame, mask, opacity: item.opacity }] : [];
  });
  if (!bottom) return undefined;
  const looked = frames.slice(0, MOST_FRAMES).flatMap(({ id, shot, placement }): LookedFrame[] => {
    const [picture, taken, inside] = [
      plan.node({ what: 'frame', at: id }),
      plan.node({ what: 'frame', at: id, taken: true }),
      plan.node({ what: 'inside', at: id }),
    ];
    return picture && taken && inside
      ? [{ id, picture, taken, inside, isPlaced: placement !== null, ev: shot.ev }]
      : [];
  });
  return {
    size: plan.size,
    space: scene.workingSpace,
    inLight: scene.blendSpace === 'linear',
    base,
    bottom,
    items,
    frames: looked,
    edges: edges.filter(({ frame }) => looked.some(({ id, isPlaced }) => id === frame && isPlaced)),
    repaired: scene.retouch.filter(({ visible }) => visible).map(boundsOf),
    within: within && plan.node(within),
  };
}

import type { FrameId } from '../ids.ts';
import { asTaken, type Source } from '../masks/source.ts';
import { kindOf } from '../parts/list.ts';
import { sourcesOfRefinements } from '../refinements/list.ts';
import { isWorkedOn } from './edits/layersOfFrames.ts';
import type { Item, Layer } from './item.ts';
import type { Mask } from './mask.ts';
import { maskOwners } from './places.ts';
import type { Scene } from './scene.ts';
import { isWaiting } from './tree.ts';

/** What changes with another base, besides what lies at the bottom. */
export interface BaseChange {
  /** Layers of the new base on which something has been done: they wait until it is the base no more. */
  setAside: readonly Layer[];
  /** Layers of the present base that have waited, and come back. */
  comeBack: readonly Layer[];
  /** How many masks read the base: from then on the new one. */
  readers: number;
  /** Whether the new base is placed, so that it may leave borders of the picture bare. */
  isPlaced: boolean;
}

/** What changes when another frame becomes the base. */
export function baseChange(scene: Scene, base: FrameId): BaseChange {
  const items = maskOwners(scene);
  const layersOf = (frame: FrameId | null): Layer[] =>
    items.filter((item) => item.item === 'layer').filter((layer) => isWaiting(layer, frame) && isWorkedOn(layer));
  const placement = scene.frames.find(({ id }) => id === base)?.placement;
  return {
    setAside: layersOf(base),
    comeBack: layersOf(scene.base),
    readers: items.flatMap(masksOf).filter(readsBase).length,
    isPlaced: placement != null && placement.model !== 'none',
  };
}

const masksOf = (item: Item): Mask[] =>
  [item.mask, item.guard, item.item === 'group' ? null : item.stencil?.mask].flatMap((mask) => mask ?? []);

function readsBase({ parts, refine }: Mask): boolean {
  const sources: Source[] = [
    ...sourcesOfRefinements(refine),
    ...parts.flatMap((part) => [...(kindOf(part).sources?.(part) ?? []), ...sourcesOfRefinements(part.refine)]),
  ];
  return sources.some((source) => asTaken(source) === 'base');
}

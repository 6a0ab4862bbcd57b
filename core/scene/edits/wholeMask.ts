import { z } from 'zod';
import { ItemId, type RecipeId } from '../../ids.ts';
import { asDeveloped, isDeveloped, Source } from '../../masks/source.ts';
import type { Part } from '../../parts/list.ts';
import { plainPart } from '../../parts/partBase.ts';
import type { Refinements } from '../../refinements/list.ts';
import { defineEdit } from '../edit.ts';
import { frameOfLayer, type Item } from '../item.ts';
import { type Mask, maskOfParts, newMask } from '../mask.ts';
import { leadsBack } from '../maskGraph.ts';
import { freeze } from '../places.ts';
import type { Scene } from '../scene.ts';
import { findItem, mapItem } from '../tree.ts';
import { fullMask } from './masks.ts';

/** Lays a whole mask on another item in the place of its own, with joins, refinements and guard: a copy; the mask itself, which leaves a new
 * one behind; or a reference that follows it. A copy reads what the original reads: the frame of its layer is named. */
export const layWholeMask = defineEdit({
  kind: 'mask.layWhole',
  label: 'Lay a whole mask',
  params: z.strictObject({ from: ItemId, to: ItemId, as: z.enum(['copy', 'move', 'reference']) }),
  apply: (scene, { from, to, as }) => {
    const [source, target] = [findItem(scene, from), findItem(scene, to)];
    if (!source || !target || from === to) return scene;
    if (isOwnFollower(scene, from, to, as)) return scene;
    const { scene: kept, masks } =
      as === 'reference' ? { scene, masks: followed(source) } : sameElsewhere(scene, source);
    const withMask = mapItem(kept, to, (item) => ({ ...item, ...masks }));
    return as === 'move'
      ? mapItem(withMask, from, (item) => ({ ...item, mask: maskLeft(item), guard: null }))
      : withMask;
  },
});

/** Whether a mask could not be laid on an item since it would follow itself. */
export function isOwnFollower(scene: Scene, from: ItemId, to: ItemId, as: 'copy' | 'move' | 'reference'): boolean {
  const source = findItem(scene, from);
  if (!source) return false;
  if (as === 'reference') return leadsBack(scene, { owner: to, of: 'mask' }, { item: from });
  return refersTo(source, to);
}

type Masks = Pick<Item, 'mask' | 'guard'>;

const refersTo = ({ mask, guard }: Masks, to: ItemId): boolean =>
  [mask, guard].some((each) =>
    each?.parts.some((part) => part.kind === 'reference' && 'item' in part.to && part.to.item === to),
  );

/** A live reference to an item's mask, and to its guard where it has one. */
function followed({ id: item, guard }: Item): Masks {
  const part = (of?: 'guard') =>
    maskOfParts([{ kind: 'reference', ...plainPart('reference'), to: of ? { item, of } : { item } }]);
  return { mask: part(), guard: guard ? part('guard') : null };
}

/** An item's masks as they look from it, to be laid on another; what its strokes were painted through likewise. */
function sameElsewhere(scene: Scene, item: Item): { scene: Scene; masks: Masks } {
  const frame = item.item === 'layer' ? frameOfLayer(item) : undefined;
  if (frame === undefined) return { scene, masks: { mask: item.mask, guard: item.guard } };
  const named = Source.parse(`frame:${frame}`);
  const sourceOf = (source: Source): Source => {
    if (source !== 'layer' && source !== 'developed:layer') return source;
    return isDeveloped(source) ? asDeveloped(named) : named;
  };
  const refined = <T extends { refine: Refinements }>(of: T): T => {
    const { edgeFit } = of.refine;
    return { ...of, refine: { ...of.refine, edgeFit: { ...edgeFit, guide: sourceOf(edgeFit.guide) } } };
  };
  let kept = scene;
  const stencilOf = (id: RecipeId | null): RecipeId | null => {
    const recipe = id === null ? undefined : kept.recipes[id];
    if (!recipe || recipe.seenFrom) return id;
    const frozen = freeze(kept, { ...recipe, mask: maskOf(recipe.mask) });
    kept = frozen.scene;
    return frozen.id;
  };
  const partOf = (part: Part): Part => {
    const next = refined(part);
    if (next.kind === 'painted')
      return { ...next, strokes: next.strokes.map((touch) => ({ ...touch, stencil: stencilOf(touch.stencil) })) };
    return 'source' in next ? { ...next, source: sourceOf(next.source) } : next;
  };
  const maskOf = (mask: Mask): Mask => refined({ ...mask, parts: mask.parts.map(partOf) });
  const masks = { mask: maskOf(item.mask), guard: item.guard && maskOf(item.guard) };
  return { scene: kept, masks };
}

/** What an item whose mask was taken away is left with: a layer is hidden, anything else is everywhere. */
const maskLeft = (item: Item): Mask => (item.item === 'layer' ? newMask() : fullMask(`left-${item.id}`, null));

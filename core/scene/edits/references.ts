import { z } from 'zod';
import { type ItemId, PartId } from '../../ids.ts';
import type { ReferenceTarget } from '../../parts/referenceTarget.ts';
import { defineEdit } from '../edit.ts';
import type { Mask } from '../mask.ts';
import { freeze, MaskPlace, mapMask, mapParts, maskAt } from '../places.ts';
import type { Scene } from '../scene.ts';

/** The mask that a reference follows, and the item that it is seen from. */
function resolveReference(scene: Scene, to: ReferenceTarget): { mask: Mask; seenFrom: ItemId | null } | undefined {
  if ('item' in to) {
    const mask = maskAt(scene, { owner: to.item, of: to.of ?? 'mask' });
    return mask && { mask, seenFrom: to.item };
  }
  const stencil = 'stencil' in to ? scene.stencils.find(({ id }) => id === to.stencil) : undefined;
  return stencil && { mask: stencil.mask, seenFrom: null };
}

/** Makes a reference a copy of the mask that it follows, as it is now. */
export const freezeReference = defineEdit({
  kind: 'mask.freezeReference',
  label: 'Keep a copy of the mask',
  params: z.strictObject({ ...MaskPlace.shape, part: PartId, name: z.string().max(80) }),
  apply: (scene, { part, name, ...place }) => {
    const found = maskAt(scene, place)?.parts.find(({ id }) => id === part);
    const now = found?.kind === 'reference' ? resolveReference(scene, found.to) : undefined;
    if (found?.kind !== 'reference' || !now) return scene;
    const kept = freeze(scene, { of: null, ...now });
    return mapMask(kept.scene, place, (mask) =>
      mapParts(mask, (each) => (each.id === part ? { ...found, to: { frozen: kept.id, of: name } } : each)),
    );
  },
});

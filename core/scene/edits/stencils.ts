import { z } from 'zod';
import { ItemId, StencilId } from '../../ids.ts';
import type { Part } from '../../parts/list.ts';
import { plainPart } from '../../parts/partBase.ts';
import { AT_REST } from '../../refinements/list.ts';
import { defineEdit } from '../edit.ts';
import type { Adjustment, Layer } from '../item.ts';
import { Stencil } from '../mask.ts';
import { freeze, mapMask } from '../places.ts';
import type { Scene } from '../scene.ts';
import { findItem, mapItem } from '../tree.ts';
import { withPartsBeforePainting, withPartsLaid } from './masks.ts';

/** Changes what may have a stencil: all but groups. */
const mapStencilled = (scene: Scene, id: ItemId, change: (item: Layer | Adjustment) => Layer | Adjustment): Scene =>
  mapItem(scene, id, (item) => (item.item === 'group' ? item : change(item)));

/** Gives a layer's brush a stencil to paint through, changes it, or takes it away. */
export const setStencil = defineEdit({
  kind: 'stencil.set',
  label: 'Stencil',
  params: z.strictObject({ layerId: ItemId, stencil: Stencil.nullable() }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, stencil }) =>
    mapStencilled(scene, layerId, (item) => ({ ...item, stencil, stencilOn: stencil !== null })),
});

/** Lets a layer's brush go without its stencil for a while, or with it again. */
export const setStencilOn = defineEdit({
  kind: 'stencil.setOn',
  label: 'Stencil on or off',
  params: z.strictObject({ layerId: ItemId, on: z.boolean() }),
  apply: (scene, { layerId, on }) =>
    mapStencilled(scene, layerId, (item) =>
      item.stencilOn === on || !item.stencil ? item : { ...item, stencilOn: on },
    ),
});

/** Lays a layer's stencil in its mask, before the painting, and lets go of it as stencil. A stencil that is refined as a whole
 * becomes one part. */
export const layStencil = defineEdit({
  kind: 'stencil.lay',
  label: 'Lay stencil as mask',
  params: z.strictObject({
    layerId: ItemId,
    /** What is everything makes way; in older steps it did not. */
    makesWay: z.boolean().default(false),
  }),
  apply: (scene, { layerId, makesWay }) => {
    const lay = makesWay ? withPartsLaid : withPartsBeforePainting;
    const item = findItem(scene, layerId);
    const stencil = item?.item === 'group' ? null : item?.stencil;
    if (!stencil) return scene;
    const [open, parts] = partsOf(scene, stencil);
    const laid = mapMask(open, { owner: layerId, of: 'mask' }, (mask) => lay(mask, parts));
    return mapStencilled(laid, layerId, (each) => ({ ...each, stencil: null, stencilOn: false }));
  },
});

function partsOf(scene: Scene, { id, name, mask }: Stencil): [Scene, readonly Part[]] {
  if (JSON.stringify(mask.refine) === JSON.stringify(AT_REST)) return [scene, mask.parts];
  const kept = freeze(scene, { of: id, seenFrom: null, mask });
  return [
    kept.scene,
    [{ kind: 'reference', ...plainPart('reference'), to: { frozen: kept.id, of: name || 'Stencil' } }],
  ];
}

/** Saves a stencil in the scene under its name, or under another; one of the same id is replaced. */
export const saveStencil = defineEdit({
  kind: 'stencil.save',
  label: 'Save stencil',
  params: z.strictObject({ stencil: Stencil }),
  apply: (scene, { stencil }) => ({
    ...scene,
    stencils: scene.stencils.some(({ id }) => id === stencil.id)
      ? scene.stencils.map((each) => (each.id === stencil.id ? stencil : each))
      : [...scene.stencils, stencil],
  }),
});

/** Takes a saved stencil out of the scene; strokes keep what they were painted through. */
export const dropStencil = defineEdit({
  kind: 'stencil.drop',
  label: 'Drop stencil',
  params: z.strictObject({ id: StencilId }),
  apply: (scene, { id }) => {
    const stencils = scene.stencils.filter((each) => each.id !== id);
    return stencils.length === scene.stencils.length ? scene : { ...scene, stencils };
  },
});

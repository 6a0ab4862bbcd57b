import { z } from 'zod';
import { ItemId, PartId, StrokeId } from '../../ids.ts';
import { Part } from '../../parts/list.ts';
import { beginsWithAll, newPaintedPart } from '../../parts/painted.ts';
import { Join } from '../../parts/partBase.ts';
import { Refinements } from '../../refinements/list.ts';
import { defineEdit } from '../edit.ts';
import { emptyMask, freshPartId, type Mask, maskOfParts } from '../mask.ts';
import { MaskPlace, mapMask, mapParts, maskAt } from '../places.ts';
import type { Scene } from '../scene.ts';
import { mapItem } from '../tree.ts';

const at = MaskPlace.shape;
const placeOf = ({ owner, of }: MaskPlace): MaskPlace => ({ owner, of });
const placeKey = ({ owner, of }: MaskPlace): string => `${owner}:${of}`;
const onePart = { ...at, part: PartId };

const mapPart = (scene: Scene, place: MaskPlace & { part: PartId }, change: (part: Part) => Part): Scene =>
  mapMask(scene, placeOf(place), (mask) => mapParts(mask, (part) => (part.id === place.part ? change(part) : part)));

const withParts = (mask: Mask, parts: Part[]): Mask => ({ ...mask, parts });

/** Adds a part to a mask, at the end or at a place counted from the first; a part of the same id gets another. A guard that is
 * not there yet is made. */
export const addPart = defineEdit({
  kind: 'mask.addPart',
  label: 'Add part',
  params: z.strictObject({ ...at, part: Part, index: z.number().int().nonnegative().optional() }),
  apply: (scene, { owner, of, part, index }) => {
    const open = of === 'guard' ? mapItem(scene, owner, withGuard) : scene;
    return mapMask(open, { owner, of }, (mask) => {
      const taken = mask.parts.some(({ id }) => id === part.id);
      const added = taken ? { ...part, id: freshPartId(mask, part.kind) } : part;
      const to = index ?? mask.parts.length;
      return withParts(mask, [...mask.parts.slice(0, to), added, ...mask.parts.slice(to)]);
    });
  },
});

/** Lays a part in a mask, before its painting. What is everything until then makes way for it, so that the part limits it. */
export const layPart = defineEdit({
  kind: 'mask.layPart',
  label: 'Add part',
  params: z.strictObject({ ...at, part: Part }),
  apply: (scene, { part, ...place }) => mapMask(scene, place, (mask) => withPartsLaid(mask, [part])),
});

/** A mask with more parts before the first painted one. One that is everything until then is no more than those. */
export const withPartsLaid = (mask: Mask, added: readonly Part[]): Mask =>
  added.length === 0 ? mask : withPartsBeforePainting(withoutAll(mask), added);

/** A mask with more parts before the first painted one. */
export function withPartsBeforePainting(mask: Mask, added: readonly Part[]): Mask {
  let grown = mask;
  for (const part of added) {
    const at = grown.parts.findIndex(({ kind }) => kind === 'painted');
    const taken = grown.parts.some(({ id }) => id === part.id);
    const fresh = taken ? { ...part, id: freshPartId(grown, part.kind) } : part;
    grown = withParts(grown, grown.parts.toSpliced(at < 0 ? grown.parts.length : at, 0, fresh));
  }
  return grown;
}

/** A mask without what makes it everything: the fill that its painting begins with, or that it is nothing turned round. */
function withoutAll(mask: Mask): Mask {
  const { inverted, ...others } = mask.refine;
  const [only, ...more] = mask.parts;
  if (!only && inverted) return { parts: [newPaintedPart()], refine: { ...others, inverted: false } };
  if (more.length > 0 || inverted || only?.kind !== 'painted' || !only.enabled || !beginsWithAll(only)) return mask;
  return withParts(mask, [{ ...only, strokes: only.strokes.slice(1) }]);
}

const withGuard = <T extends { guard: Mask | null }>(item: T): T =>
  item.guard ? item : { ...item, guard: emptyMask() };

/** Gives an item a guard that is everything, so that nothing vanishes, and limits it to a part if one is named. */
export const beginGuard = defineEdit({
  kind: 'mask.beginGuard',
  label: 'Add guard',
  params: z.strictObject({ owner: ItemId, part: Part.nullable() }),
  apply: (scene, { owner, part }) =>
    mapItem(scene, owner, (item) => (item.guard ? item : { ...item, guard: fullMask(`all-${owner}`, part) })),
});

/** A mask that is everything, to be painted away, or limited to a part if one is named.
 * @param name - Of the touch that fills it: no other has it. */
export function fullMask(name: string, part: Part | null): Mask {
  const all = newPaintedPart();
  const fill = { id: StrokeId.parse(name), fill: true as const, outline: null, feather: 0 };
  const full = maskOfParts([{ ...all, strokes: [{ ...fill, target: 1, strength: 1, stencil: null }] }]);
  if (!part) return full;
  return withParts(full, [...full.parts, { ...part, id: freshPartId(full, part.kind), join: 'intersect' }]);
}

/** Takes the guard off an item. */
export const removeGuard = defineEdit({
  kind: 'mask.removeGuard',
  label: 'Remove guard',
  params: z.strictObject({ owner: ItemId }),
  apply: (scene, { owner }) => mapItem(scene, owner, (item) => (item.guard ? { ...item, guard: null } : item)),
});

/** Changes some settings of a part; those that its kind has not are refused. Steps of one drag on the same settings are one.
 * @throws {ZodError} when the part would not fit its kind. */
export const setPart = defineEdit({
  kind: 'mask.setPart',
  label: 'Change part',
  params: z.strictObject({ ...onePart, change: z.record(z.string(), z.unknown()) }),
  mergeKey: (params) => `${placeKey(params)}:${params.part}:${Object.keys(params.change).sort().join()}`,
  apply: (scene, { change, ...where }) =>
    mapPart(scene, where, (part) => normalizeRange(Part.parse({ ...part, ...change, id: part.id, kind: part.kind }))),
});

/** A range whose ends were dragged past each other is the same range. */
function normalizeRange(part: Part): Part {
  if (part.kind !== 'tone' || part.from <= part.to) return part;
  return { ...part, from: part.to, to: part.from };
}

/** Changes refinements of a part, or of the whole mask. */
export const setRefinement = defineEdit({
  kind: 'mask.setRefinement',
  label: 'Refine',
  params: z.strictObject({ ...at, part: PartId.nullable(), change: Refinements.partial() }),
  mergeKey: (params) => `${placeKey(params)}:${params.part}:${Object.keys(params.change).sort().join()}`,
  apply: (scene, { part, change, ...place }) =>
    part === null
      ? mapMask(scene, place, (mask) => ({ ...mask, refine: { ...mask.refine, ...change } }))
      : mapPart(scene, { ...place, part }, (each) => ({ ...each, refine: { ...each.refine, ...change } })),
});

/** Takes a part out of a mask. */
export const removePart = defineEdit({
  kind: 'mask.removePart',
  label: 'Remove part',
  params: z.strictObject(onePart),
  apply: (scene, { part, ...place }) =>
    mapMask(scene, place, (mask) => {
      const parts = mask.parts.filter(({ id }) => id !== part);
      return parts.length === mask.parts.length ? mask : withParts(mask, parts);
    }),
});

/** Moves a part to another place among the parts, counted from the first. */
export const movePart = defineEdit({
  kind: 'mask.movePart',
  label: 'Move part',
  params: z.strictObject({ ...onePart, to: z.number().int().nonnegative() }),
  mergeKey: (params) => `${placeKey(params)}:${params.part}`,
  apply: (scene, { part, to, ...place }) =>
    mapMask(scene, place, (mask) => {
      const from = mask.parts.findIndex(({ id }) => id === part);
      if (from < 0 || from === to || to >= mask.parts.length) return mask;
      const parts = [...mask.parts];
      parts.splice(to, 0, ...parts.splice(from, 1));
      return withParts(mask, parts);
    }),
});

/** Puts a copy of a part after it, or lays it in another mask. */
export const copyPart = defineEdit({
  kind: 'mask.copyPart',
  label: 'Copy part',
  params: z.strictObject({
    ...onePart,
    to: MaskPlace.nullable(),
    /** It comes before the painting, and what is everything makes way; in older steps it came last. */
    isLaid: z.boolean().default(false),
  }),
  apply: (scene, { part, to, isLaid, ...place }) => {
    const source = maskAt(scene, place);
    const index = source?.parts.findIndex(({ id }) => id === part) ?? -1;
    if (!source || index < 0) return scene;
    const copy = source.parts[index];
    if (!to) return addPart.applyTo(scene, { ...place, part: copy, index: index + 1 });
    const lays = isLaid && to.of === 'mask' && copy.kind !== 'painted';
    return (lays ? layPart : addPart).applyTo(scene, { ...to, part: copy });
  },
});

/** Chooses how a part meets the parts before it. */
export const setJoin = defineEdit({
  kind: 'mask.setJoin',
  label: 'Join',
  params: z.strictObject({ ...onePart, join: Join }),
  apply: (scene, { join, ...where }) =>
    mapPart(scene, where, (part) => (part.join === join ? part : { ...part, join })),
});

/** Switches a part on or off without losing it. */
export const setPartEnabled = defineEdit({
  kind: 'mask.setPartEnabled',
  label: 'Part on or off',
  params: z.strictObject({ ...onePart, enabled: z.boolean() }),
  apply: (scene, { enabled, ...where }) =>
    mapPart(scene, where, (part) => (part.enabled === enabled ? part : { ...part, enabled })),
});

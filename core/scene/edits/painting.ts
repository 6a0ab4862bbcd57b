import { z } from 'zod';
import { PartId, RecipeId, StencilId, StrokeId } from '../../ids.ts';
import { Touch } from '../../masks/stroke.ts';
import { newPaintedPart } from '../../parts/painted.ts';
import { defineEdit } from '../edit.ts';
import { freshPartId, type Mask, Recipe } from '../mask.ts';
import { freeze, MaskPlace, mapMask, mapParts, maskAt, paintedPartOf } from '../places.ts';
import type { Scene } from '../scene.ts';

/** Adds a finished stroke, or a fill, to a painted part: the one named, or the last that is on, or a new one at the end.
 * What it was painted through is kept as it is now. A run of straight lines grows: each next one is a stroke that takes the place of
 * the one that it goes on from, so that all of it covers evenly. */
export const addStroke = defineEdit({
  kind: 'mask.addStroke',
  label: 'Brush stroke',
  params: z.strictObject({
    ...MaskPlace.shape,
    part: PartId.optional(),
    stroke: Touch,
    through: Recipe.nullable().default(null),
    replaces: StrokeId.optional(),
  }),
  apply: (scene, { owner, of, part, stroke, through, replaces }) => {
    const kept = through && freeze(scene, through);
    const touched = kept ? { ...stroke, stencil: kept.id } : stroke;
    return mapMask(kept?.scene ?? scene, { owner, of }, (mask) => {
      const [open, id] = withPaintedPart(mask, part);
      return mapParts(open, (each) =>
        each.kind === 'painted' && each.id === id
          ? { ...each, strokes: [...each.strokes.filter((before) => before.id !== replaces), touched] }
          : each,
      );
    });
  },
});

function withPaintedPart(mask: Mask, wanted: PartId | undefined): [Mask, PartId] {
  const named = mask.parts.find(({ kind, id }) => kind === 'painted' && id === wanted);
  const id = named?.id ?? paintedPartOf(mask)?.id;
  if (id) return [mask, id];
  const made = newPaintedPart(freshPartId(mask, 'painted'));
  return [{ ...mask, parts: [...mask.parts, made] }, made.id];
}

/** Takes all strokes off a painted part, or off all of a mask. */
export const clearStrokes = defineEdit({
  kind: 'mask.clearStrokes',
  label: 'Clear painting',
  params: z.strictObject({ ...MaskPlace.shape, part: PartId.optional() }),
  apply: (scene, { part, ...place }) =>
    mapMask(scene, place, (mask) =>
      mapParts(mask, (each) =>
        each.kind === 'painted' && each.strokes.length > 0 && (part === undefined || part === each.id)
          ? { ...each, strokes: [] }
          : each,
      ),
    ),
});

/** Recipes of a stencil that strokes of a mask were painted through, but for those that say the same as it does now. */
export function changedSince(scene: Scene, mask: Mask, stencil: { id: StencilId; mask: Mask }): RecipeId[] {
  const used = new Set(
    mask.parts.flatMap((part) => (part.kind === 'painted' ? part.strokes.flatMap((each) => each.stencil ?? []) : [])),
  );
  const now = JSON.stringify(stencil.mask);
  return Object.entries(scene.recipes)
    .filter(([, recipe]) => recipe.of === stencil.id && JSON.stringify(recipe.mask) !== now)
    .map(([id]) => RecipeId.parse(id))
    .filter((id) => used.has(id));
}

/** Lets strokes that were painted through a stencil pass through it as it is now. */
export const repaintThrough = defineEdit({
  kind: 'mask.repaintThrough',
  label: 'Repaint through the stencil',
  params: z.strictObject({ ...MaskPlace.shape, stencil: StencilId, through: Recipe }),
  apply: (scene, { owner, of, stencil, through }) => {
    const before = maskAt(scene, { owner, of });
    const changed = before ? changedSince(scene, before, { id: stencil, mask: through.mask }) : [];
    let open = scene;
    const now = new Map<RecipeId, RecipeId>();
    for (const id of changed) {
      const kept = freeze(open, { ...scene.recipes[id], mask: through.mask });
      open = kept.scene;
      now.set(id, kept.id);
    }
    const repainted = (touch: Touch): Touch => {
      const recipe = touch.stencil && now.get(touch.stencil);
      return recipe ? { ...touch, stencil: recipe } : touch;
    };
    return mapMask(open, { owner, of }, (mask) =>
      mapParts(mask, (part) =>
        part.kind === 'painted' && part.strokes.some((each) => repainted(each) !== each)
          ? { ...part, strokes: part.strokes.map(repainted) }
          : part,
      ),
    );
  },
});

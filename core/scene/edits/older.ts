import { z } from 'zod';
import { LayerId } from '../../ids.ts';
import { GradientPart } from '../../parts/gradient.ts';
import type { Part } from '../../parts/list.ts';
import { newTonePart, type TonePart, ToneSettings } from '../../parts/tone.ts';
import { AT_REST } from '../../refinements/list.ts';
import { defineEdit } from '../edit.ts';
import type { Layer } from '../item.ts';
import { type Mask, Stencil } from '../mask.ts';
import { mapParts } from '../places.ts';
import { mapLayer } from '../tree.ts';
import { withPartsBeforePainting } from './masks.ts';

/** Edits that hold one tone part and one gradient to a mask. Histories of scenes up to version 3 consist of them, and they are
 * short ways to say what is usual. */

/** What the tone part of a layer is used for: laid in the mask, holding the brush, or nothing for now. */
export type ToneUse = 'mask' | 'stencil' | 'off';

const isTone = (part: Part): part is TonePart => part.kind === 'tone';

/** The tone part of a layer, wherever it is in use. */
export function tonePartOf({ mask, stencil }: Layer): TonePart | undefined {
  return mask.parts.find(isTone) ?? stencil?.mask.parts.find(isTone);
}

export function toneUseOf(layer: Layer): ToneUse {
  if (layer.mask.parts.some(isTone)) return 'mask';
  return layer.stencil && layer.stencilOn ? 'stencil' : 'off';
}

const withRefinement = (layer: Layer, change: Partial<Mask['refine']>): Layer => ({
  ...layer,
  mask: { ...layer.mask, refine: { ...layer.mask.refine, ...change } },
});

const stencilOf = (layer: Layer, tone: TonePart): Stencil =>
  Stencil.parse({ id: layer.stencil?.id ?? `stencil-${layer.id}`, name: '', mask: { parts: [tone], refine: AT_REST } });

/** Changes settings of a layer's tone part, making one where there is none (as stencil: it harms nothing). */
export const setTone = defineEdit({
  kind: 'mask.setTone',
  label: 'Tones',
  params: z.strictObject({ layerId: LayerId, tone: ToneSettings.partial() }),
  mergeKey: ({ layerId, tone }) => `${layerId}:${Object.keys(tone).sort().join()}`,
  apply: (scene, { layerId, tone }) =>
    mapLayer(scene, layerId, (layer) => {
      const change = (part: TonePart): TonePart => {
        const next = { ...part, ...tone };
        return { ...next, from: Math.min(next.from, next.to), to: Math.max(next.from, next.to) };
      };
      if (layer.mask.parts.some(isTone))
        return { ...layer, mask: mapParts(layer.mask, (part) => (isTone(part) ? change(part) : part)) };
      const held = tonePartOf(layer);
      if (held) return { ...layer, stencil: stencilOf(layer, change(held)) };
      return { ...layer, stencil: stencilOf(layer, change(newTonePart('base'))), stencilOn: true };
    }),
});

/** Lays the tone part in the mask, hands it to the brush as stencil, or puts it aside; its settings stay. */
export const setToneUse = defineEdit({
  kind: 'mask.setToneUse',
  label: 'Use of tones',
  params: z.strictObject({ layerId: LayerId, use: z.enum(['mask', 'stencil', 'off']) }),
  apply: (scene, { layerId, use }) =>
    mapLayer(scene, layerId, (layer) => {
      if (toneUseOf(layer) === use) return layer;
      const tone = tonePartOf(layer) ?? newTonePart('base');
      const others = layer.mask.parts.filter((part) => !isTone(part));
      const parts = use === 'mask' ? [tone, ...others] : others;
      return {
        ...layer,
        mask: { ...layer.mask, parts },
        stencil: use === 'mask' ? null : stencilOf(layer, tone),
        stencilOn: use === 'stencil',
      };
    }),
});

/** Sets how far the joined mask is blurred, in scene pixels. */
export const setSoftness = defineEdit({
  kind: 'mask.setSoftness',
  label: 'Softness',
  params: z.strictObject({ layerId: LayerId, softness: z.number().min(0).max(400) }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, softness }) => mapLayer(scene, layerId, (layer) => withRefinement(layer, { softness })),
});

/** Turns a mask round: shown where it was hidden. */
export const setInverted = defineEdit({
  kind: 'mask.setInverted',
  label: 'Invert mask',
  params: z.strictObject({ layerId: LayerId, inverted: z.boolean() }),
  apply: (scene, { layerId, inverted }) => mapLayer(scene, layerId, (layer) => withRefinement(layer, { inverted })),
});

/** Lays a gradient in a layer's mask before its painting, or changes the one that is there. */
export const setGradient = defineEdit({
  kind: 'mask.setGradient',
  label: 'Gradient',
  params: z.strictObject({
    layerId: LayerId,
    gradient: GradientPart,
  }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, gradient }) =>
    mapLayer(scene, layerId, (layer) => {
      const parts = layer.mask.parts.filter(({ kind }) => kind !== 'gradient');
      return { ...layer, mask: withPartsBeforePainting({ ...layer.mask, parts }, [gradient]) };
    }),
});

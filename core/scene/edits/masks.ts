import { z } from 'zod';
import { defineEdit, mapLayer } from '../edit.ts';
import { LayerId } from '../ids.ts';
import { GradientPart, Join, type Mask, newTonePart, type Part, Stroke, type TonePart, ToneSettings } from '../mask.ts';
import type { Layer } from '../scene.ts';

/** What the tone part of a layer is used for: laid in the mask, holding the brush, or nothing for now. */
export type ToneUse = 'mask' | 'stencil' | 'off';

const isTone = (part: Part): part is TonePart => part.kind === 'tone';

/** The tone part of a layer, wherever it is in use. */
export function tonePartOf(layer: Layer): TonePart | undefined {
  return layer.mask.parts.find(isTone) ?? layer.stencil?.tone;
}

export function toneUseOf(layer: Layer): ToneUse {
  if (layer.mask.parts.some(isTone)) return 'mask';
  return layer.stencil && layer.stencilOn ? 'stencil' : 'off';
}

const withMask = (layer: Layer, change: Partial<Mask>): Layer => ({ ...layer, mask: { ...layer.mask, ...change } });

function mapParts(layer: Layer, change: (part: Part) => Part): Layer {
  return withMask(layer, { parts: layer.mask.parts.map(change) });
}

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
      if (layer.mask.parts.some(isTone)) return mapParts(layer, (part) => (isTone(part) ? change(part) : part));
      if (layer.stencil) return { ...layer, stencil: { tone: change(layer.stencil.tone) } };
      return { ...layer, stencil: { tone: change(newTonePart('base')) }, stencilOn: true };
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
        ...withMask(layer, { parts }),
        stencil: use === 'mask' ? null : { tone },
        stencilOn: use === 'stencil',
      };
    }),
});

/** Chooses how a part meets the parts before it. */
export const setJoin = defineEdit({
  kind: 'mask.setJoin',
  label: 'Join',
  params: z.strictObject({ layerId: LayerId, part: z.enum(['tone', 'painted']), join: Join }),
  apply: (scene, { layerId, part, join }) =>
    mapLayer(scene, layerId, (layer) => mapParts(layer, (each) => (each.kind === part ? { ...each, join } : each))),
});

/** Switches a part on or off without losing it. */
export const setPartEnabled = defineEdit({
  kind: 'mask.setPartEnabled',
  label: 'Part on or off',
  params: z.strictObject({ layerId: LayerId, part: z.enum(['tone', 'painted']), enabled: z.boolean() }),
  apply: (scene, { layerId, part, enabled }) =>
    mapLayer(scene, layerId, (layer) => mapParts(layer, (each) => (each.kind === part ? { ...each, enabled } : each))),
});

/** Sets how far the joined mask is blurred, in scene pixels. */
export const setSoftness = defineEdit({
  kind: 'mask.setSoftness',
  label: 'Softness',
  params: z.strictObject({ layerId: LayerId, softness: z.number().min(0).max(400) }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, softness }) => mapLayer(scene, layerId, (layer) => withMask(layer, { softness })),
});

/** Turns a mask round: shown where it was hidden. */
export const setInverted = defineEdit({
  kind: 'mask.setInverted',
  label: 'Invert mask',
  params: z.strictObject({ layerId: LayerId, inverted: z.boolean() }),
  apply: (scene, { layerId, inverted }) => mapLayer(scene, layerId, (layer) => withMask(layer, { inverted })),
});

/** Lays a gradient in a layer's mask before its painting, or changes the one that is there. */
export const setGradient = defineEdit({
  kind: 'mask.setGradient',
  label: 'Gradient',
  params: z.strictObject({ layerId: LayerId, gradient: GradientPart }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, gradient }) =>
    mapLayer(scene, layerId, (layer) => {
      const others = layer.mask.parts.filter(({ kind }) => kind !== 'gradient');
      const at = others.findIndex(({ kind }) => kind === 'painted');
      const before = at < 0 ? others.length : at;
      return withMask(layer, { parts: [...others.slice(0, before), gradient, ...others.slice(before)] });
    }),
});

function mapStrokes(layer: Layer, change: (strokes: Stroke[]) => Stroke[]): Layer {
  return mapParts(layer, (part) => (part.kind === 'painted' ? { ...part, strokes: change(part.strokes) } : part));
}

/** Adds a finished stroke to a layer's painted part. */
export const addStroke = defineEdit({
  kind: 'mask.addStroke',
  label: 'Brush stroke',
  params: z.strictObject({ layerId: LayerId, stroke: Stroke }),
  apply: (scene, { layerId, stroke }) =>
    mapLayer(scene, layerId, (layer) => mapStrokes(layer, (strokes) => [...strokes, stroke])),
});

/** Takes all strokes off a layer's painted part. */
export const clearStrokes = defineEdit({
  kind: 'mask.clearStrokes',
  label: 'Clear painting',
  params: z.strictObject({ layerId: LayerId }),
  apply: (scene, { layerId }) => mapLayer(scene, layerId, (layer) => mapStrokes(layer, () => [])),
});

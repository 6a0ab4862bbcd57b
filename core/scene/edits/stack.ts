import { z } from 'zod';
import type { AdjustmentKind } from '../../develop/defineAdjustment.ts';
import {
  ADJUSTMENTS,
  ANY_ADJUSTMENT_NAMES,
  type AnyAdjustment,
  adjustmentKind,
  isOfFrames,
} from '../../develop/list.ts';
import { GroupId, ItemId, LayerId } from '../../ids.ts';
import { Part } from '../../parts/list.ts';
import { newPaintedPart } from '../../parts/painted.ts';
import { defineEdit } from '../edit.ts';
import { type Adjustment, Content, type Group, type Item, type Layer, Mode, newLayer, ToneWindow } from '../item.ts';
import { type Mask, maskOfParts, newMask } from '../mask.ts';
import { canBeSeen } from '../placedPicture.ts';
import { mapParts, withMasks } from '../places.ts';
import { Scene, type Step } from '../scene.ts';
import { everyItem, findItem, groupAround, insertItem, isStep, mapItem, mapItems, mapLayer, ownerOf } from '../tree.ts';
import { fullMask } from './masks.ts';

/** The item or finishing step that something comes to lie on: at the bottom when none is told; `blend` begins the finishing steps. */
const Above = z.union([ItemId, z.strictObject({ blend: z.literal(true) })]).nullable();
type Above = z.infer<typeof Above>;
const liesInFinish = (scene: Scene, above: Above): boolean =>
  above !== null && (typeof above === 'object' || isStep(scene, above));

/** Lays something above an item, in its group; at the bottom when none is told. A frame or a colour is hidden until it is painted in; the
 * picture so far shows at once, since it changes nothing by itself, and so does a picture of its own, which is to be placed. */
export const addLayer = defineEdit({
  kind: 'layer.add',
  label: 'Add layer',
  params: z.strictObject({ id: LayerId, content: Content, above: Above, mode: Mode.default('normal') }),
  apply: (scene, { id, content, above, mode }) => {
    const isShown = !('frame' in content) || scene.frames.some((frame) => frame.id === content.frame);
    if (!isShown || findItem(scene, id)) return scene;
    const isOfStack = 'frame' in content || 'picture' in content;
    if (!isSound(content) || (isOfStack && liesInFinish(scene, above))) return scene;
    const layer = newLayer(id, content);
    return withAbove(scene, { ...layer, mask: begunMask(layer), mode }, above);
  },
});

/** The mask that an item begins with: frames and colours are hidden until they are painted in, maps begin from what changes nothing, and
 * anything else is everywhere. */
function begunMask(item: Layer | Adjustment | Group): Mask {
  const isHidden =
    item.item === 'layer'
      ? !('below' in item.content || 'picture' in item.content)
      : item.item === 'adjustment' && adjustmentKind(item.kind)?.mapFrom !== undefined;
  return isHidden ? newMask() : fullMask(`whole-${item.id}`, null);
}

/** What an adjustment begins with, where at rest nobody would know what it is for. */
const BEGUN: Partial<Record<AnyAdjustment, object>> = {
  grey: { strength: 1 },
  dodgeBurn: { stops: 2 },
  edges: { stops: -0.5 },
  softGlow: { strength: 0.3 },
  highPass: { strength: 0.5 },
};

/** Lays an adjustment at rest above an item: it changes all that lies below it, where its mask reveals it. Or gives it to a layer or group,
 * after what that has: it changes that alone. */
export const addAdjustment = defineEdit({
  kind: 'adjustment.add',
  label: 'Add adjustment',
  params: z.strictObject({
    id: ItemId,
    kind: z.enum(ANY_ADJUSTMENT_NAMES),
    above: Above,
    of: ItemId.optional(),
    /** What it begins with: settings, and the one part that its mask has. */
    settings: z.record(z.string(), z.json()).optional(),
    part: Part.optional(),
  }),
  apply: (scene, { id, kind, above, of, settings: own, part }) => {
    if (findItem(scene, id) || isOfFrames(kind)) return scene;
    const { rest, schema } = adjustmentKind(kind) as AdjustmentKind;
    const settings = schema.parse({ ...rest, ...BEGUN[kind], ...own }) as Adjustment['settings'];
    const bare: Adjustment = {
      ...{ item: 'adjustment', id, kind, settings, mask: newMask(), guard: null },
      ...{ opacity: 1, mode: 'normal', visible: true, label: '', stencil: null, stencilOn: false },
    };
    const laid = { ...bare, mask: part ? maskOfParts([part, newPaintedPart()]) : begunMask(bare) };
    return of ? withOwn(scene, laid, of) : withAbove(scene, laid, above);
  },
});

/** Exposes a layer alone by so many stops more: by its last exposure of its own, or a new one. Steps of one drag are one. */
export const exposeLayer = defineEdit({
  kind: 'layer.expose',
  label: 'Expose to match',
  params: z.strictObject({ layerId: LayerId, id: ItemId, stops: z.number() }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, id, stops }) => {
    const layer = findItem(scene, layerId);
    if (layer?.item !== 'layer') return scene;
    const known = layer.adjustments.findLast(({ kind }) => kind === 'exposure');
    const adjusted = known ? scene : addAdjustment.applyTo(scene, { id, kind: 'exposure', above: null, of: layerId });
    return mapItem(adjusted, known?.id ?? id, (item) => {
      if (item.item !== 'adjustment') return item;
      const { schema } = ADJUSTMENTS.exposure;
      const sum = (item.settings.stops as number) + stops;
      return { ...item, settings: schema.parse({ stops: Math.min(8, Math.max(-8, sum)) }) };
    });
  },
});

/** Gives an adjustment to a layer or a group: it changes that alone. Or takes it from there, to right above it: it changes all that lies
 * below. */
export const setAdjusted = defineEdit({
  kind: 'adjustment.setAdjusted',
  label: 'What is adjusted',
  params: z.strictObject({ id: ItemId, of: ItemId.nullable() }),
  apply: (scene, { id, of }) => {
    const [item, owner] = [findItem(scene, id), ownerOf(scene, id)];
    if (item?.item !== 'adjustment' || (owner?.id ?? null) === of) return scene;
    const to = of === null ? undefined : findItem(scene, of);
    if (of !== null && (!to || to.item === 'adjustment')) return scene;
    const rest = { ...scene, stack: mapItems(scene.stack, (each) => (each.id === id ? undefined : each)) };
    return to ? withOwn(rest, item, to.id) : withAbove(rest, item, owner?.id ?? null);
  },
});

const withOwn = (scene: Scene, laid: Adjustment, of: ItemId): Scene =>
  mapItem(scene, of, (item) =>
    item.item === 'adjustment' ? item : { ...item, adjustments: [...item.adjustments, laid] },
  );

/** Changes settings of an adjustment. Steps of one drag are one.
 * @throws {ZodError} when they do not fit its kind. */
export const setAdjustment = defineEdit({
  kind: 'adjustment.set',
  label: 'Change adjustment',
  params: z.strictObject({ id: ItemId, change: z.record(z.string(), z.json()) }),
  mergeKey: ({ id }) => id,
  apply: (scene, { id, change }) =>
    mapItem(scene, id, (item) => {
      if (item.item !== 'adjustment') return item;
      const { schema } = adjustmentKind(item.kind) as AdjustmentKind;
      const settings = schema.parse({ ...item.settings, ...change }) as Adjustment['settings'];
      return JSON.stringify(settings) === JSON.stringify(item.settings) ? item : { ...item, settings };
    }),
});

/** Lays an item once more, right above itself, with its masks or without; a group with all that lies in it. */
export const duplicateItem = defineEdit({
  kind: 'item.duplicate',
  label: 'Duplicate',
  params: z.strictObject({
    of: ItemId,
    id: ItemId,
    withMask: z.boolean(),
    /** Without its masks it has what a new one has; in older steps it was hidden. */
    isBegun: z.boolean().default(false),
  }),
  apply: (scene, { of, id, withMask, isBegun }) => {
    const item = findItem(scene, of);
    if (!item || findItem(scene, id)) return scene;
    const same = copyOf(item, id);
    const copy = withMask ? same : { ...same, mask: isBegun ? begunMask(same) : newMask(), guard: null };
    const bare = copy.item !== 'group' && !withMask ? { ...copy, stencil: null, stencilOn: false } : copy;
    const owner = ownerOf(scene, of);
    if (!owner || bare.item !== 'adjustment') return withAbove(scene, bare, of);
    const at = owner.adjustments.findIndex((own) => own.id === of) + 1;
    return mapItem(scene, owner.id, (each) =>
      each.item === 'adjustment' ? each : { ...each, adjustments: each.adjustments.toSpliced(at, 0, bare) },
    );
  },
});

/** An item under another id, and so all that it holds; references among them lead to the copies. */
function copyOf(item: Item, id: ItemId): Item {
  const ids = new Map<ItemId, ItemId>([[item.id, id]]);
  for (const each of everyItem([item])) if (!ids.has(each.id)) ids.set(each.id, ItemId.parse(`${id}.${ids.size}`));
  const maskOf = (mask: Mask): Mask =>
    mapParts(mask, (part) =>
      part.kind === 'reference' && 'item' in part.to && ids.has(part.to.item)
        ? { ...part, to: { ...part.to, item: ids.get(part.to.item) as ItemId } }
        : part,
    );
  const [copy] = mapItems([item], (each) => ({ ...withMasks(each, maskOf), id: ids.get(each.id) as never }));
  return copy;
}

function withAbove(scene: Scene, laid: Item, above: Above): Scene {
  if (typeof above === 'object' && above !== null) return { ...scene, finish: [laid as Step, ...scene.finish] };
  const step = scene.finish.findIndex(({ id }) => id === above);
  if (step >= 0) return { ...scene, finish: scene.finish.toSpliced(step + 1, 0, laid as Step) };
  const on = above === null ? null : (ownerOf(scene, above)?.id ?? above);
  const group = on === null ? undefined : groupAround(scene, on);
  // Nothing is found at -1: then it comes to lie at the bottom.
  const at = (group?.items ?? scene.stack).findIndex(({ id }) => id === on) + 1;
  return { ...scene, stack: insertItem(scene.stack, laid, group?.id ?? null, at) };
}

/** Takes an item or a finishing step away; a group with all that lies in it. */
export const removeItem = defineEdit({
  kind: 'item.remove',
  label: 'Remove from the stack',
  params: z.strictObject({ id: ItemId }),
  apply: (scene, { id }) => mapItem(scene, id, () => undefined),
});

/** Sets what a layer shows. Steps of one drag are one. */
export const setContent = defineEdit({
  kind: 'layer.setContent',
  label: ({ content }) =>
    'picture' in content ? 'Place the picture' : 'colour' in content ? 'Colour' : 'Change what shows',
  params: z.strictObject({ layerId: LayerId, content: Content }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, content }) =>
    mapLayer(scene, layerId, (layer) =>
      JSON.stringify(layer.content) === JSON.stringify(content) || !isSound(content) ? layer : { ...layer, content },
    ),
});

/** A picture's corners can be seen. */
const isSound = (content: Content): boolean => !('picture' in content) || canBeSeen(content.picture.corners);

/** Lets a layer show only where tones of itself, and of what lies below it, are within ranges; null: wherever its mask lets it. Steps of one
 * drag are one. */
export const setToneWindow = defineEdit({
  kind: 'layer.setToneWindow',
  label: 'Tone window',
  params: z.strictObject({ layerId: LayerId, window: ToneWindow.nullable() }),
  mergeKey: ({ layerId }) => layerId,
  apply: (scene, { layerId, window }) =>
    mapLayer(scene, layerId, (layer) =>
      JSON.stringify(layer.toneWindow) === JSON.stringify(window) ? layer : { ...layer, toneWindow: window },
    ),
});

/** Mixes a group by itself first, or lays what is in it over what lies below one by one; then it has no mode of its own. */
export const setIsolated = defineEdit({
  kind: 'group.setIsolated',
  label: 'Group on its own',
  params: z.strictObject({ id: GroupId, isolated: z.boolean() }),
  apply: (scene, { id, isolated }) =>
    mapItem(scene, id, (item) =>
      item.item !== 'group' || item.isolated === isolated
        ? item
        : { ...item, isolated, mode: isolated ? item.mode : 'normal' },
    ),
});

/** Mixes light, or encoded values as eyes know them, in the whole stack. */
export const setBlendSpace = defineEdit({
  kind: 'scene.setBlendSpace',
  label: 'What is mixed',
  params: z.strictObject({ blendSpace: Scene.shape.blendSpace }),
  apply: (scene, { blendSpace }) => (scene.blendSpace === blendSpace ? scene : { ...scene, blendSpace }),
});

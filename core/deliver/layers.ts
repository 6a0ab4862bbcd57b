import { isAtRest } from '../develop/list.ts';
import type { ItemId } from '../ids.ts';
import type { PictureRequest, PlaneRequest } from '../render/plan/request.ts';
import type { Frame } from '../scene/frame.ts';
import { isUpright } from '../scene/geometry.ts';
import type { Adjustment, Group, Item, Layer, Mode } from '../scene/item.ts';
import { isEverywhere } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { isWaiting, leavesOf } from '../scene/tree.ts';

/** Modes that the OpenRaster specification (freedesktop.org, 0.0.6) knows, by its names; all of W3C Compositing that we have the like of. */
export const LAYER_MODES: Partial<Record<Mode, string>> = {
  normal: 'svg:src-over',
  multiply: 'svg:multiply',
  screen: 'svg:screen',
  overlay: 'svg:overlay',
  darken: 'svg:darken',
  lighten: 'svg:lighten',
  'color-dodge': 'svg:color-dodge',
  'color-burn': 'svg:color-burn',
  'hard-light': 'svg:hard-light',
  'soft-light': 'svg:soft-light',
  difference: 'svg:difference',
  hue: 'svg:hue',
  saturation: 'svg:saturation',
  color: 'svg:color',
  luminosity: 'svg:luminosity',
  'plus-lighter': 'svg:plus',
};

/** What layers of other programs cannot say, and what became of it. */
export type LayerNote =
  /** Own adjustments of a layer are in its pixels. */
  | { code: 'adjusted'; at: ItemId }
  /** What developing lifts above white is cut there, which shows where such a place is covered in part. */
  | { code: 'above-white' }
  /** Where its tone window hides it, the layer is clear. */
  | { code: 'window'; at: ItemId }
  /** An adjustment, or a copy of the picture so far, is a picture of what it makes of what lies below. */
  | { code: 'change'; at: ItemId }
  /** What its mode makes of what lies below is a picture. */
  | { code: 'mode'; at: ItemId }
  /** It is the picture up to here as a whole. */
  | { code: 'so-far'; at: ItemId }
  /** Light is mixed, which others do not do: all layers are pictures up to there. */
  | { code: 'light' }
  /** Spots and finishing steps are one layer on top. */
  | { code: 'finish' }
  /** Layers lie as the scene does: the picture is turned, or straightened, when it is delivered. */
  | { code: 'not-turned' }
  /** Pixels are in a space that is wider than sRGB; each picture has its profile. */
  | { code: 'wide' };

export interface PlannedLayer {
  item: 'layer';
  /** The item that it is of; undefined for the base and what finishes the picture. */
  id: ItemId | undefined;
  as: 'base' | 'item' | 'finish';
  of: PictureRequest;
  /** What covers; everything, if it is not told. */
  covers: PlaneRequest | undefined;
  opacity: number;
  mode: string;
  visible: boolean;
}

export interface PlannedGroup {
  item: 'group';
  id: ItemId;
  isolated: boolean;
  opacity: number;
  mode: string;
  visible: boolean;
  layers: PlannedItem[];
}
export type PlannedItem = PlannedLayer | PlannedGroup;

/** A scene's stack as layers that other programs can show. */
export interface LayerPlan {
  /** From below upwards. */
  layers: PlannedItem[];
  notes: LayerNote[];
}

/** How a scene becomes layers: what is laid over each other by opacity and mode makes the picture again. What cannot be said in layers is
 * rendered into them. */
export function planLayers(scene: Scene): LayerPlan {
  const notes: LayerNote[] = [];
  if (scene.base === null) return { layers: [], notes };
  const layers: PlannedItem[] = [
    layerOf({ as: 'base', id: undefined, of: { what: 'frame', at: scene.base }, covers: undefined }),
  ];
  if (scene.blendSpace === 'linear' && scene.stack.length > 0) notes.push({ code: 'light' });
  layers.push(...plannedItems(scene, scene.stack, notes));
  const isFinished = scene.finish.some(({ visible }) => visible) || scene.retouch.some(({ visible }) => visible);
  if (isFinished) {
    layers.push(layerOf({ as: 'finish', id: undefined, of: { what: 'result' }, covers: undefined }));
    notes.push({ code: 'finish' });
  }
  if (notes.some(({ code }) => code === 'adjusted' || code === 'change') || scene.frames.some(isLifted))
    notes.push({ code: 'above-white' });
  if (!isUpright(scene.geometry)) notes.push({ code: 'not-turned' });
  if (scene.workingSpace !== 'srgb') notes.push({ code: 'wide' });
  return { layers, notes };
}

/** Whether a frame is developed: light may then lie above white. */
const isLifted = ({ develop }: Frame): boolean =>
  Object.entries(develop).some(([kind, settings]) => !isAtRest(kind, settings));

/** All layers of a plan, from below upwards. */
export function* plannedLayers(items: readonly PlannedItem[]): Generator<PlannedLayer> {
  for (const item of items)
    if (item.item === 'layer') yield item;
    else yield* plannedLayers(item.layers);
}

const layerOf = (layer: Pick<PlannedLayer, 'as' | 'id' | 'of' | 'covers'> & Partial<PlannedLayer>): PlannedLayer => ({
  item: 'layer',
  opacity: 1,
  mode: 'svg:src-over',
  visible: true,
  ...layer,
});

function plannedItems(scene: Scene, items: readonly Item[], notes: LayerNote[]): PlannedItem[] {
  return items.flatMap((item): PlannedItem[] => {
    if (isWaiting(item, scene.base)) return [];
    if (scene.blendSpace === 'linear') return soFar(scene, item, notes, false);
    if (item.item === 'group') return plannedGroup(scene, item, notes);
    if (item.item === 'adjustment') return isAtRest(item.kind, item.settings) ? [] : [change(item, notes)];
    return [plannedLayer(item, notes)];
  });
}

function plannedLayer(layer: Layer, notes: LayerNote[]): PlannedLayer {
  const { id, opacity, visible } = layer;
  if (layer.toneWindow) notes.push({ code: 'window', at: id });
  const mode = LAYER_MODES[layer.mode];
  if ('below' in layer.content) return change(layer, notes);
  if (layer.adjustments.some((each) => each.visible)) notes.push({ code: 'adjusted', at: id });
  if (mode === undefined) notes.push({ code: 'mode', at: id });
  const of: PictureRequest = { what: mode === undefined ? 'covering' : 'content', at: id };
  const covers: PlaneRequest = { what: 'covers', at: id };
  return layerOf({ as: 'item', id, of, covers, opacity, visible, mode: mode ?? 'svg:src-over' });
}

/** What changes all below it, as a picture of what comes out. */
function change(item: Layer | Adjustment, notes: LayerNote[]): PlannedLayer {
  const { id, opacity, visible } = item;
  notes.push({ code: 'change', at: id });
  return layerOf({
    as: 'item',
    id,
    of: { what: 'covering', at: id },
    covers: { what: 'covers', at: id },
    opacity,
    visible,
  });
}

function plannedGroup(scene: Scene, group: Group, notes: LayerNote[]): PlannedItem[] {
  const { id, opacity, visible, isolated } = group;
  if (group.items.length === 0) return [];
  const isOpen = isEverywhere(group.mask) && group.guard === null && group.adjustments.every((each) => !each.visible);
  const inner = isolated ? group.items.every(isPlain) && LAYER_MODES[group.mode] !== undefined : opacity === 1;
  if (!isOpen || !inner) return soFar(scene, group, notes, true);
  const layers = plannedItems(scene, group.items, notes);
  const mode = isolated ? (LAYER_MODES[group.mode] as string) : 'svg:src-over';
  return [{ item: 'group', id, isolated, opacity, mode, visible, layers }];
}

/** Laid on nothing, formulas of modes differ from program to program; plain layers do not. */
const isPlain = (item: Item): boolean => item.item === 'layer' && item.mode === 'normal' && !('below' in item.content);

/** The whole picture up to an item, which covers what lies below it; nothing for one that is hidden. */
function soFar(scene: Scene, item: Item, notes: LayerNote[], isTold: boolean): PlannedItem[] {
  if (!item.visible) return [];
  if (isTold) notes.push({ code: 'so-far', at: item.id });
  const leaves = leavesOf(scene.stack);
  const isIn = ({ item: leaf, groups }: (typeof leaves)[number]) => [leaf, ...groups].some(({ id }) => id === item.id);
  const above = leaves[leaves.findLastIndex(isIn) + 1];
  const of: PictureRequest = above ? { what: 'source', source: 'below', at: above.item.id } : { what: 'blend' };
  return [layerOf({ as: 'item', id: item.id, of, covers: undefined })];
}

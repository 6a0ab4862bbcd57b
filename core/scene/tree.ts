import type { FrameId, GroupId, ItemId, LayerId } from '../ids.ts';
import { kindOf } from '../parts/list.ts';
import { type Adjustment, frameOfLayer, type Group, type Item, type Layer } from './item.ts';
import type { Scene, Step } from './scene.ts';

/** What shows something by itself: an item that is no group, with the groups that it lies in, outermost first. */
export interface Leaf {
  item: Layer | Adjustment;
  groups: readonly Group[];
}

const leaves = new WeakMap<readonly Item[], readonly Leaf[]>();

/** The leaves of a stack, from the base upwards. Stacks never change, so that they are listed once. */
export function leavesOf(stack: readonly Item[]): readonly Leaf[] {
  const known = leaves.get(stack);
  if (known) return known;
  const found: Leaf[] = [];
  const add = (items: readonly Item[], groups: readonly Group[]): void => {
    for (const item of items)
      if (item.item === 'group') add(item.items, [...groups, item]);
      else found.push({ item, groups });
  };
  add(stack, []);
  leaves.set(stack, found);
  return found;
}

/** Whether an item waits for another base: a layer whose frame lies at the bottom already. */
export const isWaiting = (item: Item, base: Scene['base']): boolean =>
  item.item === 'layer' && item.yieldsToBase && base !== null && frameOfLayer(item) === base;

/** The leaves of a scene that do not wait for another base. */
export const activeLeaves = ({ stack, base }: Pick<Scene, 'stack' | 'base'>): Leaf[] =>
  leavesOf(stack).filter(({ item }) => !isWaiting(item, base));

const layers = new WeakMap<readonly Item[], { base: Scene['base']; layers: readonly Layer[] }>();

/** The layers of a scene, from the base upwards, whatever groups they lie in; without those that wait for another base. */
export function layersOf(scene: Pick<Scene, 'stack' | 'base'>): readonly Layer[] {
  const known = layers.get(scene.stack);
  if (known?.base === scene.base) return known.layers;
  const found = activeLeaves(scene).flatMap(({ item }) => (item.item === 'layer' ? [item] : []));
  layers.set(scene.stack, { base: scene.base, layers: found });
  return found;
}

/** What is done to a layer or a group alone. */
export const ownAdjustments = (item: Item): readonly Adjustment[] =>
  item.item === 'adjustment' ? [] : item.adjustments;

/** All items of a stack: groups, and what has adjustments of its own, before what lies in them. */
export function* everyItem(items: readonly Item[]): Generator<Item> {
  for (const item of items) {
    yield item;
    yield* ownAdjustments(item);
    if (item.item === 'group') yield* everyItem(item.items);
  }
}

/** The layer or group that an adjustment is of; undefined for one that changes all that lies below it, and for other items. */
export function ownerOf({ stack }: Pick<Scene, 'stack'>, id: ItemId): Layer | Group | undefined {
  for (const item of everyItem(stack))
    if (item.item !== 'adjustment' && item.adjustments.some((own) => own.id === id)) return item;
  return undefined;
}

/** All of a scene that lies on each other: what is in the stack, and the steps that finish it. */
type Pile = Pick<Scene, 'stack'> & Partial<Pick<Scene, 'finish'>>;

export const groupsOf = ({ stack }: Pick<Scene, 'stack'>): Group[] =>
  [...everyItem(stack)].filter((item) => item.item === 'group');

/** An item of the stack, or a finishing step. */
export function findItem({ stack, finish = [] }: Pile, id: ItemId): Item | undefined {
  for (const item of everyItem(stack)) if (item.id === id) return item;
  return finish.find((step) => step.id === id);
}

/** Whether it is one of the steps that finish the picture. */
export const isStep = ({ finish }: Pick<Scene, 'finish'>, id: ItemId | null): boolean =>
  finish.some((step) => step.id === id);

export const findLayer = (scene: Pick<Scene, 'stack' | 'base'>, id: LayerId | null): Layer | undefined =>
  layersOf(scene).find((layer) => layer.id === id);

/** All that can be worked on, from the base upwards, groups before what lies in them: what does not wait for another base, and what holds
 * something that does not. */
export const cardsOf = ({ stack, base }: Pick<Scene, 'stack' | 'base'>): Item[] => [
  ...everyItem(shownItems(stack, base)),
];

/** The same, and the steps that finish the picture. */
export const cardsAndSteps = (scene: Pick<Scene, 'stack' | 'base' | 'finish'>): Item[] => [
  ...cardsOf(scene),
  ...scene.finish,
];

/** Items of a list that do not wait for another base, and groups that hold one that does not. */
export const shownItems = (items: readonly Item[], base: Scene['base']): Item[] =>
  items.filter((item) => leavesOf([item]).some((leaf) => !isWaiting(leaf.item, base)));

/** The innermost group that an item lies in; of an adjustment of a layer that of the layer. */
export function groupAround(scene: Pick<Scene, 'stack'>, id: ItemId): Group | undefined {
  const owner = ownerOf(scene, id);
  if (owner) return owner.item === 'group' ? owner : groupAround(scene, owner.id);
  return groupsOf(scene).find((group) => group.items.some((item) => item.id === id));
}

/** Whether a layer's mask has anything in it that could show the layer. */
export const showsSomething = ({ mask }: Layer): boolean =>
  mask.refine.inverted ||
  mask.parts.some(
    (part) => part.enabled && !kindOf(part).isBlank?.(part) && (part.kind !== 'painted' || part.strokes.length > 0),
  );

/** All that an item lies in or is of, outermost first. */
export function holdersOf(scene: Pick<Scene, 'stack'>, id: ItemId): (Layer | Group)[] {
  const around = ownerOf(scene, id) ?? groupAround(scene, id);
  return around ? [...holdersOf(scene, around.id), around] : [];
}

/** The layers that show a frame. */
export const layersOfFrame = (scene: Pick<Scene, 'stack' | 'base'>, frame: FrameId): Layer[] =>
  layersOf(scene).filter((layer) => frameOfLayer(layer) === frame);

/** A stack with some items replaced, groups and what has adjustments after those, or left out where `change` answers nothing; the same
 * stack when none is. A group that nothing is left in is left out. */
export function mapItems(items: Item[], change: (item: Item) => Item | undefined): Item[] {
  const within = (item: Item): Item | undefined => {
    if (item.item === 'adjustment') return item;
    const adjustments = changed(item.adjustments, (own) => change(own) as Adjustment | undefined);
    const adjusted = adjustments === item.adjustments ? item : { ...item, adjustments };
    if (adjusted.item !== 'group') return adjusted;
    const inside = mapItems(adjusted.items, change);
    if (inside.length === 0) return undefined;
    return inside === adjusted.items ? adjusted : { ...adjusted, items: inside };
  };
  return changed(items, (item) => {
    const next = within(item);
    return next && change(next);
  });
}

/** A list with some things replaced, or left out where `change` answers nothing; the same list when none is. */
function changed<T>(list: T[], change: (each: T) => T | undefined): T[] {
  const next = list.flatMap((each) => change(each) ?? []);
  return next.length === list.length && next.every((each, index) => each === list[index]) ? list : next;
}

/** The scene with all items and finishing steps changed, or left out where `change` answers nothing; the same scene when nothing is. */
export function mapAllItems(scene: Scene, change: (item: Item) => Item | undefined): Scene {
  const stack = mapItems(scene.stack, change);
  const finish = changed(scene.finish, (step) => change(step) as Step | undefined);
  return stack === scene.stack && finish === scene.finish ? scene : { ...scene, stack, finish };
}

/** The scene with one item or finishing step changed, or left out; the same scene when there is no such, or `change` answers the same. */
export const mapItem = (scene: Scene, id: ItemId, change: (item: Item) => Item | undefined): Scene =>
  mapAllItems(scene, (item) => (item.id === id ? change(item) : item));

/** Likewise with one layer. */
export const mapLayer = (scene: Scene, id: LayerId, change: (layer: Layer) => Layer): Scene =>
  mapItem(scene, id, (item) => (item.item === 'layer' ? change(item) : item));

/** Likewise with all layers; those for which `change` answers nothing are gone. */
export function mapLayers(scene: Scene, change: (layer: Layer) => Layer | undefined): Scene {
  const stack = mapItems(scene.stack, (item) => (item.item === 'layer' ? change(item) : item));
  return stack === scene.stack ? scene : { ...scene, stack };
}

const joined = new WeakMap<readonly Step[], { stack: readonly Item[]; scene: Scene }>();

/** The scene as one stack, its finishing steps on top of what is blended, and how many leaves that has: they are masked, mixed and kept alike. */
export function asOneStack(scene: Scene): { scene: Scene; blended: number } {
  const blended = leavesOf(scene.stack).length;
  if (scene.finish.length === 0) return { scene, blended };
  const known = joined.get(scene.finish);
  const stack = known?.stack === scene.stack ? known.scene.stack : [...scene.stack, ...scene.finish];
  const whole = { ...scene, stack, finish: [] };
  joined.set(scene.finish, { stack: scene.stack, scene: whole });
  return { scene: whole, blended };
}

/** A stack with an item put into a group, or beside groups, before what lies at a place of it. */
export function insertItem(stack: readonly Item[], item: Item, group: GroupId | null, at: number): Item[] {
  if (group === null) return stack.toSpliced(at, 0, item);
  return mapItems([...stack], (each) =>
    each.id === group && each.item === 'group' ? { ...each, items: each.items.toSpliced(at, 0, item) } : each,
  );
}

/** Frames as they lie, the base first; those without a layer at the end. */
export function framesFromBelow(scene: Pick<Scene, 'stack' | 'base' | 'frames'>): FrameId[] {
  const laid = layersOf(scene).flatMap((layer) => frameOfLayer(layer) ?? []);
  return [...new Set([...(scene.base ? [scene.base] : []), ...laid, ...scene.frames.map(({ id }) => id)])];
}

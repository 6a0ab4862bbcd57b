import { z } from 'zod';
import { GroupId, ItemId } from '../../ids.ts';
import { defineEdit } from '../edit.ts';
import type { Item } from '../item.ts';
import type { Scene } from '../scene.ts';
import { everyItem, findItem, groupAround, insertItem, isStep, mapItems, ownerOf, shownItems } from '../tree.ts';

const PlaceOfItem = z.strictObject({ id: ItemId, group: GroupId.nullable(), below: ItemId.nullable() });
type PlaceOfItem = z.infer<typeof PlaceOfItem>;

/** Puts an item of the stack, a group with all that lies in it, somewhere else: into a group or beside all, right below another item there
 * or on top. */
export const placeItem = defineEdit({
  kind: 'item.place',
  label: 'Move in the stack',
  params: PlaceOfItem,
  apply: (scene, { id, group, below }) => {
    if (isStep(scene, id)) return group === null ? withStepBelow(scene, id, below) : scene;
    const item = findItem(scene, id);
    if (!item || id === below || ownerOf(scene, id) || !isPlace(scene, item, group)) return scene;
    const rest = mapItems(scene.stack, (each) => (each.id === id ? undefined : each));
    const siblings = itemsOf(rest, group);
    // A group that held nothing else is gone with what it held.
    if (!siblings) return scene;
    const at = siblings.findIndex((each) => each.id === below);
    if (below !== null && at < 0) return scene;
    const stack = insertItem(rest, item, group, at < 0 ? siblings.length : at);
    return isSameOrder(stack, scene.stack) ? scene : { ...scene, stack };
  },
});

/** A finishing step right below another, or last. */
function withStepBelow(scene: Scene, id: ItemId, below: ItemId | null): Scene {
  const [step] = scene.finish.filter((each) => each.id === id);
  const rest = scene.finish.filter((each) => each.id !== id);
  const at = below === null ? rest.length : rest.findIndex((each) => each.id === below);
  const finish = at < 0 ? scene.finish : rest.toSpliced(at, 0, step);
  return isSameOrder(finish, scene.finish) ? scene : { ...scene, finish };
}

/** Whether an item can lie in a group: not in itself, nor in what lies in it. */
const isPlace = (scene: Scene, item: Item, group: GroupId | null): boolean =>
  group === null ||
  (findItem(scene, group)?.item === 'group' && ![...everyItem([item])].some(({ id }) => id === group));

/** What lies in a group, or beside all groups; undefined when there is no such group. */
function itemsOf(stack: readonly Item[], group: GroupId | null): readonly Item[] | undefined {
  if (group === null) return stack;
  const found = findItem({ stack: [...stack] }, group);
  return found?.item === 'group' ? found.items : undefined;
}

const outline = (items: readonly Item[]): unknown[] =>
  items.map((item) => (item.item === 'group' ? [item.id, outline(item.items)] : item.id));
const isSameOrder = (a: readonly Item[], b: readonly Item[]): boolean =>
  JSON.stringify(outline(a)) === JSON.stringify(outline(b));

/** Where an item goes by one step up or down the stack: past the item beside it, into a group beside it, or out of its own; undefined at the
 * ends. */
export function stepOf(scene: Scene, id: ItemId, by: 1 | -1): PlaceOfItem | undefined {
  const group = groupAround(scene, id);
  const siblings = isStep(scene, id) ? scene.finish : shownItems(group?.items ?? scene.stack, scene.base);
  const at = siblings.findIndex((each) => each.id === id);
  if (at < 0) return undefined;
  const beside = siblings[at + by];
  if (beside?.item === 'group') {
    const lowest = shownItems(beside.items, scene.base)[0];
    return { id, group: beside.id, below: by > 0 ? (lowest?.id ?? null) : null };
  }
  if (beside) return { id, group: group?.id ?? null, below: by > 0 ? (siblings[at + 2]?.id ?? null) : beside.id };
  if (!group) return undefined;
  const outer = groupAround(scene, group.id);
  const around = shownItems(outer?.items ?? scene.stack, scene.base);
  const next = around[around.findIndex((each) => each.id === group.id) + 1];
  return { id, group: outer?.id ?? null, below: by > 0 ? (next?.id ?? null) : group.id };
}

/** Takes a group away and leaves what lies in it; its masks, mode and adjustments are gone with it. */
export const dissolveGroup = defineEdit({
  kind: 'group.dissolve',
  label: 'Dissolve the group',
  params: z.strictObject({ id: GroupId }),
  apply: (scene, { id }) => {
    const group = findItem(scene, id);
    if (group?.item !== 'group') return scene;
    const around = groupAround(scene, id);
    const opened = (items: readonly Item[]) => items.flatMap((item) => (item.id === id ? group.items : [item]));
    if (!around) return { ...scene, stack: opened(scene.stack) };
    const stack = mapItems(scene.stack, (item) =>
      item.id === around.id && item.item === 'group' ? { ...item, items: opened(item.items) } : item,
    );
    return { ...scene, stack };
  },
});

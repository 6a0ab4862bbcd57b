import { z } from 'zod';
import { GroupId, ItemId } from '../../ids.ts';
import { defineEdit } from '../edit.ts';
import { type Group, type Item, Mode } from '../item.ts';
import { type Mask, openMask } from '../mask.ts';
import type { Scene } from '../scene.ts';
import {
  activeLeaves,
  findItem,
  groupAround,
  insertItem,
  type Leaf,
  leavesOf,
  mapItem,
  mapItems,
  shownItems,
} from '../tree.ts';
import { withMode } from '../trials.ts';
import { fullMask } from './masks.ts';

/** Sets how strongly an item shows, in which mode, whether it does, or what it is called. Steps of one drag are one. A group in a mode is
 * one that is on its own. */
export const setItem = defineEdit({
  kind: 'item.set',
  label: ({ change: { mode, opacity, visible } }) => {
    if (mode !== undefined) return `Mode ${mode}`;
    if (opacity !== undefined) return 'Opacity';
    if (visible !== undefined) return visible ? 'Show' : 'Hide';
    return 'Rename';
  },
  params: z.strictObject({
    id: ItemId,
    change: z
      .strictObject({ opacity: z.number().min(0).max(1), visible: z.boolean(), label: z.string().max(80), mode: Mode })
      .partial(),
  }),
  mergeKey: ({ id, change }) => `${id}:${Object.keys(change).sort().join()}`,
  apply: (scene, { id, change }) =>
    mapItem(scene, id, (item) =>
      Object.entries(change).every(([name, value]) => item[name as keyof typeof change] === value)
        ? item
        : withMode({ ...item, ...change }, change.mode ?? item.mode),
    ),
});

/** Moves an item among what shows, counted from the base upwards, whatever groups that lies in. Between two items of a group it
 * joins that, and beside its own it stays in it. */
export const moveItem = defineEdit({
  kind: 'item.move',
  label: 'Move layer',
  params: z.strictObject({ id: ItemId, to: z.number().int().nonnegative() }),
  apply: (scene, { id, to }) => {
    const leaves = activeLeaves(scene);
    const from = leaves.findIndex(({ item }) => item.id === id);
    if (from < 0 || from === to || to >= leaves.length) return scene;
    const { item, groups } = leaves[from];
    const rest = mapItems(scene.stack, (each) => (each.id === id ? undefined : each));
    const others = activeLeaves({ stack: rest, base: scene.base });
    const [below, above] = [others[to - 1], others[to]] as (Leaf | undefined)[];
    const own = groups.at(-1)?.id;
    const isBeside = own !== undefined && [below, above].some((leaf) => leaf?.groups.at(-1)?.id === own);
    const group = isBeside ? own : commonGroup(below, above);
    return { ...scene, stack: insertItem(rest, item, group, placeAfter(rest, group, below)) };
  },
});

/** The innermost group that two leaves lie in. */
function commonGroup(below: Leaf | undefined, above: Leaf | undefined): GroupId | null {
  const shared = below?.groups.filter((group) => above?.groups.includes(group)) ?? [];
  return shared.at(-1)?.id ?? null;
}

/** The place in a group, or outside all, just after what holds a leaf. */
function placeAfter(stack: readonly Item[], group: GroupId | null, leaf: Leaf | undefined): number {
  const path: Item[] = leaf ? [...leaf.groups, leaf.item] : [];
  const items = group === null ? stack : itemsIn(stack, group);
  return items.findIndex((item) => path.includes(item)) + 1;
}

function itemsIn(stack: readonly Item[], group: GroupId): readonly Item[] {
  const leaf = leavesOf(stack).find(({ groups }) => groups.some(({ id }) => id === group));
  return leaf?.groups.find(({ id }) => id === group)?.items ?? [];
}

const newGroup = (id: GroupId, items: Item[], mask: Mask): Group => ({
  item: 'group',
  id,
  items,
  isolated: false,
  adjustments: [],
  mask,
  guard: null,
  opacity: 1,
  mode: 'normal',
  visible: true,
  label: '',
});

/** Joins an item with the one below it: into that one's group, or into a new one of both. A group joins the item right below it. */
export const groupWithBelow = defineEdit({
  kind: 'group.join',
  label: 'Group layers',
  params: z.strictObject({
    layerId: ItemId,
    id: GroupId,
    /** Its mask begins with painting that covers all, as those of adjustments do. In older steps it was nothing, turned round. */
    isPainted: z.boolean().default(false),
  }),
  apply: (scene, { layerId, id, isPainted }) => {
    const made = (items: Item[]) => newGroup(id, items, isPainted ? fullMask(`whole-${id}`, null) : openMask());
    if (findItem(scene, layerId)?.item === 'group') return withGroupJoined(scene, layerId, made);
    const leaves = activeLeaves(scene);
    const index = leaves.findIndex(({ item }) => item.id === layerId);
    const below: Leaf | undefined = leaves[index - 1];
    const group = below?.groups.at(-1);
    const { item, groups } = leaves[index] ?? {};
    if (!below || !item || (group && groups.includes(group))) return scene;
    const rest = mapItems(scene.stack, (each) => (each.id === layerId ? undefined : each));
    const joined = mapItems(rest, (each) => {
      if (!group && each === below.item) return made([each, item]);
      return group && each.id === group.id ? { ...group, items: [...group.items, item] } : each;
    });
    return { ...scene, stack: joined };
  },
});

function withGroupJoined(scene: Scene, joined: ItemId, made: (items: Item[]) => Group): Scene {
  const joinedIn = (items: readonly Item[]): Item[] => {
    const at = items.findIndex((item) => item.id === joined);
    const below = shownItems(items.slice(0, Math.max(0, at)), scene.base).at(-1);
    if (at < 0 || !below)
      return items.map((item) => (item.item === 'group' ? { ...item, items: joinedIn(item.items) } : item));
    const rest = items.filter((item) => item.id !== joined);
    return rest.map((item) => {
      if (item !== below) return item;
      return item.item === 'group' ? { ...item, items: [...item.items, items[at]] } : made([item, items[at]]);
    });
  };
  const around = groupAround(scene, joined);
  const siblings = shownItems(around?.items ?? scene.stack, scene.base);
  return siblings[0]?.id === joined ? scene : { ...scene, stack: joinedIn(scene.stack) };
}

/** Takes an item, and those of its group above it, out of the group. One alone is no group. */
export const ungroup = defineEdit({
  kind: 'group.leave',
  label: 'Ungroup',
  params: z.strictObject({ layerId: ItemId }),
  apply: (scene, { layerId }) => {
    const group = groupAround(scene, layerId);
    return group ? withoutFrom(scene, group, layerId) : scene;
  },
});

function withoutFrom(scene: Scene, group: Group, first: ItemId): Scene {
  const at = group.items.findIndex(({ id }) => id === first);
  const left = group.items.slice(0, at);
  const parted = [...(left.length > 1 ? [{ ...group, items: left }] : left), ...group.items.slice(at)];
  const replace = (items: readonly Item[]): Item[] =>
    items.flatMap((item): Item[] => {
      if (item === group) return parted;
      return [item.item === 'group' ? { ...item, items: replace(item.items) } : item];
    });
  return { ...scene, stack: replace(scene.stack) };
}

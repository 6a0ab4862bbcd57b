import { z } from 'zod';
import { defineEdit, mapLayer } from '../edit.ts';
import { GroupId, LayerId } from '../ids.ts';
import { emptyMask, type Mask } from '../mask.ts';
import { AT_REST } from '../refinements.ts';
import type { Layer, Scene } from '../scene.ts';

/** Shows all: a group hides nothing until its mask says so. */
const openMask = (): Mask => ({ ...emptyMask(), refine: { ...AT_REST, inverted: true } });

/** Groups that no layer belongs to any more are gone. */
function withoutEmpty(scene: Scene): Scene {
  const used = new Set(scene.stack.map(({ group }) => group));
  const groups = scene.groups.filter(({ id }) => used.has(id));
  return groups.length === scene.groups.length ? scene : { ...scene, groups };
}

/** Joins a layer with the one below it: into that one's group, or into a new one of both. */
export const groupWithBelow = defineEdit({
  kind: 'group.join',
  label: 'Group layers',
  params: z.strictObject({ layerId: LayerId, id: GroupId }),
  apply: (scene, { layerId, id }) => {
    const index = scene.stack.findIndex((layer) => layer.id === layerId);
    const below: Layer | undefined = scene.stack[index - 1];
    if (!below || (below.group !== null && below.group === scene.stack[index].group)) return scene;
    const group = below.group ?? id;
    const known = scene.groups.some((each) => each.id === group);
    const groups = known ? scene.groups : [...scene.groups, { id: group, name: '', mask: openMask(), opacity: 1 }];
    const stack = scene.stack.map((layer) => (layer === below || layer.id === layerId ? { ...layer, group } : layer));
    return withoutEmpty({ ...scene, groups, stack });
  },
});

/** Takes a layer, and those of its group above it, out of the group. */
export const ungroup = defineEdit({
  kind: 'group.leave',
  label: 'Ungroup',
  params: z.strictObject({ layerId: LayerId }),
  apply: (scene, { layerId }) => {
    const index = scene.stack.findIndex(({ id }) => id === layerId);
    const group = scene.stack[index]?.group;
    if (!group) return scene;
    const stack = scene.stack.map((layer, at) =>
      at >= index && layer.group === group ? { ...layer, group: null } : layer,
    );
    const left = stack.filter((layer) => layer.group === group);
    // One layer alone is no group.
    const settled =
      left.length === 1 ? stack.map((layer) => (layer.group === group ? { ...layer, group: null } : layer)) : stack;
    return withoutEmpty({ ...scene, stack: settled });
  },
});

/** Names a group, or sets how strongly it shows. */
export const setGroup = defineEdit({
  kind: 'group.set',
  label: 'Change group',
  params: z.strictObject({
    id: GroupId,
    change: z.strictObject({ name: z.string().max(40), opacity: z.number().min(0).max(1) }).partial(),
  }),
  mergeKey: ({ id, change }) => `${id}:${Object.keys(change).join()}`,
  apply: (scene, { id, change }) => ({
    ...scene,
    groups: scene.groups.map((group) => (group.id === id ? { ...group, ...change } : group)),
  }),
});

/** After layers were moved, one that no longer lies beside its group leaves it. */
export function settleGroups(scene: Scene): Scene {
  const seen = new Set<GroupId>();
  let last: GroupId | null = null;
  let settled = scene;
  for (const { id, group } of scene.stack) {
    const leaves: boolean = group !== null && group !== last && seen.has(group);
    if (leaves) settled = mapLayer(settled, id, (layer) => ({ ...layer, group: null }));
    else if (group) seen.add(group);
    last = leaves ? null : group;
  }
  return withoutEmpty(settled);
}

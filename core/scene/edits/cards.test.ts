import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/smallScene.ts';
import { FrameId, GroupId, ItemId, LayerId, StencilId, StrokeId } from '../../ids.ts';
import { plainPart } from '../../parts/partBase.ts';
import { newTonePart } from '../../parts/tone.ts';
import type { Adjustment, Group, Item, Layer } from '../item.ts';
import { isEverywhere, maskOfParts, newMask } from '../mask.ts';
import { newScene, Scene } from '../scene.ts';
import { everyItem, findItem, groupAround, ownerOf } from '../tree.ts';
import { dissolveGroup, placeItem } from './cards.ts';
import { addFrames } from './frames.ts';
import { applyEdit } from './index.ts';
import { groupWithBelow, setItem } from './items.ts';
import { layerIdOf } from './layersOfFrames.ts';
import { addPart, beginGuard } from './masks.ts';
import { addStroke } from './painting.ts';
import { addAdjustment, duplicateItem, removeItem, setAdjusted, setAdjustment } from './stack.ts';
import { setStencil } from './stencils.ts';
import { isOwnFollower, layWholeMask } from './wholeMask.ts';

const size = { width: 30, height: 20 };
const layer = (index: number) => layerIdOf(FrameId.parse(`frame-${index}`));
const id = (name: string) => ItemId.parse(name);
const group = GroupId.parse('group');
const five = [addFrames({ frames: [0, 1, 2, 3, 4].map((index) => madeFrame(index, size)) })].reduce(
  applyEdit,
  newScene('Test'),
);
/** Layers 0, 1, 3 and 4 above the base, 1 and 3 in a group. */
const grouped = applyEdit(five, groupWithBelow({ layerId: layer(3), id: group }));
const outline = (items: readonly Item[]): unknown[] =>
  items.map((item) => (item.item === 'group' ? outline(item.items) : item.id));
const light = id('light');
const lit = applyEdit(grouped, addAdjustment({ id: light, kind: 'exposure', above: null, of: layer(3) }));
const itemIn = <T extends Item>(scene: Scene, name: string) => findItem(scene, id(name)) as T;

describe('cards', () => {
  it('move into groups, out of them, and groups as a whole', () => {
    const [a, b, c, d] = outline(five.stack);
    expect(outline(grouped.stack)).toContainEqual(expect.arrayContaining([layer(3)]));
    const place = (which: string, into: GroupId | null, below: string | null, scene = grouped) =>
      applyEdit(scene, placeItem({ id: id(which), group: into, below: below === null ? null : id(below) }));
    const flat = place(layer(3), null, null);
    expect(groupAround(flat, layer(3))).toBeUndefined();
    expect(flat.stack.at(-1)?.id).toBe(layer(3));
    const joined = place(a as string, group, null);
    expect(itemIn<Group>(joined, group).items.at(-1)?.id).toBe(a);
    const first = place(group, null, a as string);
    expect(first.stack[0].id).toBe(group);
    expect(Scene.safeParse(joined).success).toBe(true);
    // Not into itself, not below itself, not where nothing is, and nowhere else is nothing.
    expect(place(group, group, null)).toBe(grouped);
    expect(place(a as string, null, a as string)).toBe(grouped);
    expect(place(a as string, GroupId.parse('none'), null)).toBe(grouped);
    expect(place(a as string, null, 'none')).toBe(grouped);
    expect(place(grouped.stack.at(-1)?.id as string, null, null)).toBe(grouped);
    expect([b, c, d]).toHaveLength(3);
    // The last out of a group leaves none.
    const alone = [layer(1), layer(2), layer(3)].reduce((scene, each) => place(each, null, null, scene), grouped);
    expect(findItem(alone, group)).toBeUndefined();
  });

  it('of a group are there once it is dissolved, in a group around it as well', () => {
    const names = outline(itemIn<Group>(grouped, group).items);
    expect(outline(applyEdit(grouped, dissolveGroup({ id: group })).stack)).toEqual(outline(five.stack));
    const outer = GroupId.parse('outer');
    const within = itemIn<Group>(grouped, group);
    const nested: Scene = { ...grouped, stack: [{ ...within, id: outer, items: [within] }] };
    const opened = applyEdit(nested, dissolveGroup({ id: group }));
    expect(outline(opened.stack)).toEqual([names]);
  });

  it('have adjustments of their own: made, set, hidden, moved and removed', () => {
    expect(itemIn<Layer>(lit, layer(3)).adjustments.map((own) => own.id)).toEqual([light]);
    expect(ownerOf(lit, light)?.id).toBe(layer(3));
    expect(groupAround(lit, light)?.id).toBe(group);
    const set = [
      setAdjustment({ id: light, change: { stops: 1 } }),
      setItem({ id: light, change: { visible: false, opacity: 0.5, mode: 'screen' } }),
      beginGuard({ owner: light, part: null }),
      addPart({ owner: light, part: newTonePart('developed:layer') }),
    ].reduce(applyEdit, lit);
    expect(findItem(set, light)).toMatchObject({
      settings: { stops: 1 },
      visible: false,
      opacity: 0.5,
      mode: 'screen',
    });
    expect(findItem(set, light)?.guard).not.toBeNull();
    expect(findItem(set, light)?.mask.parts).toHaveLength(2);
    expect(Scene.safeParse(set).success).toBe(true);
    // Taken to the stack it lies right above; given to the group it is the group's.
    const free = applyEdit(set, setAdjusted({ id: light, of: null }));
    const around = itemIn<Group>(free, group).items.map((item) => item.id as string);
    expect(around.indexOf(light)).toBe(around.indexOf(layer(3)) + 1);
    const ofGroup = applyEdit(free, setAdjusted({ id: light, of: id(group) }));
    expect(itemIn<Group>(ofGroup, group).adjustments).toHaveLength(1);
    expect(applyEdit(ofGroup, setAdjusted({ id: light, of: id(group) }))).toBe(ofGroup);
    expect(findItem(applyEdit(ofGroup, removeItem({ id: light })), light)).toBeUndefined();
    expect(applyEdit(lit, placeItem({ id: light, group: null, below: null }))).toBe(lit);
  });

  it('are duplicated with all that they hold under ids of their own, referring to each other', () => {
    const inner = itemIn<Group>(lit, group).items[0].id;
    const referring = applyEdit(
      lit,
      addPart({ owner: layer(3), part: { kind: 'reference', ...plainPart('reference'), to: { item: inner } } }),
    );
    const twice = applyEdit(referring, duplicateItem({ of: id(group), id: id('copy'), withMask: true }));
    expect(Scene.safeParse(twice).success).toBe(true);
    const ids = [...everyItem(twice.stack)].map((item) => item.id as string);
    expect(new Set(ids).size).toBe(ids.length);
    const copy = itemIn<Group>(twice, 'copy');
    expect(copy.items).toHaveLength(itemIn<Group>(referring, group).items.length);
    const [first, last] = [copy.items[0], copy.items.at(-1) as Layer];
    expect(last.adjustments).toHaveLength(1);
    expect(last.mask.parts.find((part) => part.kind === 'reference')).toMatchObject({ to: { item: first.id } });
    const own = applyEdit(lit, duplicateItem({ of: light, id: id('again'), withMask: false }));
    expect(itemIn<Layer>(own, layer(3)).adjustments.map((each) => each.id)).toEqual([light, 'again']);
    // Without its masks it begins as a new one does, so that an adjustment shows; older steps hid it.
    const begun = applyEdit(lit, duplicateItem({ of: light, id: id('again'), withMask: false, isBegun: true }));
    const [hidden, shown] = [own, begun].map((scene) => isEverywhere(itemIn<Adjustment>(scene, 'again').mask));
    expect([hidden, shown]).toEqual([false, true]);
    const bare = applyEdit(lit, duplicateItem({ of: layer(3), id: id('bare'), withMask: false, isBegun: true }));
    expect(itemIn<Layer>(bare, 'bare').mask).toEqual(newMask());
  });
});

describe('a whole mask', () => {
  const stencil = { id: StencilId.parse('tones'), name: '', mask: maskOfParts([newTonePart('layer')]) };
  const stroke = {
    ...{ id: StrokeId.parse('s'), target: 1, size: 50, hardness: 0, strength: 0.5, flow: 1 },
    ...{ pressure: 'none' as const, stencil: null },
  };
  const masked = [
    setStencil({ layerId: layer(1), stencil }),
    addStroke({ owner: layer(1), stroke, through: { of: stencil.id, seenFrom: null, mask: stencil.mask } }),
    addPart({ owner: layer(1), part: { ...newTonePart('layer'), join: 'intersect' } }),
    beginGuard({ owner: layer(1), part: newTonePart('developed:layer') }),
  ].reduce(applyEdit, lit);
  const lay = (as: 'copy' | 'move' | 'reference', to: ItemId = layer(4), scene = masked) =>
    applyEdit(scene, layWholeMask({ from: layer(1), to, as }));

  it('is copied with joins, refinements and guard, and reads the frame that it read', () => {
    const copied = lay('copy');
    const { mask, guard } = itemIn<Layer>(copied, layer(4));
    expect(mask.parts.map(({ kind }) => kind).sort()).toEqual(['painted', 'tone']);
    expect(mask.parts.find(({ kind }) => kind === 'tone')).toMatchObject({
      source: 'frame:frame-1',
      join: 'intersect',
    });
    expect(guard?.parts.at(-1)).toMatchObject({ source: 'developed:frame:frame-1' });
    // What was painted through tones of its layer is painted through those of that frame.
    const painted = mask.parts.find((part) => part.kind === 'painted');
    const through = painted?.strokes.at(-1)?.stencil ?? '';
    expect(copied.recipes[through].mask.parts[0]).toMatchObject({ source: 'frame:frame-1' });
    expect(itemIn<Layer>(copied, layer(1))).toEqual(itemIn<Layer>(masked, layer(1)));
    expect(Scene.safeParse(copied).success).toBe(true);
  });

  it('is moved, or followed by reference, also to adjustments and groups', () => {
    const moved = lay('move', light);
    expect(itemIn<Layer>(moved, layer(1)).guard).toBeNull();
    expect(itemIn<Layer>(moved, layer(1)).mask.parts).toHaveLength(1);
    expect(findItem(moved, light)?.guard).not.toBeNull();
    const followed = lay('reference', id(group));
    expect(findItem(followed, id(group))?.mask.parts).toMatchObject([{ kind: 'reference', to: { item: layer(1) } }]);
    expect(findItem(followed, id(group))?.guard?.parts).toMatchObject([{ to: { item: layer(1), of: 'guard' } }]);
    expect(Scene.safeParse(followed).success).toBe(true);
  });

  it('never follows itself', () => {
    const there = lay('reference');
    expect(isOwnFollower(there, layer(4), layer(1), 'reference')).toBe(true);
    for (const as of ['copy', 'reference'] as const)
      expect(applyEdit(there, layWholeMask({ from: layer(4), to: layer(1), as }))).toBe(there);
    expect(lay('copy', layer(1))).toBe(masked);
    expect(lay('copy', LayerId.parse('none'))).toBe(masked);
  });
});

import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/smallScene.ts';
import { FrameId, GroupId, ItemId, LayerId, StrokeId } from '../../ids.ts';
import type { Group, Layer } from '../item.ts';
import { newScene, Scene } from '../scene.ts';
import { findItem, groupAround } from '../tree.ts';
import { addFrames } from './frames.ts';
import { applyEdit } from './index.ts';
import { groupWithBelow, setItem } from './items.ts';
import { layerIdOf } from './layersOfFrames.ts';
import { addStroke } from './painting.ts';
import { addAdjustment, addLayer, duplicateItem, removeItem, setAdjustment, setContent, setIsolated } from './stack.ts';

const size = { width: 30, height: 20 };
const layer = (index: number) => layerIdOf(FrameId.parse(`frame-${index}`));
const id = (name: string) => LayerId.parse(name);
const group = GroupId.parse('group');
const three = [
  addFrames({ frames: [0, 1, 2].map((index) => madeFrame(index, size)) }),
  addStroke({
    owner: layer(2),
    stroke: {
      ...{ id: StrokeId.parse('s'), target: 1, size: 50, hardness: 0, strength: 0.5, flow: 1 },
      ...{ pressure: 'none', stencil: null },
    },
  }),
].reduce(applyEdit, newScene('Test'));
const grouped = applyEdit(three, groupWithBelow({ layerId: layer(2), id: group }));
const namesIn = (scene: Scene) => scene.stack.map((item) => item.id as string);

describe('the stack', () => {
  it('takes a layer above another, in its group, or at the bottom', () => {
    const red = { id: id('red'), content: { colour: [1, 0, 0] as [number, number, number] } };
    expect(namesIn(applyEdit(three, addLayer({ ...red, above: null })))[0]).toBe('red');
    expect(namesIn(applyEdit(three, addLayer({ ...red, above: layer(0) }))).indexOf('red')).toBe(1);
    const within = applyEdit(grouped, addLayer({ ...red, above: layer(2) }));
    expect(groupAround(within, id('red'))?.items.at(-1)?.id).toBe('red');
    expect(Scene.safeParse(within).success).toBe(true);
    // Nothing is laid twice, and no frame that is not there.
    expect(applyEdit(within, addLayer({ ...red, above: null }))).toBe(within);
    const gone = addLayer({ id: id('gone'), content: { frame: FrameId.parse('gone') }, above: null });
    expect(applyEdit(three, gone)).toBe(three);
  });

  it('shows the picture so far at once, and hides all else until it is painted in', () => {
    const maskOf = (content: Layer['content']) => {
      const scene = applyEdit(three, addLayer({ id: id('new'), content, above: null }));
      return (findItem(scene, id('new')) as Layer).mask;
    };
    expect(maskOf({ below: true }).parts).toMatchObject([{ strokes: [{ fill: true, target: 1, strength: 1 }] }]);
    expect(maskOf({ frame: FrameId.parse('frame-1') }).parts).toMatchObject([{ strokes: [] }]);
  });

  it('duplicates a layer with its mask, or hidden, right above it', () => {
    const [whole, bare] = [true, false].map((withMask) =>
      applyEdit(three, duplicateItem({ of: layer(2), id: id('copy'), withMask })),
    );
    const original = findItem(three, layer(2)) as Layer;
    expect(findItem(whole, id('copy'))).toEqual({ ...original, id: 'copy' });
    expect((findItem(bare, id('copy')) as Layer).mask).not.toEqual(original.mask);
    expect(namesIn(whole).indexOf('copy')).toBe(namesIn(whole).indexOf(layer(2)) + 1);
  });

  it('takes an adjustment at rest, and settings that fit it; none of a lens', () => {
    const light = ItemId.parse('light');
    const added = applyEdit(three, addAdjustment({ id: light, kind: 'exposure', above: layer(0) }));
    expect(findItem(added, light)).toMatchObject({ item: 'adjustment', settings: { stops: 0 } });
    const lit = applyEdit(added, setAdjustment({ id: light, change: { stops: 1.5 } }));
    expect(findItem(lit, light)).toMatchObject({ settings: { stops: 1.5 } });
    expect(applyEdit(lit, setAdjustment({ id: light, change: { stops: 1.5 } }))).toBe(lit);
    expect(() => applyEdit(lit, setAdjustment({ id: light, change: { stops: 99 } }))).toThrow();
    expect(applyEdit(three, addAdjustment({ id: light, kind: 'lens', above: null }))).toBe(three);
    expect(Scene.safeParse(lit).success).toBe(true);
  });

  it('loses an item, and a group with all in it, or when nothing is left in it', () => {
    expect(findItem(applyEdit(grouped, removeItem({ id: group })), layer(2))).toBeUndefined();
    const emptied = (grouped.stack.find((item) => item.id === group) as Group).items.reduce(
      (scene, item) => applyEdit(scene, removeItem({ id: item.id })),
      grouped,
    );
    expect(findItem(emptied, ItemId.parse(group))).toBeUndefined();
    expect(applyEdit(three, removeItem({ id: ItemId.parse('gone') }))).toBe(three);
  });

  it('has groups in a mode on their own, and those that are not in none', () => {
    const lit = applyEdit(grouped, setItem({ id: group, change: { mode: 'screen' } }));
    expect(findItem(lit, group)).toMatchObject({ isolated: true, mode: 'screen' });
    const open = applyEdit(lit, setIsolated({ id: group, isolated: false }));
    expect(findItem(open, group)).toMatchObject({ isolated: false, mode: 'normal' });
    expect(applyEdit(open, setIsolated({ id: group, isolated: false }))).toBe(open);
  });

  it('changes what a layer shows', () => {
    const run = { gradient: { start: { x: 0, y: 0 }, end: { x: 9, y: 9 }, from: [0, 0, 0], to: [1, 1, 1] } } as const;
    const scene = applyEdit(three, setContent({ layerId: layer(0), content: structuredClone(run) as never }));
    expect((findItem(scene, layer(0)) as Layer).content).toEqual(run);
  });
});

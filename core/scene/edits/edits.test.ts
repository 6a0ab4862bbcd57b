import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/smallScene.ts';
import { FrameId, ItemId, LayerId, PartId, StrokeId } from '../../ids.ts';
import { plainPart } from '../../parts/partBase.ts';
import type { EditRecord } from '../edit.ts';
import { dispatch, newHistory, present, redo, restoreHistory, storeSteps, undo } from '../history.ts';
import { frameOfLayer, OPEN_WINDOW } from '../item.ts';
import { newScene, type Scene } from '../scene.ts';
import { findLayer, layersOf } from '../tree.ts';
import { addFrames, orderByExposure, removeFrame, renameScene, setBase } from './frames.ts';
import { orderFrames, prepareStack, renameMoment, setChoice, setLabel, setMoment, setReading } from './gather.ts';
import { applyEdit } from './index.ts';
import { moveItem, setItem } from './items.ts';
import { layerIdOf } from './layersOfFrames.ts';
import { setJoin, setPartEnabled } from './masks.ts';
import { setGradient, setInverted, setSoftness, setTone, setToneUse, tonePartOf, toneUseOf } from './older.ts';
import { addStroke, clearStrokes } from './painting.ts';
import { addAdjustment, addLayer, duplicateItem, removeItem, setContent, setToneWindow } from './stack.ts';

const size = { width: 300, height: 200 };
const frame = (index: number) => FrameId.parse(`frame-${index}`);
const layer = (index: number) => layerIdOf(frame(index));
const three = applyEdit(newScene('Test'), addFrames({ frames: [2, 0, 1].map((index) => madeFrame(index, size)) }));
const stroke = {
  id: StrokeId.parse('s1'),
  target: 1,
  size: 50,
  hardness: 0,
  strength: 0.5,
  flow: 1,
  pressure: 'none' as const,
  stencil: null,
};
const layerOf = (scene: Scene, index: number) => {
  const found = findLayer(scene, layer(index));
  if (!found) throw new Error('no such layer');
  return found;
};

/** Every kind of edit, each on a scene where it changes something. */
const CASES: [string, EditRecord][] = [
  ['frames.add', addFrames({ frames: [madeFrame(7, size)] })],
  ['frame.remove', removeFrame({ frameId: frame(0) })],
  ['scene.setBase', setBase({ frameId: frame(2) })],
  ['frames.orderByExposure', orderByExposure({})],
  ['scene.rename', renameScene({ name: 'Other' })],
  ['frames.setMoment', setMoment({ frameIds: [frame(1)], moment: 'Later' })],
  ['moment.rename', renameMoment({ from: 'Without a time', to: 'Dusk' })],
  ['frames.setChoice', setChoice({ frameIds: [frame(0)], choice: 'out' })],
  ['frame.setLabel', setLabel({ frameId: frame(0), label: 'sky' })],
  ['frames.order', orderFrames({ by: 'name' })],
  ['frames.setReading', setReading({ frameIds: [frame(0)], reading: { untagged: 'prophoto' } })],
  ['stack.prepare', prepareStack({ base: frame(0), order: [frame(2), frame(1)] })],
  ['item.set', setItem({ id: layer(0), change: { opacity: 0.3 } })],
  ['item.set', setItem({ id: layer(0), change: { visible: false } })],
  ['item.set', setItem({ id: layer(0), change: { mode: 'soft-light' } })],
  ['layer.add', addLayer({ id: LayerId.parse('red'), content: { colour: [1, 0, 0] }, above: layer(0) })],
  ['item.duplicate', duplicateItem({ of: layer(2), id: ItemId.parse('copy'), withMask: true })],
  ['adjustment.add', addAdjustment({ id: ItemId.parse('light'), kind: 'exposure', above: null })],
  ['item.remove', removeItem({ id: layer(2) })],
  ['layer.setToneWindow', setToneWindow({ layerId: layer(0), window: { ...OPEN_WINDOW, measure: 'red' } })],
  ['layer.setContent', setContent({ layerId: layer(0), content: { below: true } })],
  ['item.move', moveItem({ id: three.stack[0].id, to: 1 })],
  [
    'mask.setGradient',
    setGradient({
      layerId: layer(0),
      gradient: {
        kind: 'gradient',
        ...plainPart('gradient'),
        join: 'subtract',
        start: { x: 10, y: 5 },
        end: { x: 40, y: 90 },
        profile: 'smooth',
        middle: 0.4,
      },
    }),
  ],
  ['mask.setTone', setTone({ layerId: layer(0), tone: { side: 'dark', narrowing: 2 } })],
  ['mask.setToneUse', setToneUse({ layerId: layer(0), use: 'mask' })],
  ['mask.setJoin', setJoin({ owner: layer(0), part: PartId.parse('painted'), join: 'subtract' })],
  ['mask.setPartEnabled', setPartEnabled({ owner: layer(0), part: PartId.parse('painted'), enabled: false })],
  ['mask.setSoftness', setSoftness({ layerId: layer(0), softness: 12 })],
  ['mask.setInverted', setInverted({ layerId: layer(0), inverted: true })],
  ['mask.addStroke', addStroke({ owner: layer(0), stroke })],
  ['mask.clearStrokes', clearStrokes({ owner: layer(2) })],
];

describe('every edit', () => {
  const start = applyEdit(three, addStroke({ owner: layer(2), stroke }));

  it.each(CASES)('%s changes the scene, comes undone and redone, and survives storing', (kind, record) => {
    expect(record.kind).toBe(kind);
    const frozen = JSON.stringify(start);
    const history = dispatch(newHistory(start), record);
    const after = present(history);
    expect(after).not.toEqual(start);
    expect(JSON.stringify(start)).toBe(frozen);
    expect(present(undo(history))).toBe(start);
    expect(present(redo(undo(history)))).toBe(after);
    const stored = JSON.parse(JSON.stringify(storeSteps(history)));
    expect(present(restoreHistory(after, stored))).toEqual(after);
  });

  it.each(CASES)('%s is no step when it changes nothing', (kind, record) => {
    const once = applyEdit(start, record);
    const twice = applyEdit(once, record);
    if (['item.move', 'mask.addStroke'].includes(kind)) return; // these go on each time
    expect(twice).toEqual(once);
  });

  it('refuses parameters that do not fit', () => {
    expect(() => applyEdit(start, { kind: 'item.set', params: { id: 'x', change: { opacity: 3 } } })).toThrow();
    expect(() => applyEdit(start, { kind: 'no.such', params: {} })).toThrow(RangeError);
  });
});

describe('frames and stack', () => {
  it('propose the middle exposure as base and lay the others above it, nearest first', () => {
    expect(three.base).toBe('frame-1');
    expect(layersOf(three).map(frameOfLayer).sort()).toEqual(['frame-0', 'frame-2']);
    const five = applyEdit(newScene('x'), addFrames({ frames: [0, 1, 2, 3, 4].map((i) => madeFrame(i, size)) }));
    expect(layersOf(five).map(frameOfLayer)).toEqual(['frame-1', 'frame-3', 'frame-0', 'frame-4']);
  });

  it('keep masks when the base changes, and leave frames out that are there already', () => {
    const painted = applyEdit(three, addStroke({ owner: layer(0), stroke }));
    const rebased = applyEdit(painted, setBase({ frameId: frame(2) }));
    expect(layerOf(rebased, 0).mask).toBe(layerOf(painted, 0).mask);
    expect(layersOf(rebased).some((each) => frameOfLayer(each) === 'frame-2')).toBe(false);
    expect(applyEdit(three, addFrames({ frames: [madeFrame(1, size)] }))).toBe(three);
  });

  it('choose another base when the base is removed', () => {
    const without = applyEdit(three, removeFrame({ frameId: frame(1) }));
    expect(without.frames.some(({ id }) => id === without.base)).toBe(true);
    expect(layersOf(without)).toHaveLength(1);
  });
});

describe('the tone part', () => {
  it('begins as a stencil, can be laid as mask, and keeps its settings on the way', () => {
    const made = applyEdit(three, setTone({ layerId: layer(0), tone: { side: 'dark', narrowing: 2 } }));
    expect(toneUseOf(layerOf(made, 0))).toBe('stencil');
    for (const use of ['mask', 'off', 'stencil', 'mask'] as const) {
      const moved = applyEdit(made, setToneUse({ layerId: layer(0), use }));
      expect(toneUseOf(layerOf(moved, 0))).toBe(use);
      expect(tonePartOf(layerOf(moved, 0))).toMatchObject({ side: 'dark', narrowing: 2 });
    }
  });

  it('keeps its range in order', () => {
    const crossed = applyEdit(three, setTone({ layerId: layer(0), tone: { from: 0.8, to: 0.2 } }));
    expect(tonePartOf(layerOf(crossed, 0))).toMatchObject({ from: 0.2, to: 0.8 });
  });

  it('leaves other layers as they were', () => {
    const made = applyEdit(three, setTone({ layerId: layer(0), tone: { side: 'dark' } }));
    expect(layerOf(made, 2)).toBe(layerOf(three, 2));
    expect(applyEdit(three, setTone({ layerId: LayerId.parse('none'), tone: { side: 'dark' } }))).toBe(three);
  });
});

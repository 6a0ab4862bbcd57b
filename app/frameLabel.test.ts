import { describe, expect, it } from 'vitest';
import { FrameId, GroupId, ItemId, LayerId } from '#core/ids.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { groupWithBelow, setItem } from '#core/scene/edits/items.ts';
import { addAdjustment, addLayer, duplicateItem } from '#core/scene/edits/stack.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { everyItem, layersOf } from '#core/scene/tree.ts';
import { madeFrame } from '../tests/smallScene.ts';
import { frameLabel, itemLabel } from './frameLabel.ts';

const SIZE = { width: 30, height: 20 };
const scene = applyEdit(newScene('Test'), addFrames({ frames: [0, 1, 2].map((index) => madeFrame(index, SIZE)) }));
const [dark, bright] = layersOf(scene);
const labels = (of: Scene) => [...everyItem(of.stack)].map((item) => itemLabel(of, item));

describe('names of cards', () => {
  it('are numbered from the second of one name on, in the order of the stack, groups and what leans on layers too', () => {
    const colour = LayerId.parse('colour');
    const made = [
      duplicateItem({ of: dark.id, id: LayerId.parse('again'), withMask: true }),
      addLayer({ id: colour, content: { colour: [1, 0, 0] }, above: bright.id }),
      addLayer({ id: LayerId.parse('other'), content: { colour: [0, 1, 0] }, above: colour }),
      addAdjustment({ id: ItemId.parse('own'), kind: 'exposure', above: null, of: dark.id }),
      addAdjustment({ id: ItemId.parse('all'), kind: 'exposure', above: colour }),
      groupWithBelow({ layerId: LayerId.parse('other'), id: GroupId.parse('group'), isPainted: true }),
    ].reduce(applyEdit, scene);
    const told = labels(made);
    expect(told.filter((label) => label.startsWith('−1 EV'))).toEqual(['−1 EV', '−1 EV (2)']);
    expect(told.filter((label) => label.startsWith('Colour'))).toEqual(['Colour', 'Colour (2)']);
    expect(told.filter((label) => label.startsWith('Exposure'))).toEqual(['Exposure', 'Exposure (2)']);
    // A name of the user's is taken as it is, by as many as have it.
    const named = ['colour', 'other'].map((id) => setItem({ id: ItemId.parse(id), change: { label: 'Rust' } }));
    expect(labels(named.reduce(applyEdit, made)).filter((label) => label.startsWith('Rust'))).toEqual(['Rust', 'Rust']);
  });

  it('leave out what waits for another base, which nobody sees', () => {
    const [, base] = scene.frames;
    const made = applyEdit(
      scene,
      addLayer({ id: LayerId.parse('base'), content: { frame: base.id }, above: bright.id }),
    );
    const waiting = layersOf(made).filter(({ content }) => 'frame' in content && content.frame === base.id);
    expect(waiting.map((layer) => itemLabel(made, layer)).join()).not.toMatch(/\(2\)/);
  });
});

describe('names of frames', () => {
  it('are numbered from the second of one exposure on, but for those that the user named', () => {
    const frames = [0, 1, 1, 1, 2].map((index, at) => {
      const frame = madeFrame(index, SIZE);
      return { ...frame, id: FrameId.parse(`frame-${at}`), label: at === 3 ? 'Calm' : '' };
    });
    const many = { ...scene, frames };
    const told = frames.map(({ id }) => frameLabel(many, id));
    expect(told).toEqual(['−1 EV', '0 EV', '0 EV (2)', 'Calm', '+1 EV']);
    const calm = { ...scene, frames: frames.map((frame) => ({ ...frame, label: 'Calm' })) };
    expect(new Set(frames.map(({ id }) => frameLabel(calm, id)))).toEqual(new Set(['Calm']));
    // A card of the second of them, and one more of the first.
    const [first, second] = [frames[1], frames[2]].map(({ id }) => ({ frame: id }));
    const cards = [
      addLayer({ id: LayerId.parse('one'), content: first, above: bright.id }),
      addLayer({ id: LayerId.parse('two'), content: second, above: LayerId.parse('one') }),
      addLayer({ id: LayerId.parse('three'), content: first, above: LayerId.parse('two') }),
    ].reduce(applyEdit, { ...many, base: frames[0].id, stack: scene.stack.slice(0, 1) });
    const names = labels(cards);
    expect(new Set(names).size).toBe(names.length);
  });

  it('are nothing for one that is not there', () => {
    expect(frameLabel(scene, 'gone')).toBe('');
  });
});

import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { madeFrame } from '../../../tests/smallScene.ts';
import { GroupId, ItemId, LayerId } from '../../ids.ts';
import { type Item, newLayer } from '../item.ts';
import { newScene, Scene } from '../scene.ts';
import { findItem, groupAround, groupsOf, layersOf } from '../tree.ts';
import { addFrames } from './frames.ts';
import { applyEdit } from './index.ts';
import { groupWithBelow, moveItem, setItem, ungroup } from './items.ts';

const [base, frame] = [0, 1].map((index) => madeFrame(index, { width: 10, height: 10 }));
const id = (name: string) => LayerId.parse(name);

/** A scene of single letters, groups in brackets: `a(b(cd))e` from the lowest upwards. */
function sceneOf(text: string): Scene {
  const open: Item[][] = [[]];
  for (const sign of text) {
    if (sign === '(') open.push([]);
    else if (sign === ')') {
      const items = open.pop() as Item[];
      const group = applyEdit(
        { ...newScene(''), stack: [newLayer(id('x'), frame.id), newLayer(id('y'), frame.id)] },
        groupWithBelow({ layerId: id('y'), id: GroupId.parse(`(${items[0].id}`) }),
      ).stack[0] as Item & { item: 'group' };
      open.at(-1)?.push({ ...group, items });
    } else open.at(-1)?.push(newLayer(id(sign), frame.id));
  }
  return { ...applyEdit(newScene('Tree'), addFrames({ frames: [base, frame] })), stack: open[0] };
}
const textOf = (items: readonly Item[]): string =>
  items.map((item) => (item.item === 'group' ? `(${textOf(item.items)})` : item.id)).join('');
const resultOf = (text: string, ...edits: Parameters<typeof applyEdit>[1][]) =>
  textOf(edits.reduce(applyEdit, sceneOf(text)).stack);

describe('moving an item', () => {
  it.each([
    ['abc', 'a', 2, 'bca'],
    ['abc', 'c', 0, 'cab'],
    // Between two of a group it joins that; at the group's ends it stays outside.
    ['a(bc)d', 'a', 1, '(bac)d'],
    ['a(bc)d', 'd', 2, 'a(bdc)'],
    ['a(bc)d', 'd', 1, 'ad(bc)'],
    // Beside its own it stays in it.
    ['a(bc)d', 'b', 2, 'a(cb)d'],
    ['a(bc)d', 'c', 3, 'a(b)dc'],
    ['(ab)(cd)', 'b', 2, '(a)(cbd)'],
    // A group that nothing is left in is gone.
    ['(a)bc', 'a', 2, 'bca'],
    ['a(b(cd)e)f', 'f', 3, 'a(b(cfd)e)'],
    ['a(b(cd)e)f', 'f', 2, 'a(bf(cd)e)'],
  ])('%s: %s to %i gives %s', (before, name, to, expected) => {
    expect(resultOf(before, moveItem({ id: id(name), to }))).toBe(expected);
  });

  it('leaves the order of all others alone, wherever it goes', () => {
    const random = alea('moves');
    const pick = (count: number) => Math.floor(random() * count);
    for (let run = 0; run < 300; run++) {
      const scene = sceneOf(['abcdef', 'a(bc)def', '(ab)(cd)ef', 'a(b(cd)e)f', '((ab)c)(d)ef'][pick(5)]);
      const before = layersOf(scene).map((layer) => layer.id);
      const [moved, to] = [before[pick(6)], pick(6)];
      const next = applyEdit(scene, moveItem({ id: moved, to }));
      const expected = before.filter((each) => each !== moved);
      expected.splice(to, 0, moved);
      expect(layersOf(next).map((layer) => layer.id)).toEqual(expected);
      expect(Scene.safeParse(next).success).toBe(true);
    }
  });
});

describe('groups', () => {
  const join = (name: string) => groupWithBelow({ layerId: id(name), id: GroupId.parse('new') });
  const leave = (name: string) => ungroup({ layerId: id(name) });

  it.each([
    ['abc', 'b', '(ab)c'],
    ['(ab)c', 'c', '(abc)'],
    ['a(bc)', 'b', '(ab)(c)'],
    ['(ab)c', 'b', '(ab)c'],
    ['abc', 'a', 'abc'],
    ['a(b(cd))e', 'e', 'a(b(cde))'],
  ])('%s: joining %s with what lies below gives %s', (before, name, expected) => {
    expect(resultOf(before, join(name))).toBe(expected);
  });

  it.each([
    ['(abc)d', 'c', '(ab)cd'],
    ['(abc)d', 'b', 'abcd'],
    ['(ab)c', 'a', 'abc'],
    ['a(b(cd)e)', 'd', 'a(bcde)'],
    ['abc', 'b', 'abc'],
  ])('%s: taking %s out gives %s', (before, name, expected) => {
    expect(resultOf(before, leave(name))).toBe(expected);
  });

  it('keep their mask, strength and name while items come and go', () => {
    const scene = [
      join('b'),
      setItem({ id: ItemId.parse('new'), change: { opacity: 0.4, label: 'Sky' } }),
      join('c'),
      moveItem({ id: id('a'), to: 1 }),
    ].reduce(applyEdit, sceneOf('abcd'));
    expect(textOf(scene.stack)).toBe('(bac)d');
    expect(findItem(scene, ItemId.parse('new'))).toMatchObject({ opacity: 0.4, label: 'Sky' });
    expect(groupAround(scene, id('c'))?.id).toBe('new');
    expect(groupAround(scene, id('d'))).toBeUndefined();
    expect(groupsOf(applyEdit(scene, leave('b')))).toEqual([]);
  });
});

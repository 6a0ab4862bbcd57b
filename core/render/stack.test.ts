import { describe, expect, it } from 'vitest';
import { randomScene } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { nodeOf, resultOf, size, sources } from '../../tests/renderScene.ts';
import { smallScene } from '../../tests/smallScene.ts';
import { GroupId, ItemId, LayerId } from '../ids.ts';
import { allTiles } from '../raster/region.ts';
import { type Adjustment, type Group, type Item, type Layer, newLayer, OPEN_WINDOW } from '../scene/item.ts';
import { openMask } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { mapLayers } from '../scene/tree.ts';
import { tried } from '../scene/trials.ts';
import { writeTile } from './plan/readings.ts';

const made = smallScene(size, sources);
const { context } = made;

/** The whole picture. */
function pixelsOf(scene: Scene): Uint16Array {
  const image = { region: { x: 0, y: 0, ...size }, pixels: new Uint16Array(size.width * size.height * 3) };
  const result = resultOf(scene);
  for (const { tx, ty } of allTiles(size, 0)) writeTile(result, tx, ty, image, context);
  return image.pixels;
}
const keyOf = (scene: Scene) => [...resultOf(scene).keyAt({ level: 0, tx: 1, ty: 0 }, context)];
const groupOf = (items: Item[], isolated: boolean): Group => ({
  ...{ item: 'group', id: GroupId.parse('all'), items, isolated, adjustments: [], mask: openMask(), guard: null },
  ...{ opacity: 1, mode: 'normal', visible: true, label: '' },
});
const worst = (a: Uint16Array, b: Uint16Array) =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

const rich = randomStack(randomScene(made.scene, 'stack', { layers: 6, parts: 3 }), 'stack');
const plain = randomScene(made.scene, 'plain', { layers: 5, parts: 3 });
const withTop = (item: Item, scene = rich): Scene => ({ ...scene, stack: [...scene.stack, item] });
const below = { ...newLayer(LayerId.parse('so-far'), { below: true }), mask: openMask() };

describe('the stack', () => {
  it('is the same in a group through which what lies below shows, in full and normal', () => {
    expect(pixelsOf({ ...rich, stack: [groupOf(rich.stack, false)] })).toEqual(pixelsOf(rich));
  });

  it('is the same in a group on its own, of one normal layer', () => {
    const [first] = plain.stack;
    const [alone, bare] = [
      { ...plain, stack: [groupOf([first], true)] },
      { ...plain, stack: [first] },
    ].map(pixelsOf);
    // The cover of a group is kept in 16 bits.
    expect(worst(alone, bare)).toBeLessThanOrEqual(1);
  });

  it('has groups on their own, of normal layers, that look like the layers', () => {
    const stack = plain.stack.filter(({ item }) => item === 'layer');
    const [alone, bare] = [
      { ...plain, stack: [groupOf(stack, true)] },
      { ...plain, stack },
    ].map(pixelsOf);
    expect(worst(alone, bare)).toBeLessThanOrEqual(3);
  });

  it('is left alone, to the key, by what is hidden', () => {
    for (const item of [below, { ...newLayer(LayerId.parse('red'), { colour: [1, 0, 0] }), mask: openMask() }]) {
      for (let at = 0; at <= rich.stack.length; at++) {
        const scene = { ...rich, stack: rich.stack.toSpliced(at, 0, { ...item, visible: false }) };
        expect(keyOf(scene)).toEqual(keyOf(rich));
      }
      expect(keyOf(withTop(item))).not.toEqual(keyOf(rich));
    }
  });

  it('is left alone by the picture so far in normal mode, and by an adjustment at rest', () => {
    const before = pixelsOf(rich);
    expect(pixelsOf(withTop(below))).toEqual(before);
    const rest: Adjustment = {
      ...{ item: 'adjustment', id: ItemId.parse('light'), kind: 'exposure', settings: { stops: 0 }, mask: openMask() },
      ...{ guard: null, opacity: 1, mode: 'normal', visible: true, label: '' },
    };
    expect(keyOf(withTop(rest))).toEqual(keyOf(rich));
    const lit = pixelsOf(withTop({ ...rest, settings: { stops: 1 } }));
    expect(worst(lit, before)).toBeGreaterThan(2000);
  });

  it('is left alone, to the key, by windows that let everything through, and not by others', () => {
    const windowed = (toneWindow: Layer['toneWindow']) => mapLayers(plain, (layer) => ({ ...layer, toneWindow }));
    expect(keyOf(windowed(OPEN_WINDOW))).toEqual(keyOf(plain));
    const narrow = { from: 0.5, to: 1, fromShoulder: 0.1, toShoulder: 0 };
    const [own, below] = [
      { ...OPEN_WINDOW, layer: narrow },
      { ...OPEN_WINDOW, below: narrow },
    ].map(windowed);
    expect(keyOf(own)).not.toEqual(keyOf(plain));
    expect(keyOf(below)).not.toEqual(keyOf(own));
    expect(worst(pixelsOf(own), pixelsOf(plain))).toBeGreaterThan(500);
  });

  it('is looked at as if an item were otherwise', () => {
    const [first, second] = plain.stack.filter(({ item }) => item === 'layer');
    const alone = tried(plain, first.id, 'alone');
    expect(pixelsOf(alone)).toEqual(pixelsOf({ ...plain, stack: [{ ...first, visible: true }] }));
    const half = tried({ ...plain, stack: [second] }, second.id, 'half');
    const own = nodeOf(plain, { what: 'tried', at: second.id, as: { mode: 'multiply' } });
    expect([...own.keyAt({ level: 0, tx: 0, ty: 0 }, context)]).toEqual([
      ...resultOf(tried(plain, second.id, { mode: 'multiply' })).keyAt({ level: 0, tx: 0, ty: 0 }, context),
    ]);
    const item = half.stack[0] as Layer;
    expect([item.opacity, item.visible, item.guard]).toEqual([0.5, true, null]);
    // Half of the base and half of the frame, whatever its mask.
    const [bare, over] = [
      { ...plain, stack: [] },
      { ...plain, stack: [{ ...item, opacity: 1 }] },
    ].map(pixelsOf);
    const mixed = pixelsOf(half);
    for (let i = 0; i < mixed.length; i += 997) expect(Math.abs(mixed[i] - (bare[i] + over[i]) / 2)).toBeLessThan(2);
  });

  it('is the same whichever tile is made first, with few tables', () => {
    const other = smallScene(size, sources, 48 * 2 ** 20);
    const image = { region: { x: 0, y: 0, ...size }, pixels: new Uint16Array(size.width * size.height * 3) };
    const result = resultOf(rich);
    for (const { tx, ty } of [...allTiles(size, 0)].reverse()) writeTile(result, tx, ty, image, other.context);
    expect(image.pixels).toEqual(pixelsOf(rich));
  });
});

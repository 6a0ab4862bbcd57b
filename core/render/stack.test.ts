import { describe, expect, it } from 'vitest';
import { randomScene } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { nodeOf, resultOf, size, sources } from '../../tests/renderScene.ts';
import { planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { matrixOfCorners } from '../align/pictureCorners.ts';
import { GroupId, ItemId, LayerId } from '../ids.ts';
import { MODES } from '../modes/list.ts';
import { plainPart } from '../parts/partBase.ts';
import { newTonePart } from '../parts/tone.ts';
import type { Matrix3 } from '../raster/matrix3.ts';
import { allTiles } from '../raster/region.ts';
import { levelCount, levelSize } from '../raster/size.ts';
import { AT_REST } from '../refinements/list.ts';
import type { Frame } from '../scene/frame.ts';
import { type Adjustment, type Group, type Item, type Layer, newLayer, OPEN_WINDOW } from '../scene/item.ts';
import { maskOfParts, openMask } from '../scene/mask.ts';
import { cornersIn, turned } from '../scene/placedPicture.ts';
import type { Scene } from '../scene/scene.ts';
import { everyItem, mapLayers } from '../scene/tree.ts';
import { tried } from '../scene/trials.ts';
import { writeTile } from './plan/writing.ts';

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

/** Of a quadrilateral, by its corners. */
const areaOf = (corners: readonly { x: number; y: number }[]) =>
  Math.abs(corners.reduce((sum, a, i) => sum + a.x * corners[(i + 1) % 4].y - corners[(i + 1) % 4].x * a.y, 0)) / 2;

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

  it('is left alone, to the key, by itself in normal mode', () => {
    for (let at = 0; at <= rich.stack.length; at++)
      expect(keyOf({ ...rich, stack: rich.stack.toSpliced(at, 0, below) })).toEqual(keyOf(rich));
  });

  it('is mixed with itself in place as a picture of it is laid', () => {
    const [under, over] = [rich.stack.slice(0, 4), rich.stack.slice(4)];
    const soFar = (hidden: readonly Adjustment[]): Layer[] =>
      MODES.map((mode, i) => ({
        ...{ ...below, id: LayerId.parse(`so-far-${mode}`), adjustments: [...hidden] },
        ...{ mode, opacity: 0.2 + 0.04 * i, mask: (rich.stack[i % 6] as Layer).mask },
      }));
    // What is adjusted by nothing that is seen is still a picture of its own.
    const hidden: Adjustment = {
      ...{ item: 'adjustment', id: ItemId.parse('hidden'), kind: 'exposure', settings: { stops: 1 } },
      ...{ mask: openMask(), guard: null, stencil: null, stencilOn: false },
      ...{ opacity: 1, mode: 'normal', visible: false, label: '' },
    };
    for (const grouped of [false, true]) {
      const [inPlace, laid] = [soFar([]), soFar([hidden])].map((layers) =>
        pixelsOf({ ...rich, stack: [...under, ...(grouped ? [groupOf([...layers], false)] : layers), ...over] }),
      );
      expect(worst(inPlace, laid)).toBe(0);
    }
  });

  it('is left alone, to the key, by what is hidden', () => {
    const screened: Layer = { ...below, mode: 'screen' };
    for (const item of [screened, { ...newLayer(LayerId.parse('red'), { colour: [1, 0, 0] }), mask: openMask() }]) {
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
      ...{
        item: 'adjustment',
        stencil: null,
        stencilOn: false,
        id: ItemId.parse('light'),
        kind: 'exposure',
        settings: { stops: 0 },
        mask: openMask(),
      },
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

  it('does not mind the order of layers whose masks have no place in common', () => {
    const layer = (side: 'left' | 'right', mode: 'multiply' | 'screen'): Layer => {
      const [from, to] = side === 'left' ? [0, size.width / 2] : [size.width / 2, size.width];
      const corners = [from, 0, to, 0, to, size.height, from, size.height];
      const mask = maskOfParts([{ kind: 'outline', ...plainPart('outline'), corners, feather: 0 }]);
      return { ...newLayer(LayerId.parse(side), { colour: [0.3, 0.5, 0.7] }), mode, mask };
    };
    const [left, right] = [layer('left', 'multiply'), layer('right', 'screen')];
    const [one, other] = [
      [left, right],
      [right, left],
    ].map((stack) => pixelsOf({ ...made.scene, stack }));
    expect(one).toEqual(other);
    expect(worst(one, pixelsOf({ ...made.scene, stack: [] }))).toBeGreaterThan(2000);
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

  it('is left alone, to the key, by adjustments of its own that are at rest or hidden', () => {
    const own = (settings: Adjustment['settings'], visible: boolean): Adjustment => ({
      ...{
        item: 'adjustment',
        stencil: null,
        stencilOn: false,
        id: ItemId.parse('own'),
        kind: 'exposure',
        settings,
        mask: openMask(),
        guard: null,
      },
      ...{ opacity: 1, mode: 'normal', visible, label: '' },
    });
    const [first] = plain.stack.filter(({ item }) => item === 'layer');
    const adjusted = (adjustment: Adjustment): Scene => ({
      ...plain,
      stack: plain.stack.map((item) => (item === first ? ({ ...first, adjustments: [adjustment] } as Item) : item)),
    });
    expect(keyOf(adjusted(own({ stops: 0 }, true)))).toEqual(keyOf(plain));
    expect(keyOf(adjusted(own({ stops: 1 }, false)))).toEqual(keyOf(plain));
    expect(keyOf(adjusted(own({ stops: 1 }, true)))).not.toEqual(keyOf(plain));
    // It counts where the layer counts.
    const scene = adjusted(own({ stops: 1 }, true));
    const spot = { level: 0, tx: 1, ty: 0 };
    const [its, layers] = [ItemId.parse('own'), first.id].map((at) =>
      planeOfNode(nodeOf(scene, { what: 'effect', at }), 0, 0, size, context),
    );
    expect(its).toEqual(layers);
    expect(nodeOf(scene, { what: 'effect', at: first.id }).keyAt(spot, context)).toBeDefined();
  });

  it('is made, the same each time, where an adjustment follows the mask of its layer, which reads its tones', () => {
    const [first, ...others] = plain.stack.filter(({ item }) => item === 'layer') as Layer[];
    const to = { kind: 'reference' as const, ...plainPart('reference'), to: { item: first.id } };
    const own: Adjustment = {
      ...{
        item: 'adjustment',
        stencil: null,
        stencilOn: false,
        id: ItemId.parse('own'),
        kind: 'exposure',
        settings: { stops: 1 },
      },
      ...{ mask: maskOfParts([to]), guard: null, opacity: 1, mode: 'normal', visible: true, label: '' },
    };
    const layer = { ...first, mask: maskOfParts([newTonePart('developed:layer')]), adjustments: [own] };
    const scene: Scene = { ...plain, stack: [layer, ...others] };
    const pixels = pixelsOf(scene);
    expect(pixels).toEqual(pixelsOf(structuredClone(scene)));
    const without: Scene = { ...plain, stack: [{ ...layer, adjustments: [] }, ...others] };
    expect(worst(pixels, pixelsOf(without))).toBeGreaterThan(500);
  });

  it('of whole fills tells where filling the inside acted: nowhere while it does not', () => {
    const [first] = plain.stack.filter(({ item }) => item === 'layer') as Layer[];
    const fill = (amount: number): Scene => ({
      ...plain,
      stack: plain.stack.map((item) =>
        item === first
          ? {
              ...first,
              mask: { ...first.mask, refine: { ...first.mask.refine, coreFill: { ...AT_REST.coreFill, amount } } },
            }
          : item,
      ),
    });
    const filled = (amount: number) =>
      planeOfNode(nodeOf(fill(amount), { what: 'filled', of: 'mask', at: first.id }), 0, 0, size, context);
    const masked = (amount: number) =>
      planeOfNode(nodeOf(fill(amount), { what: 'mask', at: first.id }), 0, 0, size, context);
    const [bare, full, acted] = [masked(0), masked(1), filled(1)];
    for (let i = 0; i < acted.length; i++) {
      const expected = (full[i] / 65535) * (1 - bare[i] / 65535) * 65535;
      expect(Math.abs(acted[i] - expected)).toBeLessThan(2);
    }
    const idle = filled(0);
    for (let i = 0; i < idle.length; i++) expect(idle[i]).toBeLessThanOrEqual(16384);
  });

  it('shows a picture of its own like a frame that is placed there', () => {
    const [frame] = made.scene.frames;
    const { file, reading, width, height } = frame;
    const corners = turned(cornersIn(size, { width: 1.3 * width, height: 0.8 * height }, 'within'), 7);
    const picture = { file, reading, width, height, corners };
    const layer = { ...newLayer(LayerId.parse('sky'), { picture }), mask: openMask() };
    const matrix = matrixOfCorners(picture) as Matrix3;
    const placement = {
      matrix: [...matrix],
      model: 'hand',
      verdict: null,
      reason: null,
      residualPx: null,
      agreement: null,
      stops: 0,
    };
    const asFrame: Scene = {
      ...made.scene,
      base: made.scene.frames[1].id,
      frames: [{ ...frame, placement: placement as Frame['placement'] }, ...made.scene.frames.slice(1)],
      stack: [{ ...newLayer(LayerId.parse('sky'), frame.id), mask: openMask() }],
    };
    const asPicture: Scene = { ...made.scene, base: made.scene.frames[1].id, stack: [layer] };
    expect(pixelsOf(asPicture)).toEqual(pixelsOf(asFrame));
    expect(worst(pixelsOf(asPicture), pixelsOf({ ...asPicture, stack: [] }))).toBeGreaterThan(2000);
    // The corners lie where they are said to: beyond them nothing shows.
    const inside = planeOfNode(nodeOf(asPicture, { what: 'effect', at: layer.id }), 0, 0, size, context);
    const covered = inside.reduce((sum, value) => sum + value / 65535, 0);
    expect(Math.abs(covered / areaOf(corners) - 1)).toBeLessThan(0.05);
  });

  it.each(['thirty', 'cards'])(
    'of thirty cards is the same at every level, whichever tile is first, with few tables: %s',
    (seed) => {
      const scene = randomStack(randomScene(made.scene, seed, { layers: 16, parts: 3 }), seed);
      expect([...everyItem(scene.stack)].length).toBeGreaterThan(25);
      const other = smallScene(size, sources, 48 * 2 ** 20);
      const [result, again] = [resultOf(scene), resultOf(scene)];
      for (let level = 0; level < levelCount(size); level++) {
        const at = levelSize(size, level);
        const whole = [0, 1, 2].map((plane) => planeOfNode(result, plane, level, at, context));
        const tiles = [...allTiles(size, level)].reverse();
        for (const { tx, ty } of tiles) again.keyAt({ level, tx, ty }, other.context);
        for (const [plane, samples] of whole.entries())
          expect(worst(planeOfNode(again, plane, level, at, other.context), samples)).toBe(0);
      }
    },
  );

  it('is the same whichever tile is made first, with few tables', () => {
    const other = smallScene(size, sources, 48 * 2 ** 20);
    const image = { region: { x: 0, y: 0, ...size }, pixels: new Uint16Array(size.width * size.height * 3) };
    const result = resultOf(rich);
    for (const { tx, ty } of [...allTiles(size, 0)].reverse()) writeTile(result, tx, ty, image, other.context);
    expect(image.pixels).toEqual(pixelsOf(rich));
  });
});

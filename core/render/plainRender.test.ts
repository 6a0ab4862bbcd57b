import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { openResources } from '../../engine/kernelModule.ts';
import { PlainPixel } from '../../tests/plainRender.ts';
import { randomDevelop } from '../../tests/randomDevelop.ts';
import { randomScene, type SceneSize } from '../../tests/randomScene.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { nodeOf, resultOf, size, sources } from '../../tests/renderScene.ts';
import { loadPixels, openPixels, smallScene, testKernels } from '../../tests/smallScene.ts';
import { shiftMatrix } from '../align/placement.ts';
import { ADJUSTMENTS } from '../develop/list.ts';
import { type FrameId, LayerId } from '../ids.ts';
import type { Source } from '../masks/source.ts';
import type { Part } from '../parts/list.ts';
import { newTonePart } from '../parts/tone.ts';
import { allTiles } from '../raster/region.ts';
import { SLOT_BYTES } from '../raster/tileSlab.ts';
import { AT_REST } from '../refinements/list.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { setBase } from '../scene/edits/frames.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { placeFrames } from '../scene/edits/placing.ts';
import { frameOfLayer, type Layer, newLayer } from '../scene/item.ts';
import { maskOfParts } from '../scene/mask.ts';
import type { Scene } from '../scene/scene.ts';
import { findItem, layersOf } from '../scene/tree.ts';
import { sampleAt } from './plan/readings.ts';
import { writeTile } from './plan/writing.ts';
import { createRenderContext } from './tiles/createRenderContext.ts';
import { frameSlots } from './tiles/loadFrame.ts';
import { type RenderContext, withTile } from './tiles/renderContext.ts';

const made = smallScene(size, sources);
const frames = new Map(made.frameIds.map((id, index) => [id, sources[index]]));
/** The brightest frame lies some whole pixels off, which keeps its pixels as they are. */
const byHand = { model: 'hand' as const, verdict: null, reason: null, residualPx: null, agreement: null, stops: null };
const placed = applyEdit(
  made.scene,
  placeFrames({
    frameIds: [made.frameIds[2]],
    placement: { ...byHand, matrix: [...shiftMatrix(5, -3)] },
  }),
);
/** Away from the edges of the placed frame. */
const PLACES = Array.from({ length: 16 }, (_, i) => [20 + ((i * 97) % 260), 20 + ((i * 61) % 170)] as const);

/** By how much of 65,535 a rendering is off, at the worst of some places. */
function worstOf(scene: Scene, context: RenderContext, places: readonly (readonly [number, number])[]): number {
  const result = resultOf(scene);
  const off = places.flatMap(([x, y]) => {
    const expected = new PlainPixel(scene, frames, x, y).result;
    return sampleAt(result, x, y, context).map((value, i) => Math.abs(value - 65535 * expected[i]));
  });
  return Math.max(...off);
}

/** A scene's whole picture, tile by tile in some order, each by one of some threads. */
function written(
  scene: Scene,
  contexts: readonly RenderContext[],
  order: (a: number, b: number) => number,
): Uint16Array {
  const { width, height } = size;
  const image = { region: { x: 0, y: 0, width, height }, pixels: new Uint16Array(width * height * 3) };
  const results = contexts.map(() => resultOf(scene));
  const tiles = [...allTiles(size, 0)].map((tile, index) => ({ ...tile, index }));
  tiles.sort((a, b) => order(a.index, b.index));
  tiles.forEach(({ tx, ty }, turn) => {
    const thread = turn % contexts.length;
    writeTile(results[thread], tx, ty, image, contexts[thread]);
  });
  for (const { transient } of contexts) transient.end();
  return image.pixels;
}

describe('a scene rendered a second time in plain doubles', () => {
  const sizes: SceneSize[] = [
    ...Array.from({ length: 12 }, (_, i) => ({ layers: i + 1, parts: 5 })),
    { layers: 3, parts: 20 },
    { layers: 12, parts: 12 },
  ];
  it.each(sizes)('is the same within 8 of 65,535: $layers layers, masks of up to $parts parts', (rich) => {
    for (const seed of ['a', 'b'])
      expect(
        worstOf(randomScene(placed, `${seed} ${rich.layers} ${rich.parts}`, rich), made.context, PLACES),
      ).toBeLessThanOrEqual(8);
  });

  it.each([1, 2, 3, 5, 8])(
    'is the same with developed frames, light beyond white kept, and masks that read them: %i layers',
    (layers) => {
      for (const seed of ['f', 'g', 'h']) {
        const scene = made.frameIds.reduce(
          (before, id) =>
            applyEdit(before, developFrames({ frameIds: [id], change: randomDevelop(`${seed} ${layers} ${id}`) })),
          randomScene(placed, `${seed} ${layers}`, { layers, parts: 4, developed: true }),
        );
        expect(scene.frames.some(({ develop }) => Object.keys(develop).length > 1)).toBe(true);
        expect(worstOf(scene, made.context, PLACES)).toBeLessThanOrEqual(12);
      }
    },
  );

  it.each([1, 2, 3, 5, 8, 12])('is the same with stacks of all kinds of items: %i layers and more', (layers) => {
    for (const seed of ['k', 'l', 'm', 'n']) {
      const scene = randomStack(randomScene(placed, `${seed} ${layers}`, { layers, parts: 3 }), `${seed} ${layers}`);
      expect(worstOf(scene, made.context, PLACES)).toBeLessThanOrEqual(16);
    }
  });

  it.each([2, 5, 9])('is the same where light is mixed: %i layers and more', (layers) => {
    for (const seed of ['p', 'q', 'r']) {
      const scene = randomStack(randomScene(placed, `${seed} ${layers}`, { layers, parts: 3 }), `${seed} ${layers}`);
      // Near black light is encoded 12.92 times as steeply (IEC 61966-2-1): so are the roundings of masks.
      expect(worstOf({ ...scene, blendSpace: 'linear' }, made.context, PLACES)).toBeLessThanOrEqual(48);
    }
  });

  it.each(['c', 'd', 'e'])('is the same after another base, whose layers wait: %s', (seed) => {
    const scene = randomScene(placed, seed, { layers: 7, parts: 4 });
    const waiting = layersOf(scene).find((layer) => layer.yieldsToBase) as Layer;
    const rebased = applyEdit(scene, setBase({ frameId: frameOfLayer(waiting) as FrameId }));
    expect(layersOf(rebased)).not.toContainEqual(waiting);
    expect(findItem(rebased, waiting.id)).toEqual(waiting);
    expect(worstOf(rebased, made.context, PLACES)).toBeLessThanOrEqual(8);
  });

  /** A light tone part with levels and strength of its own: two tables. */
  const leveled = (index: number, source: Source): Part => ({
    ...newTonePart(source, `tone-${index}`),
    narrowing: index / 12,
    refine: { ...AT_REST, levels: { black: 0.02 + index / 100, white: 0.95, gamma: 1.1 }, strength: 1 - index / 40 },
  });
  const withParts = (counts: readonly number[], sourceOf: (layer: number) => Source): Scene => {
    const parts = counts.map((count, layer) =>
      Array.from({ length: count }, (_, i) => leveled(layer * 4 + i, sourceOf(layer))),
    );
    const stack = parts.map((list, layer) => ({
      ...newLayer(LayerId.parse(`layer-${layer}`), made.frameIds[layer % 2 ? 0 : 2]),
      mask: maskOfParts(list),
      yieldsToBase: false,
    }));
    return { ...made.scene, stack };
  };

  it('leaves every mask that reads frames as taken alone, to the key, when they are developed', () => {
    const read: Source[] = ['base', 'layer', `frame:${made.frameIds[1]}`];
    const scene = withParts([3, 2, 4], (layer) => read[layer]);
    const layers = layersOf(scene);
    const developed = applyEdit(
      scene,
      developFrames({
        frameIds: made.frameIds,
        change: { exposure: { stops: 1 }, grey: { ...ADJUSTMENTS.grey.rest, strength: 1 } },
      }),
    );
    const spot = { level: 0, tx: 1, ty: 0 };
    for (const { id } of layers) {
      const keys = [scene, developed].map((each) => [
        ...nodeOf(each, { what: 'mask', at: id }).keyAt(spot, made.context),
      ]);
      expect(keys[1]).toEqual(keys[0]);
    }
    const [before, after] = [scene, developed].map((each) => [...resultOf(each).keyAt(spot, made.context)]);
    expect(after).not.toEqual(before);
  });

  it('is right with three layers of three levelled parts, the lowest reading the finished picture', () => {
    const scene = withParts([3, 3, 3], (layer) => (layer === 0 ? 'result' : 'below'));
    expect(worstOf(scene, made.context, PLACES)).toBeLessThanOrEqual(2);
  });

  it('is right with more tables in a mask than a thread has copies of', () => {
    for (const count of [11, 40])
      expect(
        worstOf(
          withParts([count], () => 'base'),
          made.context,
          PLACES,
        ),
      ).toBeLessThanOrEqual(2);
  });

  it('makes each table once, however many there are', () => {
    const scene = withParts([100], () => 'base');
    const { context } = smallScene(size, sources);
    const result = resultOf(scene);
    const counts = { made: 0 };
    const { publish } = context.table;
    context.table.publish = (...args) => {
      if (args[4].slots.length === 4) counts.made++;
      return publish.apply(context.table, args);
    };
    for (const { tx, ty } of allTiles(size, 0)) withTile(result, { level: 0, tx, ty }, context, () => undefined);
    // A table of tones and one of levels a part, and those of strength but for the first part's, which is full.
    expect(counts.made).toBe(100 + 100 + 99);
  });
});

/** Slots beside the frames': a few dozen tiles and some tables. */
const SPARE = 200;

/** Contexts that share fresh pixels, which have room for little else. */
function crowded(threads: number, spareSlots: number): RenderContext[] {
  const { moveable, resident } = frameSlots(size);
  const slots = sources.length * (moveable + resident) + spareSlots;
  const { memory, loader } = openPixels(slots * SLOT_BYTES);
  made.scene.frames.forEach((frame, index) => void loadPixels(loader, frame, sources[index]));
  return Array.from({ length: threads }, (_, arena) =>
    createRenderContext(openResources({ memory, kernels: testKernels, arena })),
  );
}

/** Everything that looks around itself, and some of what does not. */
function developedWith(scene: Scene, id: FrameId, index: number): Scene {
  const change = {
    ...randomDevelop(`around ${id}`),
    noise: { brightness: 0.8, colour: 0.6, measured: { brightness: 0.01, colour: 0.01 } },
    haze: { amount: index === 1 ? -0.3 : 0.4, veil: { red: 0.8, green: 0.7, blue: 0.6 } },
    ends: { darks: { stops: 1, reach: -3 }, brights: { stops: -1, reach: -2 } },
    localContrast: { fine: { amount: 0.4, radius: 5 }, broad: { amount: 0.3, radius: 60 } },
    sharpening: { amount: 0.7, radius: 1.2, flat: 0.005 },
  };
  return applyEdit(scene, developFrames({ frameIds: [id], change }));
}

describe('the same picture to the bit', () => {
  it.each(['a', 'b', 'developed'])(
    'with a tiny cache, in any order of tiles, by one thread or two, interactive or not: %s',
    (seed) => {
      const isDeveloped = seed === 'developed';
      const start = isDeveloped ? made.frameIds.reduce(developedWith, placed) : placed;
      const scene = randomScene(start, `bits ${seed}`, { layers: 4, parts: 3, developed: isDeveloped });
      const random = alea(seed);
      const shuffled = Array.from({ length: 64 }, () => random());
      const byChance = (a: number, b: number) => shuffled[a] - shuffled[b];
      const plainly = written(scene, [made.context], (a, b) => a - b);
      const one = crowded(1, SPARE);
      expect(written(scene, one, (a, b) => b - a)).toEqual(plainly);
      const two = crowded(2, SPARE);
      const alone = two.map((context) => ({ ...context, interactive: false }));
      expect(written(scene, alone, byChance)).toEqual(plainly);
      expect(written(scene, two, byChance)).toEqual(plainly);
    },
    120_000,
  );
});

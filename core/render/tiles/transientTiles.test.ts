import { describe, expect, it } from 'vitest';
import { openPixels } from '../../../tests/smallScene.ts';
import { TILE } from '../../raster/size.ts';
import { keyOf, type NodeKey, packPlace } from '../../raster/tileKey.ts';
import { writeTile } from '../plan/writing.ts';
import { createRenderContext } from './createRenderContext.ts';
import {
  keepBriefly,
  type RenderContext,
  RenderError,
  reserveOrFail,
  type Spot,
  sceneExtent,
  type TileNode,
  tileOf,
  tilesOf,
} from './renderContext.ts';
import { TransientTiles } from './transientTiles.ts';

const { resources } = openPixels();
const { table } = resources;
const [here, there] = [packPlace(0, 1, 2), packPlace(0, 2, 1)];

describe('tiles that nobody looks at', () => {
  it('are found by key and place until they are dropped', () => {
    const transient = new TransientTiles(table);
    const key = keyOf('a tile', 1);
    const slots = transient.reserve(2) as number[];
    const tile = transient.keep(key, here, 'planes', slots, 0);
    expect(transient.find(Uint32Array.from(key), here)).toBe(tile);
    expect(transient.find(key, there)).toBeUndefined();
    expect(transient.find(keyOf('a tile', 2), here)).toBeUndefined();
    expect(table.find(key, 0, 1, 2)).toBeUndefined();
    table.release(tile);
    table.releaseAll([tile]);
    expect(transient.find(key, here)).toBe(tile);
    transient.drop();
    expect(transient.find(key, here)).toBeUndefined();
    expect(transient.reserve(2)?.toSorted()).toEqual(slots.toSorted());
  });

  it('give all slots back, however many there were', () => {
    const before = table.slab.usedSlots;
    const transient = new TransientTiles(table);
    for (let round = 0; round < 3; round++) {
      for (let i = 0; i < 100; i++)
        transient.keep(keyOf('one of many', i), here, 'planes', transient.reserve(3) ?? [], 0);
      transient.unreserve(transient.reserve(1) ?? []);
      transient.drop();
      // A few are kept for the next tile.
      expect(table.slab.usedSlots - before).toBeLessThan(64);
    }
    transient.end();
    expect(table.slab.usedSlots).toBe(before);
  });
});

const extent = sceneExtent({ width: 3 * TILE, height: TILE });

/** A node that keeps a plane briefly, and fails where it is told to. */
class Trial implements TileNode {
  readonly extent = extent;
  readonly #key: NodeKey;
  readonly #failsAt: number;

  constructor(name: string, failsAt = -1) {
    this.#key = keyOf('trial', name);
    this.#failsAt = failsAt;
  }

  keyAt(): NodeKey {
    return this.#key;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext) {
    if (spot.tx === this.#failsAt) throw new RenderError('frame-missing', 'on trial');
    return keepBriefly(context, key, spot, { form: 'planes', slots: reserveOrFail(context, 3) });
  }
}

describe.each([true, false])('several tiles at once, interactive: %s', (interactive) => {
  const spots = [0, 1, 2].map((tx) => ({ level: 0, tx, ty: 0 }));
  const context = { ...createRenderContext(resources), interactive };

  it('are those that one gets one by one', () => {
    const node = new Trial(`whole ${interactive}`);
    const first = tileOf(node, spots[1], context);
    const tiles = tilesOf(
      spots.map((spot) => ({ node, spot })),
      context,
    );
    expect(tiles[1].slots).toEqual(first.slots);
    expect(new Set(tiles.flatMap(({ slots }) => slots)).size).toBe(9);
    table.releaseAll([first, ...tiles]);
    context.transient.end();
  });

  it('are let go of when one of them cannot be made', () => {
    const node = new Trial(`broken ${interactive}`, 2);
    const wanted = spots.map((spot) => ({ node, spot }));
    expect(() => tilesOf(wanted, context)).toThrow(RenderError);
    context.transient.end();
    const size = table.size;
    table.dropDerived();
    expect(table.size).toBeLessThanOrEqual(size);
    expect(table.find(node.keyAt(), 0, 0, 0)).toBeUndefined();
  });
});

it('a tile that cannot be written leaves nothing behind', () => {
  const before = table.slab.usedSlots;
  const context = { ...createRenderContext(resources), interactive: false };
  const image = { region: { x: 0, y: 0, width: 3 * TILE, height: TILE }, pixels: new Uint16Array(9 * TILE * TILE) };
  const node: TileNode = {
    extent,
    keyAt: () => keyOf('failing', 1),
    make: (spot) => {
      tileOf(new Trial('before it fails'), spot, context);
      throw new RenderError('frame-missing', 'on trial');
    },
  };
  expect(() => writeTile(node, 0, 0, image, context)).toThrow(RenderError);
  context.transient.end();
  expect(table.slab.usedSlots).toBe(before);
});

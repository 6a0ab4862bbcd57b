import { describe, expect, it } from 'vitest';
import { openPixels, studioOn } from '../../tests/smallStudio.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, type NodeKey, packPlace } from '../raster/tileKey.ts';
import { PassingTiles } from './passingTiles.ts';
import { writeTile } from './readings.ts';
import { keepBriefly, RenderError, reserveOrFail, type Spot, type TileNode, tileOf, tilesOf } from './studio.ts';

const { workplace } = openPixels();
const { table } = workplace;
const [here, there] = [packPlace(0, 1, 2), packPlace(0, 2, 1)];

describe('tiles that nobody looks at', () => {
  it('are found by key and place until they are dropped', () => {
    const passing = new PassingTiles(table);
    const key = keyOf('a tile', 1);
    const slots = passing.reserve(2) as number[];
    const tile = passing.keep(key, here, 'planes', slots, 0);
    expect(passing.find(Uint32Array.from(key), here)).toBe(tile);
    expect(passing.find(key, there)).toBeUndefined();
    expect(passing.find(keyOf('a tile', 2), here)).toBeUndefined();
    expect(table.find(key, 0, 1, 2)).toBeUndefined();
    table.release(tile);
    table.releaseAll([tile]);
    expect(passing.find(key, here)).toBe(tile);
    passing.drop();
    expect(passing.find(key, here)).toBeUndefined();
    expect(passing.reserve(2)?.toSorted()).toEqual(slots.toSorted());
  });

  it('give all slots back, however many there were', () => {
    const before = table.slab.usedSlots;
    const passing = new PassingTiles(table);
    for (let round = 0; round < 3; round++) {
      for (let i = 0; i < 100; i++) passing.keep(keyOf('one of many', i), here, 'planes', passing.reserve(3) ?? [], 0);
      passing.unreserve(passing.reserve(1) ?? []);
      passing.drop();
      // A few are kept for the next tile.
      expect(table.slab.usedSlots - before).toBeLessThan(64);
    }
    passing.end();
    expect(table.slab.usedSlots).toBe(before);
  });
});

/** A node that keeps a plane briefly, and fails where it is told to. */
class Trial implements TileNode {
  readonly #key: NodeKey;
  readonly #failsAt: number;

  constructor(name: string, failsAt = -1) {
    this.#key = keyOf('trial', name);
    this.#failsAt = failsAt;
  }

  keyAt(): NodeKey {
    return this.#key;
  }

  make(spot: Spot, key: NodeKey, studio: ReturnType<typeof studioOn>) {
    if (spot.tx === this.#failsAt) throw new RenderError('frame-missing', 'on trial');
    return keepBriefly(studio, key, spot, { form: 'planes', slots: reserveOrFail(studio, 3) });
  }
}

describe.each([true, false])('several tiles at once, watched: %s', (watched) => {
  const spots = [0, 1, 2].map((tx) => ({ level: 0, tx, ty: 0 }));
  const studio = { ...studioOn(workplace, { width: 3 * TILE, height: TILE }), watched };

  it('are those that one gets one by one', () => {
    const node = new Trial(`whole ${watched}`);
    const first = tileOf(node, spots[1], studio);
    const tiles = tilesOf(
      spots.map((spot) => ({ node, spot })),
      studio,
    );
    expect(tiles[1].slots).toEqual(first.slots);
    expect(new Set(tiles.flatMap(({ slots }) => slots)).size).toBe(9);
    table.releaseAll([first, ...tiles]);
    studio.passing.end();
  });

  it('are let go of when one of them cannot be made', () => {
    const node = new Trial(`broken ${watched}`, 2);
    const wanted = spots.map((spot) => ({ node, spot }));
    expect(() => tilesOf(wanted, studio)).toThrow(RenderError);
    studio.passing.end();
    const size = table.size;
    table.dropDerived();
    expect(table.size).toBeLessThanOrEqual(size);
    expect(table.find(node.keyAt(), 0, 0, 0)).toBeUndefined();
  });
});

it('a tile that cannot be written leaves nothing behind', () => {
  const before = table.slab.usedSlots;
  const studio = { ...studioOn(workplace, { width: 3 * TILE, height: TILE }), watched: false };
  const image = { region: { x: 0, y: 0, width: 3 * TILE, height: TILE }, pixels: new Uint16Array(9 * TILE * TILE) };
  const node: TileNode = {
    keyAt: () => keyOf('failing', 1),
    make: (spot) => {
      tileOf(new Trial('before it fails'), spot, studio);
      throw new RenderError('frame-missing', 'on trial');
    },
  };
  expect(() => writeTile(node, 0, 0, image, studio)).toThrow(RenderError);
  studio.passing.end();
  expect(table.slab.usedSlots).toBe(before);
});

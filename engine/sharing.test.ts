import { describe, expect, it } from 'vitest';
import type { TileSpot } from '#core/raster/region.ts';
import type { Share } from './protocol.ts';
import { byBand, byPart, byTile, takeTiles } from './sharing.ts';

const [WIDE, HIGH] = [7, 40];
const tiles: TileSpot[] = Array.from({ length: WIDE * HIGH }, (_, i) => ({
  tx: i % WIDE,
  ty: 3 + Math.floor(i / WIDE),
}));

/** What each of some threads takes when they come round in a given order until nothing is left. */
function taken(threads: number, place: (tile: TileSpot) => number, isPart: boolean, next: () => number): TileSpot[][] {
  const marks = new SharedArrayBuffer(4 * tiles.length);
  const takers = Array.from({ length: threads }, (_, thread) => {
    const share: Share = { taken: marks, thread, threads };
    return takeTiles(tiles, share, place, isPart);
  });
  const got = takers.map((): TileSpot[] => []);
  const waiting = new Set(takers.keys());
  while (waiting.size > 0) {
    const thread = next() % threads;
    const { value, done } = takers[thread].next();
    if (done) waiting.delete(thread);
    else got[thread].push(value);
  }
  return got;
}

describe.each([
  ['by tile', byTile, false],
  ['by band', byBand, false],
  ['by part', undefined, true],
] as const)('tiles shared %s', (_, place, isPart) => {
  it.each([1, 2, 3, 5])('fall to %i threads once each, however fast they are', (threads) => {
    const placed = place ?? byPart(tiles, threads);
    let seed = threads;
    const uneven = () => {
      seed = (seed * 48_271) % 2_147_483_647;
      // The first thread comes round as often as all others together.
      return seed % 2 === 0 ? 0 : seed >> 3;
    };
    const all = taken(threads, placed, isPart, uneven).flat();
    expect(all).toHaveLength(tiles.length);
    expect(new Set(all).size).toBe(tiles.length);
  });

  it('are its own before a thread helps others', () => {
    const placed = place ?? byPart(tiles, 2);
    let turn = 0;
    const [first, second] = taken(2, placed, isPart, () => turn++);
    for (const [thread, got] of [first, second].entries()) {
      const own = got.map((tile) => placed(tile) % 2 === thread);
      expect(own.lastIndexOf(true)).toBe(own.filter(Boolean).length - 1);
      expect(own[0]).toBe(true);
    }
  });
});

it('gives two threads halves that meet in the middle', () => {
  let turn = 0;
  const [first, second] = taken(2, byPart(tiles, 2), true, () => turn++);
  expect(first[0]).toBe(tiles[0]);
  expect(second[0]).toBe(tiles.at(-1));
  expect(Math.abs(first.length - second.length)).toBeLessThanOrEqual(1);
  const [lowest, highest] = [Math.max(...first.map(({ ty }) => ty)), Math.min(...second.map(({ ty }) => ty))];
  expect(highest).toBeGreaterThanOrEqual(lowest);
});

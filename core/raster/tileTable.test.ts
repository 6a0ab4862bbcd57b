import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createPixelMemory } from '../../engine/memory.ts';
import type { Overflow } from './overflow.ts';
import { TILE_SAMPLES } from './size.ts';
import type { Keeping } from './tileEntries.ts';
import { keyOfText, mixKeys, packPlace } from './tileKey.ts';
import { SLOT_BYTES, TileSlab } from './tileSlab.ts';
import { HELD, type PinnedTile, TileTable } from './tileTable.ts';

const withSlots = (slots: number) => createPixelMemory(slots * SLOT_BYTES, 1);

function put(table: TileTable, name: string, value: number, keeping: Keeping = 'derived'): boolean {
  const slots = table.reserve(1);
  if (!slots) return false;
  table.slab.plane(slots[0]).fill(value);
  table.release(table.publish(keyOfText(name), 0, 0, 0, { form: 'planes', slots }, keeping));
  return true;
}

function read(table: TileTable, name: string): number | undefined {
  const tile = table.find(keyOfText(name), 0, 0, 0);
  if (!tile) return undefined;
  const value = table.slab.plane(tile.slots[0])[16383];
  table.release(tile);
  return value;
}

describe('the tile table', () => {
  it('finds what was put in, in every thread that shares the memory', () => {
    const { memory, table } = withSlots(8);
    put(table, 'a', 7);
    const other = new TileTable(new TileSlab(memory));
    expect(read(other, 'a')).toBe(7);
    expect(read(other, 'b')).toBeUndefined();
    put(other, 'b', 9);
    expect(read(table, 'b')).toBe(9);
  });

  it('lets go of loose tiles and of held ones beside those that are its own, and counts nothing twice', () => {
    const { table } = withSlots(4);
    put(table, 'a', 1);
    const own = table.find(keyOfText('a'), 0, 0, 0) as PinnedTile;
    const used = table.slab.usedSlots;
    const loose = table.loose('planes', table.reserve(2) as number[]);
    table.releaseAll([loose, own, { entry: HELD, form: 'constant', value: 0, slots: [] }]);
    expect(table.slab.usedSlots).toBe(used);
    expect(table.size).toBe(1);
    // Both of its slots are free again, and the tile can be dropped.
    expect(table.reserve(4)?.length).toBe(4);
  });

  it('uses memory again, rather than more of it, once computed tiles hold so much', () => {
    const { memory } = withSlots(8);
    const table = new TileTable(new TileSlab(memory), undefined, undefined, 2);
    put(table, 'frame', 5, 'resident');
    for (const name of ['a', 'b', 'c', 'd', 'e']) put(table, name, name.charCodeAt(0));
    expect(['a', 'b', 'c', 'd', 'e'].map((name) => read(table, name))).toEqual([undefined, undefined, 99, 100, 101]);
    expect(read(table, 'frame')).toBe(5);
    expect(table.slab.usedSlots).toBe(4);
    // What is in use stays, and more of the memory is used then.
    const held = ['c', 'd', 'e'].map((name) => table.find(keyOfText(name), 0, 0, 0) as PinnedTile);
    put(table, 'f', 102);
    expect(table.slab.usedSlots).toBe(5);
    table.releaseAll(held);
  });

  it('drops the least recently used tile when room is needed', () => {
    const { table } = withSlots(3);
    for (const name of ['a', 'b', 'c']) put(table, name, name.charCodeAt(0));
    read(table, 'a');
    put(table, 'd', 100);
    expect(['a', 'b', 'c', 'd'].map((name) => read(table, name))).toEqual([97, undefined, 99, 100]);
  });

  it('never drops kept or pinned tiles, and says so when nothing else is left', () => {
    const { table } = withSlots(2);
    put(table, 'kept', 1, 'resident');
    put(table, 'pinned', 2);
    const pinned = table.find(keyOfText('pinned'), 0, 0, 0);
    expect(put(table, 'more', 3)).toBe(false);
    expect(read(table, 'kept')).toBe(1);
    if (pinned) table.release(pinned);
    expect(put(table, 'more', 3)).toBe(true);
    expect(read(table, 'pinned')).toBeUndefined();
  });

  it('answers the tile of the quicker thread and frees the slower one', () => {
    const { table } = withSlots(4);
    put(table, 'a', 1);
    put(table, 'a', 2);
    expect(read(table, 'a')).toBe(1);
    expect(table.slab.usedSlots).toBe(1);
  });

  it('leaks nothing: filled and emptied fifty times, the slab is empty', () => {
    const { table } = withSlots(64);
    for (let round = 0; round < 50; round++) {
      for (let i = 0; i < 40; i++) put(table, `${round}:${i}`, i, i % 3 === 0 ? 'resident' : 'derived');
      table.dropDerived();
      for (let i = 0; i < 40; i++) table.drop(keyOfText(`${round}:${i}`), 0, 0, 0);
      expect(table.slab.usedSlots).toBe(0);
      expect(table.size).toBe(0);
    }
  });

  it('behaves as a map that forgets its oldest entries', () => {
    const capacity = 5;
    const commands = fc.array(fc.record({ put: fc.boolean(), name: fc.integer({ min: 0, max: 9 }) }), {
      maxLength: 120,
    });
    fc.assert(
      fc.property(commands, (list) => {
        const { table } = withSlots(capacity);
        const model = new Map<number, number>();
        list.forEach(({ put: puts, name }, step) => {
          const known = model.get(name);
          if (puts && known === undefined) {
            if (model.size === capacity) model.delete(model.keys().next().value as number);
            put(table, `${name}`, step);
            model.set(name, step);
          } else {
            expect(read(table, `${name}`)).toBe(known);
            if (known !== undefined) {
              model.delete(name);
              model.set(name, known);
            }
          }
        });
      }),
      { numRuns: 30 },
    );
  });
});

/** An overflow in this test's own memory. */
function madeOverflow(slab: TileSlab, places: number): Overflow & { writes: number; reads: number } {
  const stored = new Map<number, Uint16Array[]>();
  slab.overflowPlaces = places;
  return {
    writes: 0,
    reads: 0,
    write(place, slots) {
      this.writes++;
      if (place >= places) return false;
      stored.set(
        place,
        slots.map((slot) => slab.plane(slot).slice()),
      );
      return true;
    },
    read(place, slots) {
      this.reads++;
      slots.forEach((slot, plane) => {
        slab.plane(slot).set(stored.get(place)?.[plane] ?? []);
      });
      return true;
    },
  };
}

describe('tiles of frames beyond the memory', () => {
  const SLOTS = 32;
  const open = (places = 1024) => {
    const { memory } = withSlots(SLOTS);
    const slab = new TileSlab(memory);
    const overflow = madeOverflow(slab, places);
    return { slab, overflow, table: new TileTable(slab, overflow) };
  };
  const putFrame = (table: TileTable, index: number): boolean => {
    const slots = table.reserve(3);
    if (!slots) return false;
    slots.forEach((slot, plane) => {
      table.slab.plane(slot).fill(100 * index + plane);
    });
    table.release(table.publish(keyOfText('frame'), 0, index, 0, { form: 'planes', slots }, 'moveable'));
    return true;
  };
  const readFrame = (table: TileTable, index: number) => {
    const tile = table.find(keyOfText('frame'), 0, index, 0);
    if (!tile) return undefined;
    const values = tile.slots.map((slot) => table.slab.plane(slot)[TILE_SAMPLES - 1]);
    table.release(tile);
    return values;
  };

  it('go out and come back as they were, written once however often they go', () => {
    const { table, overflow } = open();
    for (let index = 0; index < 40; index++) expect(putFrame(table, index)).toBe(true);
    for (let round = 0; round < 3; round++) {
      for (let index = 0; index < 40; index++) {
        expect(readFrame(table, index)).toEqual([100 * index, 100 * index + 1, 100 * index + 2]);
      }
    }
    expect(overflow.writes).toBeLessThanOrEqual(40);
    expect(overflow.reads).toBeGreaterThan(80);
    expect(table.room.moveable).toBe(120);
    expect(table.slab.usedSlots).toBeLessThanOrEqual(SLOTS);
  });

  it('leave computed tiles an eighth of the memory, and take the rest of what those do not need', () => {
    const { table } = open();
    for (let i = 0; i < 20; i++) put(table, `derived ${i}`, i);
    for (let index = 0; index < 20; index++) putFrame(table, index);
    const derived = Array.from({ length: 20 }, (_, i) => read(table, `derived ${i}`)).filter((v) => v !== undefined);
    expect(derived.length).toBeGreaterThanOrEqual(2);
    expect(derived.length).toBeLessThanOrEqual(5);
  });

  it('stay while somebody has them, and are missed by nobody when the overflow is full', () => {
    const { table } = open(10);
    for (let index = 0; index < 10; index++) putFrame(table, index);
    expect([10, 11, 12, 13].map((index) => putFrame(table, index))).toEqual([true, true, false, false]);
    for (let index = 0; index < 12; index++) expect(readFrame(table, index)?.[0]).toBe(100 * index);
    const pinned = table.find(keyOfText('frame'), 0, 3, 0);
    for (let index = 0; index < 12; index++) readFrame(table, index);
    expect(pinned?.slots.map((slot) => table.slab.plane(slot)[0])).toEqual([300, 301, 302]);
  });

  it('give their places back: frames come and go without end', () => {
    const { table, slab } = open(64);
    for (let round = 0; round < 8; round++) {
      for (let index = 0; index < 40; index++) expect(putFrame(table, index)).toBe(true);
      for (let index = 0; index < 40; index++) table.drop(keyOfText('frame'), 0, index, 0);
      expect(slab.usedSlots).toBe(0);
      expect(table.room.moveable).toBe(0);
    }
  });
});

describe('tile keys', () => {
  it('differ for other inputs, another order and another seed', () => {
    const [a, b, c] = ['a', 'b', 'c'].map(keyOfText);
    const texts = [
      mixKeys(a, b, c),
      mixKeys(a, c, b),
      mixKeys(b, a, c),
      mixKeys(a, b),
      mixKeys(a, b, 1),
      mixKeys(a, b, 2),
    ].map(String);
    expect(new Set(texts).size).toBe(texts.length);
    expect(String(mixKeys(a, b, 1))).toBe(String(mixKeys(keyOfText('a'), keyOfText('b'), 1)));
  });

  it('spread: a hundred thousand small changes give no key twice', () => {
    const seed = keyOfText('seed');
    const seen = new Set<string>();
    for (let i = 0; i < 100_000; i++) seen.add(String(mixKeys(seed, i)));
    expect(seen.size).toBe(100_000);
  });

  it('have room for a million pixels a side and for quarters of levels, and refuse more', () => {
    const levels = Array.from({ length: 64 }, (_, quarters) => quarters / 4);
    const places = levels.flatMap((level) => [packPlace(level, 0, 8191), packPlace(level, 8191, 0)]);
    expect(new Set(places).size).toBe(128);
    for (const [level, tx, ty] of [
      [0, 8192, 0],
      [0, 0, 8192],
      [16, 0, 0],
      [-0.25, 0, 0],
      [0.3, 0, 0],
      [Number.NaN, 0, 0],
    ])
      expect(() => packPlace(level, tx, ty)).toThrow(RangeError);
  });
});

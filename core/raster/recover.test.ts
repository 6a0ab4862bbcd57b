import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createPixelMemory } from '../../engine/memory.ts';
import { allTiles } from './region.ts';
import { keyOfText, type NodeKey } from './tileKey.ts';
import { SLOT_BYTES, TileSlab } from './tileSlab.ts';
import { type PinnedTile, TileTable } from './tileTable.ts';

class Killed extends Error {}

/** A slab whose thread dies after so many words that it has written. */
class MortalSlab extends TileSlab {
  left = Infinity;

  override words(reach?: number): Int32Array {
    const words = super.words(reach);
    const write = () => {
      if (--this.left < 0) throw new Killed();
    };
    return new Proxy(words, {
      set: (target, key, value) => {
        write();
        target[key as unknown as number] = value;
        return true;
      },
      get: (target, key) => {
        const value = Reflect.get(target, key, target);
        if (typeof value !== 'function') return value;
        return (...args: unknown[]) => {
          if (key === 'set' || key === 'fill') write();
          return value.apply(target, args);
        };
      },
    });
  }

  /** The dying thread lets go of nothing. */
  override unlock(): void {
    if (this.left >= 0) super.unlock();
  }
}

const SLOTS = 24;
const keyOf = (name: number): NodeKey => keyOfText(`tile ${name}`);

function put(table: TileTable, name: number, keeping: 'derived' | 'resident' = 'derived'): PinnedTile | undefined {
  const slots = table.reserve(1 + (name % 3));
  if (!slots) return undefined;
  for (const slot of slots) table.slab.plane(slot).fill(name);
  return table.publish(keyOf(name), 0, name % 5, 0, { form: 'planes', slots }, keeping);
}

/** Whether every tile that is there is the one that it should be; how many there are. */
function count(table: TileTable): number {
  let there = 0;
  for (let name = 0; name < 40; name++) {
    const tile = table.find(keyOf(name), 0, name % 5, 0);
    if (!tile) continue;
    there++;
    expect(tile.slots.length).toBe(1 + (name % 3));
    for (const slot of tile.slots) expect(table.slab.plane(slot)[77]).toBe(name);
    table.release(tile);
  }
  return there;
}

describe('a thread that dies', () => {
  it('wherever it was, leaves nothing locked, lost or wrong behind', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 39 }), fc.boolean()), { minLength: 3, maxLength: 40 }),
        fc.integer({ min: 0, max: 400 }),
        (steps, life) => {
          const { memory, table: main } = createPixelMemory(SLOTS * SLOT_BYTES, 2);
          const living = new TileTable(new TileSlab(memory), undefined, 0);
          const mortalSlab = new MortalSlab(memory);
          const mortal = new TileTable(mortalSlab, undefined, 1);
          // One tile stays for good, and one is in use by a thread that lives.
          main.release(put(main, 38, 'resident') as PinnedTile);
          const used = put(living, 39) as PinnedTile;
          mortalSlab.left = life;
          try {
            for (const [name, isHeld] of steps) {
              const tile = mortal.find(keyOf(name), 0, name % 5, 0) ?? put(mortal, name);
              if (tile && !isHeld) mortal.release(tile);
            }
          } catch (error) {
            if (!(error instanceof Killed)) throw error;
          }
          new TileTable(new TileSlab(memory), undefined, 1).recover();
          expect(mortalSlab.isHeldBy(1)).toBe(false);
          expect(living.slab.plane(used.slots[0])[5]).toBe(39);
          expect(count(living)).toBeGreaterThanOrEqual(2);
          // All that it had is free again: the others can fill the memory to the last slot, but for what is kept.
          const kept = 1 + (38 % 3) + (1 + (39 % 3));
          const rest = living.reserve(SLOTS - kept);
          expect(rest?.length).toBe(SLOTS - kept);
          living.unreserve(rest ?? []);
          living.release(used);
          expect(count(main)).toBe(2);
          main.dropDerived();
          expect(living.slab.usedSlots).toBe(1 + (38 % 3));
        },
      ),
      { numRuns: 400 },
    );
  });

  it('while it loads a frame takes the frame with it, and no other', () => {
    const size = { width: 200, height: 100 };
    const { memory, table } = createPixelMemory(64 * SLOT_BYTES, 2);
    const dying = new TileTable(new TileSlab(memory), undefined, 1);
    const load = (by: TileTable, name: string, isWhole: boolean) => {
      by.tellLoading(keyOfText(name));
      for (const { tx, ty } of allTiles(size, 0)) {
        const slots = by.reserve(3) as number[];
        by.release(by.publish(keyOfText(name), 0, tx, ty, { form: 'planes', slots }, 'resident'));
      }
      if (isWhole) by.tellLoading(undefined);
    };
    load(dying, 'whole', true);
    load(dying, 'half', false);
    dying.reserve(9);
    new TileTable(new TileSlab(memory), undefined, 1).recover();
    expect(table.find(keyOfText('whole'), 0, 1, 0)).toBeDefined();
    expect(table.find(keyOfText('half'), 0, 0, 0)).toBeUndefined();
    expect(table.slab.usedSlots).toBe(6);
    expect(table.room.resident).toBe(6);
  });
});

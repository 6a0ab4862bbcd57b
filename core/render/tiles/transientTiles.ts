import { isSameKey, type NodeKey } from '../../raster/tileKey.ts';
import { HELD, type PinnedTile, type TileForm, type TileTable } from '../../raster/tileTable.ts';

/** Slots that are fetched at once, and kept from tile to tile. */
const FETCHED = 16;
const MOST_SPARE = 4 * FETCHED;

/** Share of the memory that a thread may keep out of the table: nothing else can use it, however scarce memory becomes. */
const MOST_SHARE = 1 / 32;

/** What a thread makes for the tile at hand and for nothing else, when nothing is drawn on screen. It stays out of the table, which all threads
 * wait for each other at, and its slots are used again at once, while they are still in the processor's cache. */
export class TransientTiles {
  readonly #table: TileTable;
  readonly #keys: NodeKey[] = [];
  readonly #places: number[] = [];
  readonly #tiles: PinnedTile[] = [];
  readonly #spare: number[] = [];
  readonly #most: number;
  readonly #promised: NodeKey[] = [];
  #kept = 0;

  constructor(table: TileTable) {
    this.#table = table;
    this.#most = table.slab.maxSlots * MOST_SHARE;
  }

  /** A tile that was made for the tile at hand.
   * @param place - See `packPlace`. */
  find(key: NodeKey, place: number): PinnedTile | undefined {
    for (let i = 0; i < this.#tiles.length; i++) {
      if (this.#places[i] === place && isSameKey(this.#keys[i], key)) return this.#tiles[i];
    }
    return undefined;
  }

  /** Calls `make`; a tile of that key that is made meanwhile belongs in the table: others will look for it. */
  promising<T>(key: NodeKey, make: () => T): T {
    this.#promised.push(key);
    try {
      return make();
    } finally {
      this.#promised.pop();
    }
  }

  /** Whether a tile belongs in the table, from which it can be dropped or found by others. */
  isForTable(key: NodeKey): boolean {
    return this.#kept >= this.#most || this.#promised.some((promised) => isSameKey(promised, key));
  }

  /** Slots, those used last first; undefined when memory is full. */
  reserve(count: number): number[] | undefined {
    if (this.#spare.length < count) {
      const more = this.#table.reserve(count + FETCHED) ?? this.#table.reserve(count);
      if (!more) return undefined;
      this.#spare.push(...more);
    }
    return this.#spare.splice(this.#spare.length - count, count);
  }

  /** Takes back slots that were reserved and not used. */
  unreserve(slots: readonly number[]): void {
    this.#spare.push(...slots);
  }

  /** Keeps a tile until {@link drop}. Releasing it does nothing. */
  keep(key: NodeKey, place: number, form: TileForm, slots: readonly number[], value: number): PinnedTile {
    const tile = { entry: HELD, form, value, slots };
    this.#keys.push(key);
    this.#places.push(place);
    this.#tiles.push(tile);
    this.#kept += slots.length;
    return tile;
  }

  /** Forgets all tiles: the one that they were made for is done. */
  drop(): void {
    for (const { slots } of this.#tiles) this.#spare.push(...slots);
    this.#keys.length = this.#places.length = this.#tiles.length = this.#kept = 0;
    if (this.#spare.length > MOST_SPARE) this.#table.unreserve(this.#spare.splice(0, this.#spare.length - FETCHED));
  }

  /** Gives all slots back. */
  end(): void {
    this.drop();
    this.#table.unreserve(this.#spare.splice(0));
  }
}

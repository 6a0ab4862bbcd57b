import { type NodeKey, packPlace } from './tileKey.ts';
import { HEADER_BYTES, SlabWord, type TileSlab } from './tileSlab.ts';

/** What a cached tile looks like: a single value throughout, 16-bit planes, or float planes (two slots each). */
export type TileForm = 'constant' | 'planes' | 'floats';
const FORMS: readonly TileForm[] = ['constant', 'planes', 'floats'];

/** A pinned tile: it stays in memory until {@link TileTable.release}. */
export interface PinnedTile {
  readonly entry: number;
  readonly form: TileForm;
  /** The value throughout, 0..65535, when `form` is `constant`. */
  readonly value: number;
  readonly slots: readonly number[];
}

const MAX_SLOTS = 4;
const NONE = -1;
const ENTRY_WORDS = 16;
const HEAD_WORDS = 16;
/** Words of the table's own header. */
const enum Head {
  Buckets,
  Entries,
  EntriesMade,
  EntryFree,
  Oldest,
  Newest,
  Live,
}
/** Words of an entry. */
const enum Word {
  Key = 0,
  Place = 4,
  Next = 5,
  Older = 6,
  Newer = 7,
  Pins = 8,
  Form = 9,
  SlotCount = 10,
  Slots = 11,
  Value = 15,
}
/** Set in `Form` when the tile is never dropped to make room: pixels of a frame, which nothing can recompute. */
const KEPT = 256;

/** Bytes that a table of `entries` tiles takes in the slab. */
export const tileTableBytes = (entries: number): number => (HEAD_WORDS + 2 * entries + ENTRY_WORDS * entries) * 4;

/** All tiles that exist, by key, level and place; shared by all threads through the slab's memory.
 * Tiles are immutable: a changed scene asks for other keys. Least recently used tiles go first when room is needed. */
export class TileTable {
  readonly slab: TileSlab;
  readonly #at: number;

  constructor(slab: TileSlab) {
    this.slab = slab;
    this.#at = slab.words()[SlabWord.TableAt] / 4;
  }

  /** Finds and pins a tile. */
  find(key: NodeKey, level: number, tx: number, ty: number): PinnedTile | undefined {
    const place = packPlace(level, tx, ty);
    return this.#locked(() => {
      const entry = this.#search(key, place);
      if (entry === NONE) return undefined;
      this.#unlink(entry);
      return this.#pin(entry);
    });
  }

  /** Slots for a tile about to be written, dropping the least recently used tiles when needed.
   * Undefined when even that does not make room. */
  reserve(count: number): number[] | undefined {
    return this.#locked(() => {
      const slots: number[] = [];
      while (slots.length < count) {
        const slot = this.slab.take();
        if (slot !== NONE) slots.push(slot);
        else if (!this.#dropOldest()) {
          for (const taken of slots) this.slab.give(taken);
          return undefined;
        }
      }
      return slots;
    });
  }

  /** Gives back slots that were reserved and not published. */
  unreserve(slots: readonly number[]): void {
    this.#locked(() => {
      for (const slot of slots) this.slab.give(slot);
    });
  }

  /** Adds a written tile and pins it. When another thread was quicker its tile is answered and `slots` are freed.
   * @param kept - The tile is never dropped to make room. */
  publish(
    key: NodeKey,
    level: number,
    tx: number,
    ty: number,
    tile: { form: TileForm; slots: readonly number[]; value?: number },
    kept = false,
  ): PinnedTile {
    const place = packPlace(level, tx, ty);
    return this.#locked(() => {
      const existing = this.#search(key, place);
      if (existing !== NONE) {
        for (const slot of tile.slots) this.slab.give(slot);
        this.#unlink(existing);
        return this.#pin(existing);
      }
      const entry = this.#newEntry();
      const words = this.slab.words();
      const at = this.#entryAt(entry);
      words.set(key, at + Word.Key);
      words[at + Word.Place] = place;
      words[at + Word.Pins] = 0;
      words[at + Word.Form] = FORMS.indexOf(tile.form) | (kept ? KEPT : 0);
      words[at + Word.SlotCount] = tile.slots.length;
      words[at + Word.Value] = tile.value ?? 0;
      for (let i = 0; i < MAX_SLOTS; i++) words[at + Word.Slots + i] = tile.slots[i] ?? NONE;
      const bucket = this.#bucketAt(key, place);
      words[at + Word.Next] = words[bucket];
      words[bucket] = entry + 1;
      words[this.#at + Head.Live]++;
      words[at + Word.Older] = words[at + Word.Newer] = NONE;
      return this.#pin(entry);
    });
  }

  /** Lets go of a pinned tile. */
  release(tile: PinnedTile): void {
    this.#locked(() => {
      const words = this.slab.words();
      const at = this.#entryAt(tile.entry);
      if (--words[at + Word.Pins] === 0 && !(words[at + Word.Form] & KEPT)) this.#linkNewest(tile.entry);
    });
  }

  /** Drops a tile for good, kept or not. Nobody may have it pinned. */
  drop(key: NodeKey, level: number, tx: number, ty: number): void {
    this.#locked(() => {
      const entry = this.#search(key, packPlace(level, tx, ty));
      if (entry === NONE) return;
      this.#unlink(entry);
      this.#remove(entry);
    });
  }

  /** Drops every tile that can be computed again and is not in use. */
  dropDerived(): void {
    this.#locked(() => {
      while (this.#dropOldest());
    });
  }

  /** How many tiles there are. */
  get size(): number {
    return this.slab.words()[this.#at + Head.Live];
  }

  #locked<T>(action: () => T): T {
    this.slab.lock();
    try {
      return action();
    } finally {
      this.slab.unlock();
    }
  }

  #entryAt(entry: number): number {
    return this.#at + HEAD_WORDS + 2 * this.slab.words()[this.#at + Head.Entries] + entry * ENTRY_WORDS;
  }

  #bucketAt(key: NodeKey, place: number): number {
    const mixed = Math.imul(key[0] ^ Math.imul(place, 0x9e37_79b1), 0x85eb_ca6b) >>> 0;
    return this.#at + HEAD_WORDS + (mixed % this.slab.words()[this.#at + Head.Buckets]);
  }

  #search(key: NodeKey, place: number): number {
    const words = this.slab.words();
    for (let entry = words[this.#bucketAt(key, place)] - 1; entry !== NONE; ) {
      const at = this.#entryAt(entry);
      if (
        words[at + Word.Place] === place &&
        words[at] === (key[0] | 0) &&
        words[at + 1] === (key[1] | 0) &&
        words[at + 2] === (key[2] | 0) &&
        words[at + 3] === (key[3] | 0)
      )
        return entry;
      entry = words[at + Word.Next] - 1;
    }
    return NONE;
  }

  #pin(entry: number): PinnedTile {
    const words = this.slab.words();
    const at = this.#entryAt(entry);
    words[at + Word.Pins]++;
    const slots: number[] = [];
    for (let i = 0; i < words[at + Word.SlotCount]; i++) slots.push(words[at + Word.Slots + i]);
    return { entry, form: FORMS[words[at + Word.Form] & 255], value: words[at + Word.Value], slots };
  }

  #newEntry(): number {
    const words = this.slab.words();
    const free = words[this.#at + Head.EntryFree] - 1;
    if (free !== NONE) {
      words[this.#at + Head.EntryFree] = words[this.#entryAt(free) + Word.Next];
      return free;
    }
    const made = words[this.#at + Head.EntriesMade];
    if (made < words[this.#at + Head.Entries]) {
      words[this.#at + Head.EntriesMade] = made + 1;
      return made;
    }
    if (!this.#dropOldest()) throw new RangeError('The tile table is full of tiles in use');
    return this.#newEntry();
  }

  #dropOldest(): boolean {
    const oldest = this.slab.words()[this.#at + Head.Oldest] - 1;
    if (oldest === NONE) return false;
    this.#unlink(oldest);
    this.#remove(oldest);
    return true;
  }

  #remove(entry: number): void {
    const words = this.slab.words();
    const at = this.#entryAt(entry);
    const key = new Uint32Array(words.slice(at, at + 4).buffer);
    let link = this.#bucketAt(key, words[at + Word.Place]);
    while (words[link] - 1 !== entry) link = this.#entryAt(words[link] - 1) + Word.Next;
    words[link] = words[at + Word.Next];
    for (let i = 0; i < words[at + Word.SlotCount]; i++) this.slab.give(words[at + Word.Slots + i]);
    words[at + Word.Next] = words[this.#at + Head.EntryFree];
    words[this.#at + Head.EntryFree] = entry + 1;
    words[this.#at + Head.Live]--;
  }

  #linkNewest(entry: number): void {
    const words = this.slab.words();
    const newest = words[this.#at + Head.Newest] - 1;
    const at = this.#entryAt(entry);
    words[at + Word.Older] = newest;
    words[at + Word.Newer] = NONE;
    if (newest !== NONE) words[this.#entryAt(newest) + Word.Newer] = entry;
    else words[this.#at + Head.Oldest] = entry + 1;
    words[this.#at + Head.Newest] = entry + 1;
  }

  /** Takes an entry out of the order of use; harmless when it is not in it. */
  #unlink(entry: number): void {
    const words = this.slab.words();
    const at = this.#entryAt(entry);
    const older = words[at + Word.Older];
    const newer = words[at + Word.Newer];
    if (words[this.#at + Head.Oldest] - 1 === entry) words[this.#at + Head.Oldest] = newer + 1;
    else if (older !== NONE) words[this.#entryAt(older) + Word.Newer] = newer;
    if (words[this.#at + Head.Newest] - 1 === entry) words[this.#at + Head.Newest] = older + 1;
    else if (newer !== NONE) words[this.#entryAt(newer) + Word.Older] = older;
    words[at + Word.Older] = words[at + Word.Newer] = NONE;
  }
}

/** Lays out an empty table in the room that the slab keeps for it. Call once, before any thread joins. */
export function createTileTable(slab: TileSlab, entries: number): TileTable {
  const words = slab.words();
  const at = HEADER_BYTES / 4;
  words[at + Head.Buckets] = 2 * entries - 1;
  words[at + Head.Entries] = entries;
  return new TileTable(slab);
}

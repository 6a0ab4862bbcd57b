import type { NodeKey } from './tileKey.ts';
import { Owner, SlabWord, type TileSlab } from './tileSlab.ts';

/** How a tile may leave the memory: dropped, since it can be computed again; moved out to the overflow and back; never. */
export type Keeping = 'derived' | 'moveable' | 'resident';

export const NONE = -1;
/** Words of an entry that are the same for any number of threads. */
const FIXED_WORDS = 20;
const HEAD_WORDS = 16;

export const MOVEABLE = 1;
const RESIDENT = 2;

/** Words of the table's own header. */
const enum Head {
  Buckets,
  Entries,
  EntriesMade,
  EntryFree,
  Live,
  /** Slots of tiles that stay, and of moveable ones that are in memory now. */
  ResidentSlots,
  MoveableInMemory,
  /** Moveable tiles wherever they are. */
  MoveableTiles,
  /** From here on the oldest and newest tile of each order of use. */
  Orders = 8,
}

/** Words of an entry. */
export const enum Word {
  Key = 0,
  Place = 4,
  Next = 5,
  Older = 6,
  Newer = 7,
  Pins = 8,
  Form = 9,
  Keeping = 10,
  SlotCount = 11,
  /** Six: a tile has at most three float planes of two slots each. */
  Slots = 12,
  /** The value of a constant tile; of a moveable one its place in the overflow, counted from 1, once it has been written. */
  Value = 18,
  /** 1 from when the entry is whole until it begins to be taken apart. */
  IsWhole = 19,
}

/** The two orders of use: derived tiles, and tiles that can be moved out. */
export type Order = 0 | 1;

/** Words of an entry, with two bytes for each thread's own pins: they lie beside all else that is looked at when a tile is pinned. */
const entryWords = (threads: number): number => FIXED_WORDS + Math.ceil(threads / 2);

/** Bytes that the entries of a table take in the slab.
 * @param threads - How many may pin tiles. */
export const entriesBytes = (entries: number, threads: number): number =>
  (HEAD_WORDS + 2 * entries + entryWords(threads) * entries) * 4;

/** The tile table's words in shared memory: entries found by key and place, and two orders of use. Callers hold the lock. */
export class TileEntries {
  readonly #slab: TileSlab;
  readonly #at: number;
  readonly #first: number;
  readonly #buckets: number;
  readonly #entryWords: number;
  readonly #threads: number;
  /** The same memory, two bytes at a time. */
  readonly #halves: Uint16Array;

  constructor(slab: TileSlab) {
    this.#slab = slab;
    const words = slab.words();
    this.#at = words[SlabWord.TableAt] / 4;
    this.#first = this.#at + HEAD_WORDS + 2 * words[this.#at + Head.Entries];
    this.#buckets = words[this.#at + Head.Buckets];
    this.#threads = slab.threads + 1;
    this.#entryWords = entryWords(this.#threads);
    const { most } = this;
    this.#halves = new Uint16Array(words.buffer, 0, 2 * (this.#first + most * this.#entryWords));
  }

  /** Lays out an empty table in the room that the slab keeps for it. */
  static layOut(slab: TileSlab, entries: number): void {
    const words = slab.words();
    const at = words[SlabWord.TableAt] / 4;
    words[at + Head.Buckets] = 2 * entries - 1;
    words[at + Head.Entries] = entries;
  }

  /** Most tiles that there can be. */
  get most(): number {
    return this.#slab.words()[this.#at + Head.Entries];
  }

  hasKey(entry: number, key: NodeKey): boolean {
    const words = this.#slab.words();
    return key.every((word, i) => words[this.at(entry) + Word.Key + i] === (word | 0));
  }

  /** How many tiles there are. */
  get live(): number {
    return this.#slab.words()[this.#at + Head.Live];
  }

  /** Slots of tiles that are never dropped, in memory or out. */
  get keptSlots(): { moveable: number; resident: number } {
    const words = this.#slab.words();
    return { moveable: 3 * words[this.#at + Head.MoveableTiles], resident: words[this.#at + Head.ResidentSlots] };
  }

  /** Moveable tiles that are out of memory. */
  get tilesOut(): number {
    const words = this.#slab.words();
    return words[this.#at + Head.MoveableTiles] - words[this.#at + Head.MoveableInMemory] / 3;
  }

  /** Slots of tiles that are never dropped, in memory. */
  get slotsInMemory(): number {
    const words = this.#slab.words();
    return words[this.#at + Head.ResidentSlots] + words[this.#at + Head.MoveableInMemory];
  }

  /** Where an entry's words begin. */
  at(entry: number): number {
    return this.#first + entry * this.#entryWords;
  }

  /** Counts a pin, or one less, for a thread, so that the pins of one that dies can be undone. */
  countPin(entry: number, thread: number, by: 1 | -1): void {
    this.#halves[2 * (this.at(entry) + FIXED_WORDS) + thread] += by;
  }

  /** How often a tile is pinned by all threads but one, whose pins are undone. */
  #pinsWithout(entry: number, thread: number): number {
    const first = 2 * (this.at(entry) + FIXED_WORDS);
    this.#halves[first + thread] = 0;
    let pins = 0;
    for (let each = 0; each < this.#threads; each++) pins += this.#halves[first + each];
    return pins;
  }

  search(key: NodeKey, place: number): number {
    const words = this.#slab.words();
    for (let entry = words[this.#bucketAt(key[0], place)] - 1; entry !== NONE; ) {
      const at = this.at(entry);
      if (
        words[at + Word.Place] === place &&
        words[at + Word.Key] === (key[0] | 0) &&
        words[at + Word.Key + 1] === (key[1] | 0) &&
        words[at + Word.Key + 2] === (key[2] | 0) &&
        words[at + Word.Key + 3] === (key[3] | 0)
      )
        return entry;
      entry = words[at + Word.Next] - 1;
    }
    return NONE;
  }

  /** Adds an entry without pins, in no order of use, to be completed. Undefined when the table is full. */
  insert(key: NodeKey, place: number, form: number, keeping: number): number | undefined {
    const entry = this.#unused();
    if (entry === undefined) return undefined;
    const words = this.#slab.words();
    const at = this.at(entry);
    for (let word = at; word < at + this.#entryWords; word++) words[word] = 0;
    for (let i = 0; i < 4; i++) words[at + i] = key[i];
    words[at + Word.Place] = place;
    words[at + Word.Form] = form;
    words[at + Word.Keeping] = keeping;
    words[at + Word.Older] = words[at + Word.Newer] = NONE;
    if (keeping === MOVEABLE) words[this.#at + Head.MoveableTiles]++;
    const bucket = this.#bucketAt(key[0], place);
    words[at + Word.Next] = words[bucket];
    words[bucket] = entry + 1;
    words[this.#at + Head.Live]++;
    return entry;
  }

  /** Says that all of an entry is there. */
  complete(entry: number): void {
    this.#slab.words()[this.at(entry) + Word.IsWhole] = 1;
  }

  /** Sets the slots of an entry, which has none. */
  setSlots(entry: number, slots: readonly number[]): void {
    const words = this.#slab.words();
    const at = this.at(entry);
    for (let i = 0; i < slots.length; i++) {
      words[at + Word.Slots + i] = slots[i];
      this.#slab.own(slots[i], Owner.Table);
    }
    // Not before they are there: a thread may die in between.
    words[at + Word.SlotCount] = slots.length;
    this.#count(at, slots.length);
  }

  slots(entry: number): number[] {
    const words = this.#slab.words();
    const at = this.at(entry);
    const slots: number[] = [];
    for (let i = 0; i < words[at + Word.SlotCount]; i++) slots.push(words[at + Word.Slots + i]);
    return slots;
  }

  /** Gives an entry's slots back to the slab. */
  giveSlots(entry: number): void {
    const words = this.#slab.words();
    const at = this.at(entry);
    const count = words[at + Word.SlotCount];
    for (let i = 0; i < count; i++) this.#slab.give(words[at + Word.Slots + i]);
    this.#count(at, -count);
    words[at + Word.SlotCount] = 0;
  }

  /** Takes an entry out of the table, with its slots. */
  remove(entry: number): void {
    const words = this.#slab.words();
    const at = this.at(entry);
    words[at + Word.IsWhole] = 0;
    let link = this.#bucketAt(words[at], words[at + Word.Place]);
    while (words[link] - 1 !== entry) link = this.at(words[link] - 1) + Word.Next;
    words[link] = words[at + Word.Next];
    this.giveSlots(entry);
    if (words[at + Word.Keeping] === MOVEABLE) words[this.#at + Head.MoveableTiles]--;
    words[at + Word.Next] = words[this.#at + Head.EntryFree];
    words[this.#at + Head.EntryFree] = entry + 1;
    words[this.#at + Head.Live]--;
  }

  /** Puts the table together anew from the entries that are whole: after a thread died while it changed something.
   * @param dead - The thread, whose pins are undone.
   * @param unfinished - Key of tiles that go, where nobody else has them pinned.
   * @returns The entries that there are. */
  rebuild(dead: number, unfinished: NodeKey | undefined): number[] {
    const words = this.#slab.words();
    const made = words[this.#at + Head.EntriesMade];
    words.fill(0, this.#at + HEAD_WORDS, this.#first);
    words.fill(0, this.#at + Head.EntryFree, this.#at + HEAD_WORDS);
    const taken = new Uint8Array(this.#slab.maxSlots);
    const whole: number[] = [];
    for (let entry = made - 1; entry >= 0; entry--) {
      const at = this.at(entry);
      const isKept = () => this.#pinsWithout(entry, dead) > 0 || !unfinished || !this.hasKey(entry, unfinished);
      if (this.#isSound(at, taken) && isKept()) {
        for (const slot of this.slots(entry)) taken[slot] = 1;
        whole.push(entry);
      } else {
        words[at + Word.IsWhole] = 0;
        words[at + Word.Next] = words[this.#at + Head.EntryFree];
        words[this.#at + Head.EntryFree] = entry + 1;
      }
    }
    for (const entry of whole) this.#enter(entry, this.#pinsWithout(entry, dead));
    const owners = this.#slab.owners;
    for (let slot = 0; slot < owners.length; slot++)
      if (taken[slot]) owners[slot] = Owner.Table;
      else if (owners[slot] === Owner.Table) owners[slot] = Owner.Nobody;
    return whole;
  }

  /** Whether an entry is whole, with slots of its own. */
  #isSound(at: number, taken: Uint8Array): boolean {
    const words = this.#slab.words();
    const count = words[at + Word.SlotCount];
    if (words[at + Word.IsWhole] !== 1 || count < 0 || count > Word.Value - Word.Slots) return false;
    // Only what is out of memory, or one value throughout, has no slots.
    const isOut = words[at + Word.Keeping] === MOVEABLE && words[at + Word.Value] > 0;
    if (count === 0 && words[at + Word.Form] !== 0 && !isOut) return false;
    for (let i = 0; i < count; i++) {
      const slot = words[at + Word.Slots + i];
      if (slot < 0 || slot >= this.#slab.owners.length || taken[slot]) return false;
    }
    return true;
  }

  #enter(entry: number, pins: number): void {
    const words = this.#slab.words();
    const at = this.at(entry);
    const [keeping, count] = [words[at + Word.Keeping], words[at + Word.SlotCount]];
    const bucket = this.#bucketAt(words[at], words[at + Word.Place]);
    words[at + Word.Next] = words[bucket];
    words[bucket] = entry + 1;
    words[at + Word.Pins] = pins;
    words[at + Word.Older] = words[at + Word.Newer] = NONE;
    words[this.#at + Head.Live]++;
    if (keeping === MOVEABLE) words[this.#at + Head.MoveableTiles]++;
    this.#count(at, count);
    if (pins === 0 && keeping < RESIDENT && !(keeping === MOVEABLE && count === 0))
      this.linkNewest(entry, keeping as Order);
  }

  oldest(order: Order): number {
    return this.#slab.words()[this.#orderAt(order)] - 1;
  }

  linkNewest(entry: number, order: Order): void {
    const words = this.#slab.words();
    const end = this.#orderAt(order) + 1;
    const newest = words[end] - 1;
    const at = this.at(entry);
    words[at + Word.Older] = newest;
    words[at + Word.Newer] = NONE;
    if (newest !== NONE) words[this.at(newest) + Word.Newer] = entry;
    else words[end - 1] = entry + 1;
    words[end] = entry + 1;
  }

  /** Takes an entry out of its order of use; harmless when it is not in it. */
  unlink(entry: number, order: Order): void {
    const words = this.#slab.words();
    const start = this.#orderAt(order);
    const at = this.at(entry);
    const older = words[at + Word.Older];
    const newer = words[at + Word.Newer];
    if (words[start] - 1 === entry) words[start] = newer + 1;
    else if (older !== NONE) words[this.at(older) + Word.Newer] = newer;
    if (words[start + 1] - 1 === entry) words[start + 1] = older + 1;
    else if (newer !== NONE) words[this.at(newer) + Word.Older] = older;
    words[at + Word.Older] = words[at + Word.Newer] = NONE;
  }

  /** Counts slots that come into memory for a tile that is kept, or leave it. */
  #count(at: number, slots: number): void {
    const words = this.#slab.words();
    const keeping = words[at + Word.Keeping];
    if (keeping === RESIDENT) words[this.#at + Head.ResidentSlots] += slots;
    else if (keeping === MOVEABLE) words[this.#at + Head.MoveableInMemory] += slots;
  }

  #orderAt(order: Order): number {
    return this.#at + Head.Orders + 2 * order;
  }

  #bucketAt(first: number, place: number): number {
    const mixed = Math.imul(first ^ Math.imul(place, 0x9e37_79b1), 0x85eb_ca6b) >>> 0;
    return this.#at + HEAD_WORDS + (mixed % this.#buckets);
  }

  #unused(): number | undefined {
    const words = this.#slab.words();
    const free = words[this.#at + Head.EntryFree] - 1;
    if (free !== NONE) {
      words[this.#at + Head.EntryFree] = words[this.at(free) + Word.Next];
      return free;
    }
    const made = words[this.#at + Head.EntriesMade];
    if (made >= words[this.#at + Head.Entries]) return undefined;
    words[this.#at + Head.EntriesMade] = made + 1;
    return made;
  }
}

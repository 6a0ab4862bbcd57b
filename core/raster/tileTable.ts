import type { Overflow } from './overflow.ts';
import { PLACE_BYTES, PlaceMap } from './placeMap.ts';
import { type Keeping, MOVEABLE, NONE, type Order, TileEntries, Word } from './tileEntries.ts';
import { type NodeKey, packPlace } from './tileKey.ts';
import { Owner, SlabWord, type TileSlab } from './tileSlab.ts';

/** What a cached tile looks like: a single value throughout, 16-bit planes, or float planes (two slots each). */
export type TileForm = 'constant' | 'planes' | 'floats';
const FORMS: readonly TileForm[] = ['constant', 'planes', 'floats'];
const KEEPINGS: readonly Keeping[] = ['derived', 'moveable', 'resident'];

/** A pinned tile: it stays in memory until {@link TileTable.release}. */
export interface PinnedTile {
  /** Its entry in the table, or {@link LOOSE}, or {@link HELD}. */
  readonly entry: number;
  readonly form: TileForm;
  /** The value throughout, 0..65535, when `form` is `constant`. */
  readonly value: number;
  readonly slots: readonly number[];
}

/** Entry of a tile that is in no table: its slots are free again once it is released. */
const LOOSE = -1;

/** Entry of a tile that is in no table and belongs to somebody: releasing it does nothing. */
export const HELD = -2;

/** Whether a tile has been moved out of memory. */
const isOut = ({ form, slots }: PinnedTile): boolean => form !== 'constant' && slots.length === 0;

/** Memory is full and nothing in it can make room. */
export class MemoryFull extends Error {
  readonly code = 'memory-full';
}

/** Share of the memory that computed tiles keep before frames are moved out for them. */
const DERIVED_SHARE = 1 / 8;

/** So many slots of computed tiles, half a gigabyte, may lie in memory that was not used before; then the oldest make room. */
const MOST_FRESH = 2 ** 14;

/** Places that stay free while frames are loaded: to bring a tile back, another has to go first. */
const SPARE_PLACES = 8;
const MOST_ATTEMPTS = 64;

/** Words of a thread's mailbox in which it says what it is loading: whether, and the key. */
const LOADING = 8;

/** How much frames hold and may hold, in slots. */
export interface Room {
  /** What could be moved out, of what is in memory and of what is out. */
  moveable: number;
  /** What has to stay in memory. */
  resident: number;
  /** Most that memory holds for frames; the rest is for computing. */
  most: number;
  /** Most that the overflow holds. */
  overflow: number;
}

/** All tiles that exist, by key, level and place; shared by all threads through the slab's memory.
 * Tiles are immutable: a changed scene asks for other keys. When room is needed the least recently used computed tiles
 * are dropped, then the least recently used tiles of frames are moved out to the overflow, if there is one. */
export class TileTable {
  readonly slab: TileSlab;
  readonly #entries: TileEntries;
  readonly #overflow: Overflow | undefined;
  readonly #places: PlaceMap;
  readonly #thread: number;
  readonly #mostFresh: number;

  /** @param overflow - This thread's way to it.
   * @param thread - Which thread it is; without it the one that laid the table out.
   * @param mostFresh - How many slots of computed tiles may lie in memory that was not used before. */
  constructor(slab: TileSlab, overflow?: Overflow, thread = slab.threads, mostFresh = MOST_FRESH) {
    this.#mostFresh = mostFresh;
    this.slab = slab;
    this.#entries = new TileEntries(slab);
    this.#overflow = overflow;
    this.#thread = thread;
    this.#places = new PlaceMap(slab, (slab.words()[SlabWord.ArenasAt] - PLACE_BYTES) >> 2);
  }

  /** Which thread it is of. */
  get thread(): number {
    return this.#thread;
  }

  /** Takes the place of a thread of this number that has died, wherever it was: lets go of what it had pinned and reserved, of the
   * frame that it was loading, and of the lock. Call it before anything else, once that thread surely runs no more. */
  recover(): void {
    if (!this.slab.isHeldBy(this.#thread)) this.slab.lock(this.#thread);
    try {
      const { owners } = this.slab;
      for (let slot = 0; slot < owners.length; slot++)
        if (owners[slot] === this.#thread + 1) owners[slot] = Owner.Nobody;
      const kept = this.#entries.rebuild(this.#thread, this.#loading());
      this.#places.relist(kept.map((entry) => this.#placeOf(entry)).filter((place) => place > 0));
      this.slab.relist();
      this.#say(undefined);
    } finally {
      this.slab.unlock();
    }
  }

  /** Says which frame this thread is loading, or that it has ended: should it die meanwhile, the frame goes. */
  tellLoading(key: NodeKey | undefined): void {
    this.#locked(() => this.#say(key));
  }

  #say(key: NodeKey | undefined): void {
    if (this.#thread >= this.slab.threads) return;
    const mailbox = this.slab.mailbox(this.#thread);
    mailbox[LOADING] = 0;
    if (!key) return;
    mailbox.set(key, LOADING + 1);
    mailbox[LOADING] = 1;
  }

  #loading(): NodeKey | undefined {
    if (this.#thread >= this.slab.threads) return undefined;
    const mailbox = this.slab.mailbox(this.#thread);
    return mailbox[LOADING] ? new Uint32Array(mailbox.slice(LOADING + 1, LOADING + 5)) : undefined;
  }

  /** The place in the overflow that a tile has; 0 for one that has none. */
  #placeOf(entry: number): number {
    const words = this.slab.words();
    const at = this.#entries.at(entry);
    return words[at + Word.Keeping] === MOVEABLE ? words[at + Word.Value] : 0;
  }

  /** Finds and pins a tile, bringing it back when it was moved out.
   * @throws {MemoryFull} when there is no room to bring it back. */
  find(key: NodeKey, level: number, tx: number, ty: number): PinnedTile | undefined {
    const place = packPlace(level, tx, ty);
    const tile = this.#locked(() => this.#pinIfThere(key, place));
    return tile && isOut(tile) ? this.#bringBack(tile) : tile;
  }

  /** The same for several tiles at once.
   * @throws {MemoryFull} when there is no room to bring one of them back; then none is pinned. */
  findAll(wanted: readonly { key: NodeKey; place: number }[]): (PinnedTile | undefined)[] {
    const found = this.#locked(() => wanted.map(({ key, place }) => this.#pinIfThere(key, place)));
    for (let index = 0; index < found.length; index++) {
      const tile = found[index];
      if (!tile || !isOut(tile)) continue;
      try {
        found[index] = this.#bringBack(tile);
      } catch (error) {
        found[index] = undefined; // it was let go of
        this.releaseAll(found.flatMap((each) => each ?? []));
        throw error;
      }
    }
    return found;
  }

  /** Slots for a tile about to be written, making room when needed. Undefined when there is none to make. */
  reserve(count: number): number[] | undefined {
    const slots: number[] = [];
    for (;;) {
      this.#locked(() => this.#takeInto(slots, count));
      if (slots.length === count) return slots;
      if (this.#moveOut(SPARE_PLACES)) continue;
      if (this.#locked(() => this.#dropOldest())) continue;
      this.unreserve(slots);
      return undefined;
    }
  }

  /** Gives back slots that were reserved and not published. */
  unreserve(slots: readonly number[]): void {
    this.#locked(() => {
      for (const slot of slots) this.slab.give(slot);
    });
  }

  /** Adds a written tile and pins it. When another thread was quicker its tile is answered and `slots` are freed.
   * @param keeping - How it may leave again.
   * @throws {MemoryFull} when all entries are of tiles in use. */
  publish(
    key: NodeKey,
    level: number,
    tx: number,
    ty: number,
    tile: { form: TileForm; slots: readonly number[]; value?: number },
    keeping: Keeping = 'derived',
  ): PinnedTile {
    const place = packPlace(level, tx, ty);
    return this.#locked(() => {
      const existing = this.#entries.search(key, place);
      if (existing !== NONE) {
        for (const slot of tile.slots) this.slab.give(slot);
        return this.#pin(existing);
      }
      const [form, kept] = [FORMS.indexOf(tile.form), KEEPINGS.indexOf(keeping)];
      let entry = this.#entries.insert(key, place, form, kept);
      while (entry === undefined) {
        if (!this.#dropOldest()) throw new MemoryFull('The tile table is full of tiles in use');
        entry = this.#entries.insert(key, place, form, kept);
      }
      this.slab.words()[this.#entries.at(entry) + Word.Value] = tile.value ?? 0;
      this.#entries.setSlots(entry, tile.slots);
      this.#entries.complete(entry);
      return this.#pin(entry);
    });
  }

  /** A tile that nobody else can find: for pixels that are asked for once. */
  loose(form: TileForm, slots: readonly number[]): PinnedTile {
    return { entry: LOOSE, form, value: 0, slots };
  }

  /** Lets go of a pinned tile. */
  release(tile: PinnedTile): void {
    if (tile.entry === LOOSE) this.unreserve(tile.slots);
    else if (tile.entry !== HELD) this.#locked(() => this.#unpin(tile.entry));
  }

  /** Lets go of several pinned tiles at once. */
  releaseAll(tiles: readonly PinnedTile[]): void {
    if (tiles.every(({ entry }) => entry === HELD)) return;
    this.#locked(() => {
      for (const { entry, slots } of tiles) {
        if (entry === LOOSE) for (const slot of slots) this.slab.give(slot);
        else if (entry !== HELD) this.#unpin(entry);
      }
    });
  }

  /** Drops a tile for good, however it is kept. Nobody may have it pinned. */
  drop(key: NodeKey, level: number, tx: number, ty: number): void {
    this.#locked(() => {
      const entry = this.#entries.search(key, packPlace(level, tx, ty));
      if (entry === NONE) return;
      const order = this.#orderOf(entry);
      if (order !== undefined) this.#entries.unlink(entry, order);
      if (order === MOVEABLE) this.#forgetPlace(entry);
      this.#entries.remove(entry);
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
    return this.#entries.live;
  }

  /** How much frames hold, in slots. */
  get room(): Room {
    const { maxSlots, overflowPlaces } = this.slab;
    const { moveable, resident } = this.#entries.keptSlots;
    return {
      moveable,
      resident,
      most: Math.floor(maxSlots * (1 - DERIVED_SHARE)),
      overflow: Math.max(0, overflowPlaces - SPARE_PLACES) * 3,
    };
  }

  #locked<T>(action: () => T): T {
    this.slab.lock(this.#thread);
    try {
      return action();
    } finally {
      this.slab.unlock();
    }
  }

  #takeInto(slots: number[], count: number): void {
    while (slots.length < count) {
      // Memory that is touched for the first time costs more than what is computed on it.
      if (!this.slab.hasWarm && this.#derivedSlots > this.#mostFresh) this.#dropOldest();
      const slot = this.slab.take(this.#thread);
      if (slot !== NONE) slots.push(slot);
      // Below their share computed tiles stay, and a frame's tile has to go: what is on screen would thrash otherwise.
      else if (!this.#derivedMayGo() || !this.#dropOldest()) return;
    }
  }

  /** Slots that computed tiles hold, and those that are being written. */
  get #derivedSlots(): number {
    return this.slab.usedSlots - this.#entries.slotsInMemory;
  }

  #derivedMayGo(): boolean {
    if (!this.#overflow || this.slab.overflowPlaces === 0) return true;
    return this.#derivedSlots > this.slab.maxSlots * DERIVED_SHARE;
  }

  #pinIfThere(key: NodeKey, place: number): PinnedTile | undefined {
    const entry = this.#entries.search(key, place);
    return entry === NONE ? undefined : this.#pin(entry);
  }

  #pin(entry: number): PinnedTile {
    const words = this.slab.words();
    const at = this.#entries.at(entry);
    const order = this.#orderOf(entry);
    this.#entries.countPin(entry, this.#thread, 1);
    if (words[at + Word.Pins]++ === 0 && order !== undefined) this.#entries.unlink(entry, order);
    const form = FORMS[words[at + Word.Form]];
    return { entry, form, value: words[at + Word.Value], slots: this.#entries.slots(entry) };
  }

  #unpin(entry: number): void {
    const words = this.slab.words();
    const at = this.#entries.at(entry);
    const order = this.#orderOf(entry);
    this.#entries.countPin(entry, this.#thread, -1);
    if (--words[at + Word.Pins] > 0 || order === undefined) return;
    // A tile that is out cannot go out again.
    const isOut = order === MOVEABLE && words[at + Word.SlotCount] === 0;
    if (!isOut) this.#entries.linkNewest(entry, order);
  }

  #orderOf(entry: number): Order | undefined {
    const keeping = this.slab.words()[this.#entries.at(entry) + Word.Keeping];
    return keeping > MOVEABLE ? undefined : (keeping as Order);
  }

  #dropOldest(): boolean {
    const oldest = this.#entries.oldest(0);
    if (oldest === NONE) return false;
    this.#entries.unlink(oldest, 0);
    this.#entries.remove(oldest);
    return true;
  }

  /** Moves a frame's tile out of memory: the one that was used longest ago, or when no place is free one that has its
   * place already.
   * @param spare - Places that must stay free.
   * @returns Whether there is more room now, or may be. */
  #moveOut(spare: number): boolean {
    const overflow = this.#overflow;
    if (!overflow || this.slab.overflowPlaces - this.#entries.tilesOut <= spare) return false;
    for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
      const chosen = this.#locked(() => {
        const entry = this.#entries.oldest(MOVEABLE);
        return entry === NONE ? undefined : this.#pin(entry);
      });
      if (!chosen) return false;
      if (this.#moveOutTile(chosen, overflow)) return true;
    }
    return false;
  }

  /** The tile is pinned while it is written, so that others go on reading it, and written only the first time: pixels of
   * frames never change. */
  #moveOutTile(chosen: PinnedTile, overflow: Overflow): boolean {
    const isWritten = chosen.value > 0;
    const place = isWritten ? chosen.value : this.#locked(() => this.#places.take());
    const done = place > 0 && (isWritten || overflow.write(place - 1, chosen.slots));
    this.#locked(() => {
      const words = this.slab.words();
      const at = this.#entries.at(chosen.entry);
      if (!done) this.#places.free(place);
      else words[at + Word.Value] = place;
      if (done && words[at + Word.Pins] === 1) this.#entries.giveSlots(chosen.entry);
      this.#unpin(chosen.entry);
    });
    return done;
  }

  #bringBack(tile: PinnedTile): PinnedTile {
    const slots = this.#reserveForReturn();
    if (!slots || !this.#overflow?.read(tile.value - 1, slots)) {
      if (slots) this.unreserve(slots);
      this.release(tile);
      throw new MemoryFull(slots ? 'A tile could not be read back' : 'There is no room to read a tile back into');
    }
    return this.#locked(() => {
      const there = this.#entries.slots(tile.entry);
      if (there.length > 0) {
        for (const slot of slots) this.slab.give(slot);
        return { ...tile, slots: there };
      }
      this.#entries.setSlots(tile.entry, slots);
      if (this.#placesAreScarce()) this.#forgetPlace(tile.entry);
      return { ...tile, slots };
    });
  }

  /** Slots for a tile that comes back; the spare places are there for this, or a full overflow could never be read. */
  #reserveForReturn(): number[] | undefined {
    return this.reserve(3) ?? (this.#moveOut(0) ? this.reserve(3) : undefined);
  }

  /** Whether not all tiles can have a place of their own: then a tile that is in memory gives its place up. */
  #placesAreScarce(): boolean {
    return this.#entries.keptSlots.moveable / 3 > this.slab.overflowPlaces;
  }

  #forgetPlace(entry: number): void {
    const at = this.#entries.at(entry) + Word.Value;
    this.#places.free(this.slab.words()[at]);
    this.slab.words()[at] = 0;
  }
}

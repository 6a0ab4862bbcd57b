import { Arena } from './arena.ts';
import { TILE_SAMPLES } from './size.ts';

/** What the slab needs of a `WebAssembly.Memory` made with `shared: true`. */
export interface SharedMemory {
  readonly buffer: SharedArrayBuffer | ArrayBuffer;
  grow(pages: number): number;
}

/** Samples from one plane to the next; the 64 spare ones keep planes from aliasing in the cache. */
const PLANE_STRIDE = TILE_SAMPLES + 64;

/** Bytes of a slot: one 16-bit plane, or the upper or lower half of one float plane. */
export const SLOT_BYTES = PLANE_STRIDE * 2;

const WASM_PAGE = 65536;
const GROW_PAGES = 512;

/** Words of the slab's header, shared by all threads. */
export const enum SlabWord {
  Magic,
  Lock,
  FreeHead,
  SlotsMade,
  SlotsUsed,
  SlotsMax,
  SlotsAt,
  TableAt,
  ArenasAt,
  ArenaBytes,
  ArenaCount,
  /** How many places the overflow has; 0 while there is none. */
  OverflowPlaces,
  /** Counts up to wake the thread that keeps the overflow. */
  OverflowBell,
  LettersAt,
  /** A byte for each slot: whose it is, see {@link Owner}. */
  OwnersAt,
  /** From here on: one word for each lane of requests, see {@link TileSlab.lane}. */
  Lanes = 16,
}

/** Looks at the lock before going to sleep: it is held for less time than sleeping takes. */
const SPINS = 200;

/** The lock: 0 when it is free, else twice the number of its owner plus one, and the lowest bit when somebody waits. */
const FREE = 0;
const AWAITED = 1;

/** Whose a slot is: free, a tile's of the table, or a thread's (its number plus one), which has reserved it. */
export const Owner = { Nobody: 0, Table: 255 } as const;

export const HEADER_BYTES = 256;
const LETTER_BYTES = 64;
const MAGIC = 0x4c55_5345 | 0;
const NONE = -1;

/** Slots of equal size in one shared memory, handed out from a free list that all threads share.
 * The only owner of pixel memory. Callers hold the lock while they take or give back slots. */
export class TileSlab {
  #words: Int32Array;
  /** Slots as planes, once they were asked for: shared memory stays where it is when it grows. */
  readonly #planes: Uint16Array[];
  readonly #floats: Float32Array[];
  readonly #halves: (readonly [Uint16Array, Uint16Array])[];
  readonly #ownerBytes: Uint8Array;
  readonly #memory: SharedMemory;

  /** Joins a slab that {@link createTileSlab} laid out.
   * @throws {RangeError} when the memory holds none. */
  constructor(memory: SharedMemory) {
    this.#memory = memory;
    this.#words = new Int32Array(memory.buffer);
    if (this.#words[SlabWord.Magic] !== MAGIC) throw new RangeError('The memory holds no tile slab');
    this.#planes = new Array(this.maxSlots);
    this.#floats = new Array(this.maxSlots);
    this.#halves = new Array(this.maxSlots);
    this.#ownerBytes = new Uint8Array(memory.buffer, this.#words[SlabWord.OwnersAt], this.maxSlots);
  }

  /** The memory as 32-bit words, at least as far as `reach`: another thread may have grown it. */
  words(reach = 0): Int32Array {
    if (reach > this.#words.length) {
      if (reach * 4 > this.#memory.buffer.byteLength) this.#memory.grow(0);
      this.#words = new Int32Array(this.#memory.buffer);
    }
    return this.#words;
  }

  get maxSlots(): number {
    return this.#words[SlabWord.SlotsMax];
  }

  get overflowPlaces(): number {
    return Atomics.load(this.#words, SlabWord.OverflowPlaces);
  }

  set overflowPlaces(places: number) {
    Atomics.store(this.#words, SlabWord.OverflowPlaces, places);
  }

  get usedSlots(): number {
    return Atomics.load(this.#words, SlabWord.SlotsUsed);
  }

  /** The number that the requests of a lane must carry to be current; older ones are stale. */
  lane(lane: number): number {
    return Atomics.load(this.#words, SlabWord.Lanes + lane);
  }

  /** Makes every earlier request of a lane stale and answers the new current number. */
  advanceLane(lane: number): number {
    return Atomics.add(this.#words, SlabWord.Lanes + lane, 1) + 1;
  }

  /** How many threads there is room for. */
  get threads(): number {
    return this.#words[SlabWord.ArenaCount];
  }

  /** The words that a thread and the keeper of the overflow write to each other. */
  mailbox(index: number): Int32Array {
    return new Int32Array(
      this.#memory.buffer,
      this.#words[SlabWord.LettersAt] + index * LETTER_BYTES,
      LETTER_BYTES / 4,
    );
  }

  get wakeCount(): number {
    return Atomics.load(this.#words, SlabWord.OverflowBell);
  }

  /** Wakes the keeper of the overflow. */
  ring(): void {
    Atomics.add(this.#words, SlabWord.OverflowBell, 1);
    Atomics.notify(this.#words, SlabWord.OverflowBell);
  }

  /** Waits until no other thread holds the lock, and takes it. Nobody is woken when nobody waits (Drepper 2011, "Futexes are
   * tricky", section 6). It says whose it is, so that it can be taken over from a thread that has died.
   * @param thread - Who takes it. */
  lock(thread: number): void {
    const words = this.#words;
    const own = (thread + 1) << 1;
    for (let spin = 0; spin < SPINS; spin++)
      if (Atomics.compareExchange(words, SlabWord.Lock, FREE, own) === FREE) return;
    for (;;) {
      const seen = Atomics.compareExchange(words, SlabWord.Lock, FREE, own | AWAITED);
      if (seen === FREE) return;
      const awaited = seen | AWAITED;
      if (seen === awaited || Atomics.compareExchange(words, SlabWord.Lock, seen, awaited) === seen)
        Atomics.wait(words, SlabWord.Lock, awaited, 1);
    }
  }

  unlock(): void {
    if (Atomics.exchange(this.#words, SlabWord.Lock, FREE) & AWAITED) Atomics.notify(this.#words, SlabWord.Lock, 1);
  }

  /** Whether the lock is a thread's: for one that takes the place of another that died, who may have held it. */
  isHeldBy(thread: number): boolean {
    return Atomics.load(this.#words, SlabWord.Lock) >> 1 === thread + 1;
  }

  /** Whose the slots are that were ever made, a byte each. */
  get owners(): Uint8Array {
    return new Uint8Array(this.#memory.buffer, this.#words[SlabWord.OwnersAt], this.#words[SlabWord.SlotsMade]);
  }

  own(slot: number, owner: number): void {
    this.#ownerBytes[slot] = owner;
  }

  /** Makes a free list of all slots that are nobody's, whatever it was before. */
  relist(): void {
    const owners = this.owners;
    let [head, used] = [NONE, 0];
    for (let slot = owners.length - 1; slot >= 0; slot--) {
      if (owners[slot] !== Owner.Nobody) {
        used++;
        continue;
      }
      this.words(this.#wordOf(slot) + 1)[this.#wordOf(slot)] = head;
      head = slot;
    }
    const words = this.words();
    words[SlabWord.FreeHead] = head;
    words[SlabWord.SlotsUsed] = used;
  }

  /** Whether a slot is free that was used before. */
  get hasWarm(): boolean {
    return this.words()[SlabWord.FreeHead] !== NONE;
  }

  /** Takes a free slot for a thread, or -1 when all that the budget allows are used. */
  take(thread: number): number {
    let words = this.words();
    let slot = words[SlabWord.FreeHead];
    if (slot !== NONE) {
      words[SlabWord.FreeHead] = this.words(this.#wordOf(slot) + 1)[this.#wordOf(slot)];
    } else {
      slot = words[SlabWord.SlotsMade];
      if (slot >= words[SlabWord.SlotsMax] || !this.#reach(slot)) return NONE;
      words = this.words();
      words[SlabWord.SlotsMade] = slot + 1;
    }
    this.#ownerBytes[slot] = thread + 1;
    this.words()[SlabWord.SlotsUsed]++;
    return slot;
  }

  /** Gives a slot back; its samples are lost. */
  give(slot: number): void {
    const words = this.words(this.#wordOf(slot) + 1);
    this.#ownerBytes[slot] = Owner.Nobody;
    words[this.#wordOf(slot)] = words[SlabWord.FreeHead];
    words[SlabWord.FreeHead] = slot;
    words[SlabWord.SlotsUsed]--;
  }

  /** The piece of memory that a thread has to itself, all zeros at first; one thread to each.
   * @throws {RangeError} when there are not so many. */
  arena(index: number): Arena {
    const words = this.#words;
    if (index >= words[SlabWord.ArenaCount]) throw new RangeError(`There is no arena ${index}`);
    const bytes = words[SlabWord.ArenaBytes];
    return new Arena(this.#memory.buffer, words[SlabWord.ArenasAt] + index * bytes, bytes);
  }

  /** The 16-bit samples of a slot, row by row, {@link TILE_SAMPLES} of them. */
  plane(slot: number): Uint16Array {
    const known = this.#planes[slot];
    if (known) return known;
    const words = this.words(this.#wordOf(slot + 1));
    this.#planes[slot] = new Uint16Array(words.buffer, this.#wordOf(slot) * 4, TILE_SAMPLES);
    return this.#planes[slot];
  }

  /** The same in two halves, the upper and the lower. */
  halves(slot: number): readonly [upper: Uint16Array, lower: Uint16Array] {
    const known = this.#halves[slot];
    if (known) return known;
    const plane = this.plane(slot);
    this.#halves[slot] = [plane.subarray(0, TILE_SAMPLES / 2), plane.subarray(TILE_SAMPLES / 2)];
    return this.#halves[slot];
  }

  /** The float samples of a slot: half a plane, since a float plane lies in two slots. */
  halfPlane(slot: number): Float32Array {
    const known = this.#floats[slot];
    if (known) return known;
    const words = this.words(this.#wordOf(slot + 1));
    this.#floats[slot] = new Float32Array(words.buffer, this.#wordOf(slot) * 4, TILE_SAMPLES / 2);
    return this.#floats[slot];
  }

  #wordOf(slot: number): number {
    return (this.#words[SlabWord.SlotsAt] + slot * SLOT_BYTES) / 4;
  }

  #reach(slot: number): boolean {
    const end = this.#wordOf(slot + 1) * 4;
    while (this.#memory.buffer.byteLength < end) {
      try {
        this.#memory.grow(GROW_PAGES);
      } catch {
        return false; // the device gave less than the budget: whoever asks must make room
      }
    }
    return true;
  }
}

export interface SlabLayout {
  /** Room kept for the tile table. */
  tableBytes: number;
  /** How many threads get an arena, and how large each is. */
  arenas: number;
  arenaBytes: number;
  /** The memory budget, in slots. */
  maxSlots: number;
}

const align = (bytes: number): number => Math.ceil(bytes / 64) * 64;

/** Lays out an empty slab in fresh shared memory. */
export function createTileSlab(memory: SharedMemory, layout: SlabLayout): TileSlab {
  const arenasAt = align(HEADER_BYTES + layout.tableBytes);
  const arenaBytes = align(layout.arenaBytes);
  const lettersAt = arenasAt + layout.arenas * arenaBytes;
  const ownersAt = lettersAt + layout.arenas * LETTER_BYTES;
  const slotsAt = align(ownersAt + layout.maxSlots);
  const missing = Math.ceil((slotsAt - memory.buffer.byteLength) / WASM_PAGE);
  if (missing > 0) memory.grow(missing);
  const words = new Int32Array(memory.buffer);
  words[SlabWord.FreeHead] = NONE;
  words[SlabWord.SlotsMax] = layout.maxSlots;
  words[SlabWord.SlotsAt] = slotsAt;
  words[SlabWord.TableAt] = HEADER_BYTES;
  words[SlabWord.ArenasAt] = arenasAt;
  words[SlabWord.ArenaBytes] = arenaBytes;
  words[SlabWord.ArenaCount] = layout.arenas;
  words[SlabWord.LettersAt] = lettersAt;
  words[SlabWord.OwnersAt] = ownersAt;
  words[SlabWord.Magic] = MAGIC;
  return new TileSlab(memory);
}

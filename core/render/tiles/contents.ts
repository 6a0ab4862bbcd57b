import { BLOCKS, DIGEST_WORDS } from '../../kernels/digestBlocks.ts';
import type { Kernels } from '../../kernels/kernels.ts';
import type { Arena } from '../../raster/arena.ts';
import { isSameKey, mixWords, type NodeKey } from '../../raster/tileKey.ts';

/** Tiles of which something is remembered, some 500 bytes each, before the older half of them is forgotten. */
const REMEMBERED = 16384;

/** What a plane of a tile holds: equal words, equal samples. They lie among those of others, since memory of its own for each tile costs
 * more than finding them. */
export interface Content {
  words: Int32Array;
  /** Where its words begin: {@link WHOLE_WORDS} of all of it, then {@link BLOCK_WORDS} of each block, row by row. */
  at: number;
}

export const BLOCK_WORDS = 2;
export const WHOLE_WORDS = 4;
const WORDS = WHOLE_WORDS + BLOCK_WORDS * BLOCKS * BLOCKS;

/** What is known of a tile: the value that it has throughout, or null; what it holds, if anybody has asked. */
interface Entry {
  key: NodeKey;
  place: number;
  even: number | null;
  content?: Content;
}

/** What tiles of one plane hold, by their keys. Two with different keys may hold the same: then what looks at them need not be made
 * again. */
export class Contents {
  #latest = new Map<number, Entry>();
  #older = new Map<number, Entry>();
  /** Words of the latest, and how many there are. */
  #words = new Int32Array(WORDS * (REMEMBERED / 2));
  #count = 0;
  readonly #digests: Uint32Array;

  constructor(arena: Arena) {
    this.#digests = arena.words(BLOCKS * BLOCKS * DIGEST_WORDS);
  }

  /** What is known of a tile.
   * @param place - See `packPlace`. */
  find(key: NodeKey, place: number): Readonly<Entry> | undefined {
    const at = key[0] ^ place;
    const entry = this.#latest.get(at) ?? this.#older.get(at);
    if (!entry || entry.place !== place) return undefined;
    return isSameKey(entry.key, key) ? entry : undefined;
  }

  /** Remembers whether a tile is the same all over.
   * @param even - Its value then; null where it varies. */
  noteEven(key: NodeKey, place: number, even: number | null): void {
    if (!this.find(key, place)) this.#add({ key, place, even });
  }

  /** What a tile holds, remembered.
   * @param plane - Its samples, or the one that it has throughout. */
  note(key: NodeKey, place: number, plane: Uint16Array | number, kernels: Kernels): Content {
    const content = { words: this.#words, at: this.#count };
    this.#count += WORDS;
    if (typeof plane === 'number') fillEven(content, plane);
    else this.#digest(plane, content, kernels);
    this.#add({ key, place, even: typeof plane === 'number' ? plane : null, content });
    return content;
  }

  #add(entry: Entry): void {
    this.#latest.set(entry.key[0] ^ entry.place, entry);
    // An entry that is put in the place of another takes words as well.
    if (this.#latest.size < REMEMBERED / 2 && this.#count < this.#words.length) return;
    [this.#older, this.#latest] = [this.#latest, new Map()];
    this.#words = new Int32Array(this.#words.length);
    this.#count = 0;
  }

  #digest(plane: Uint16Array, { words, at }: Content, kernels: Kernels): void {
    const digests = this.#digests;
    kernels.digestBlocks(plane, digests);
    for (let block = 0, to = at + WHOLE_WORDS; block < BLOCKS * BLOCKS; block++, to += BLOCK_WORDS) {
      const from = block * DIGEST_WORDS;
      words[to] = digests[from] ^ Math.imul(digests[from + 2], 0x85ebca6b);
      words[to + 1] = digests[from + 1] ^ Math.imul(digests[from + 3], 0xc2b2ae35);
    }
    setWhole(words, at, mixWords(VARIED, digests, digests.length));
  }
}

function setWhole(words: Int32Array, at: number, key: NodeKey): void {
  for (let i = 0; i < WHOLE_WORDS; i++) words[at + i] = key[i];
}

const VARIED: NodeKey = Uint32Array.of(1, 0, 0, 0);
const EVEN: NodeKey = Uint32Array.of(2, 0, 0, 0);

function fillEven({ words, at }: Content, value: number): void {
  setWhole(words, at, mixWords(EVEN, [value], 1));
  for (let i = WHOLE_WORDS; i < WORDS; i++) words[at + i] = words[at + (i % BLOCK_WORDS)];
}

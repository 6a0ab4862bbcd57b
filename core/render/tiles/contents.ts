import { BLOCKS, DIGEST_WORDS } from '../../kernels/digestBlocks.ts';
import type { Kernels } from '../../kernels/kernels.ts';
import type { Arena } from '../../raster/arena.ts';
import { isSameKey, mixWords, type NodeKey } from '../../raster/tileKey.ts';

/** Tiles of which something is remembered, some 500 bytes each, before the older half of them is forgotten. */
const REMEMBERED = 16384;

/** What a plane of a tile holds: equal words, equal samples. */
export interface Content {
  /** Of all of it: four words. */
  whole: Int32Array;
  /** Of its blocks: {@link BLOCK_WORDS} each, row by row. */
  blocks: Int32Array;
}

export const BLOCK_WORDS = 2;

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
    const content = typeof plane === 'number' ? evenContent(plane) : this.#digest(plane, kernels);
    this.#add({ key, place, even: typeof plane === 'number' ? plane : null, content });
    return content;
  }

  #add(entry: Entry): void {
    this.#latest.set(entry.key[0] ^ entry.place, entry);
    if (this.#latest.size > REMEMBERED / 2) [this.#older, this.#latest] = [this.#latest, new Map()];
  }

  #digest(plane: Uint16Array, kernels: Kernels): Content {
    const digests = this.#digests;
    kernels.digestBlocks(plane, digests);
    const blocks = new Int32Array(BLOCK_WORDS * BLOCKS * BLOCKS);
    for (let block = 0; block < BLOCKS * BLOCKS; block++) {
      const at = block * DIGEST_WORDS;
      blocks[BLOCK_WORDS * block] = digests[at] ^ Math.imul(digests[at + 2], 0x85ebca6b);
      blocks[BLOCK_WORDS * block + 1] = digests[at + 1] ^ Math.imul(digests[at + 3], 0xc2b2ae35);
    }
    const words = new Int32Array(digests);
    return { whole: new Int32Array(mixWords(VARIED, words, words.length)), blocks };
  }
}

const VARIED: NodeKey = Uint32Array.of(1, 0, 0, 0);
const EVEN: NodeKey = Uint32Array.of(2, 0, 0, 0);

function evenContent(value: number): Content {
  const whole = new Int32Array(mixWords(EVEN, Int32Array.of(value), 1));
  const blocks = Int32Array.from({ length: BLOCK_WORDS * BLOCKS * BLOCKS }, (_, i) => whole[i % BLOCK_WORDS]);
  return { whole, blocks };
}

import type { Arena } from '../../raster/arena.ts';
import { TILE } from '../../raster/size.ts';
import { isSameKey, type NodeKey } from '../../raster/tileKey.ts';

/** A plane of a tile at a half of its size or a quarter, 0..1, with one sample more on each side. */
export interface Shrunk {
  plane: Float32Array;
  /** Samples of a row. */
  stride: number;
}

/** Which plane of which tile. */
interface Wanted {
  key: NodeKey;
  /** See `packPlace`. */
  place: number;
  which: number;
  halvings: number;
}

interface Entry extends Wanted, Shrunk {
  name: number;
}

/** Planes that are remembered, by how often they are halved: two megabytes each. */
const REMEMBERED = [0, 112, 420] as const;

/** Samples of a row of a tile that is so often halved, with those beside it. */
export const shrunkStride = (halvings: number): number => (TILE >> halvings) + 2;

/** Planes of tiles that a thread has shrunk last: what looks far around itself asks for each of them many times over. */
export class ShrunkTiles {
  readonly #arena: Arena;
  readonly #byName = new Map<number, Entry>();
  /** The latest last, by halvings. */
  readonly #entries: Entry[][] = REMEMBERED.map(() => []);

  constructor(arena: Arena) {
    this.#arena = arena;
  }

  /** A plane, not to be written to and good until as many others were made.
   * @param make - Writes it. */
  get(wanted: Wanted, make: (shrunk: Shrunk) => void): Shrunk {
    const { key, place, which, halvings } = wanted;
    const name = (key[0] ^ place ^ (which << 3) ^ halvings) | 0;
    const known = this.#byName.get(name);
    if (known && isSame(known, wanted)) return known;
    const entries = this.#entries[halvings];
    const oldest = entries.length < REMEMBERED[halvings] ? undefined : entries.shift();
    if (oldest && this.#byName.get(oldest.name) === oldest) this.#byName.delete(oldest.name);
    const stride = shrunkStride(halvings);
    const plane = oldest?.plane ?? this.#arena.floats(stride ** 2);
    const entry = { name, key, place, which, halvings, plane, stride };
    entries.push(entry);
    make(entry);
    // Only now: should it fail, nobody finds it.
    this.#byName.set(name, entry);
    return entry;
  }
}

const isSame = (a: Wanted, b: Wanted): boolean =>
  a.place === b.place && a.which === b.which && a.halvings === b.halvings && isSameKey(a.key, b.key);

import type { RgbFloats } from '../../kernels/planes.ts';
import type { Arena } from '../../raster/arena.ts';
import { TILE_SAMPLES } from '../../raster/size.ts';
import { isSameKey, type NodeKey } from '../../raster/tileKey.ts';

/** Tiles whose light is remembered: those around the one at hand, as far as they stay in the processor's cache. */
const REMEMBERED = 8;

/** No tile's place. */
const NOWHERE = -1;

interface Entry {
  key: NodeKey;
  place: number;
  light: RgbFloats;
}

/** Linear light of the tiles that a thread has read last: what looks around itself reads each of them for tones, for a veil, and to change it. */
export class LightCache {
  readonly #arena: Arena;
  /** The latest last. */
  readonly #entries: Entry[] = [];

  constructor(arena: Arena) {
    this.#arena = arena;
  }

  /** A tile's light, not to be written to and good until the next is made; undefined when it was not read lately.
   * @param place - See `packPlace`. */
  find(key: NodeKey, place: number): RgbFloats | undefined {
    for (const entry of this.#entries) if (entry.place === place && isSameKey(entry.key, key)) return entry.light;
    return undefined;
  }

  /** The same, made when it is not there.
   * @param make - Writes it. */
  get(key: NodeKey, place: number, make: (light: RgbFloats) => void): RgbFloats {
    const known = this.find(key, place);
    if (known) return known;
    const isFull = this.#entries.length >= REMEMBERED;
    const entry = (isFull && this.#entries.shift()) || { key, place: NOWHERE, light: this.#fresh() };
    // Should it fail, nobody finds it.
    entry.place = NOWHERE;
    this.#entries.push(entry);
    make(entry.light);
    entry.key = key;
    entry.place = place;
    return entry.light;
  }

  #fresh(): RgbFloats {
    return [this.#arena.floats(TILE_SAMPLES), this.#arena.floats(TILE_SAMPLES), this.#arena.floats(TILE_SAMPLES)];
  }
}

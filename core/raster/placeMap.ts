import { OVERFLOW_PLACES } from './overflow.ts';
import type { TileSlab } from './tileSlab.ts';

/** Bytes of the map. */
export const PLACE_BYTES = OVERFLOW_PLACES / 8;

/** Which places of the overflow are taken, a bit each, in the memory that all threads share. Places count from 1. Callers hold the
 * lock. */
export class PlaceMap {
  readonly #slab: TileSlab;
  /** Its first word. */
  readonly #at: number;

  constructor(slab: TileSlab, at: number) {
    this.#slab = slab;
    this.#at = at;
  }

  /** Takes a free place; 0 when there is none. */
  take(): number {
    const words = this.#slab.words();
    for (let i = 0; i < this.#slab.overflowPlaces / 32; i++) {
      const taken = words[this.#at + i];
      if (taken === -1) continue;
      const bit = 31 - Math.clz32(~taken & -~taken);
      words[this.#at + i] |= 1 << bit;
      return i * 32 + bit + 1;
    }
    return 0;
  }

  /** Gives a place back; 0 is none. */
  free(place: number): void {
    if (place > 0) this.#slab.words()[this.#at + ((place - 1) >> 5)] &= ~(1 << ((place - 1) & 31));
  }

  /** Takes these places and no others. */
  relist(places: readonly number[]): void {
    const words = this.#slab.words();
    words.fill(0, this.#at, this.#at + PLACE_BYTES / 4);
    for (const place of places) words[this.#at + ((place - 1) >> 5)] |= 1 << ((place - 1) & 31);
  }
}

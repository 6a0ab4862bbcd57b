import type { Arena } from '../raster/arena.ts';
import { TILE } from '../raster/size.ts';

/** Words of a record: what a kernel is told of one layer. */
export const RECORD_WORDS = 8;
/** Layers that there is room for at first; for more, room is made. */
const LAYERS = 64;
/** Floats of three strips that a composite takes at a time. */
const STRIPS_FLOATS = 3 * 512;
/** Floats that enlarging takes to itself: places and fractions of a tile's columns, and a row of the widest area; boxes take a row. */
const LINE_FLOATS = 2 * TILE + 512;

/** A little of a thread's arena, in which kernels are told what to do and keep what is in between. */
export class KernelRoom {
  readonly #arena: Arena;
  readonly line: Float32Array;
  readonly row: Float32Array;
  readonly strips: Float32Array;
  #records: Uint32Array;
  #factors: Float32Array;
  #areas: Float32Array | undefined;

  constructor(arena: Arena) {
    this.#arena = arena;
    this.line = arena.floats(LINE_FLOATS);
    this.row = arena.floats(TILE);
    this.strips = arena.floats(STRIPS_FLOATS);
    this.#records = arena.words(LAYERS * RECORD_WORDS);
    this.#factors = floatsOver(this.#records);
  }

  /** Room for some records, as words and as floats. What kernels are told is read before they return, so the room before can be
   * forgotten. */
  records(count: number): { words: Uint32Array; floats: Float32Array } {
    if (count * RECORD_WORDS > this.#records.length) {
      this.#records = this.#arena.words(Math.max(count * RECORD_WORDS, 2 * this.#records.length));
      this.#factors = floatsOver(this.#records);
    }
    return { words: this.#records, floats: this.#factors };
  }

  /** Room for so many floats of areas, undefined. Where it has to grow, what it was is lost to the arena. */
  areas(count: number): Float32Array {
    if (!this.#areas || this.#areas.length < count)
      this.#areas = this.#arena.floats(Math.max(count, 2 * (this.#areas?.length ?? 0)));
    return this.#areas;
  }
}

const floatsOver = ({ buffer, byteOffset, length }: Uint32Array) => new Float32Array(buffer, byteOffset, length);

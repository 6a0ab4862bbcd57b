import type { Kernels } from '../kernels/kernels.ts';
import type { Arena } from '../raster/arena.ts';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
import type { Stroke } from '../scene/mask.ts';
import { DAB_NUMBERS } from './dabs.ts';
import { dabTouches, type StrokeBook } from './strokeBook.ts';

interface Progress {
  plane: Float32Array;
  /** Dabs of the stroke that have been looked at. */
  seen: number;
}

/** Tiles whose coverage is remembered; enough for a large brush at the level on screen. */
const REMEMBERED = 64;

/** Coverage of strokes on tiles, going on from where it was while a stroke grows. One per thread. */
export class StrokeCoverage {
  readonly #book: StrokeBook;
  readonly #kernels: Kernels;
  readonly #arena: Arena;
  readonly #progress = new Map<string, Progress>();

  /** @param arena - Where the planes lie. */
  constructor(book: StrokeBook, kernels: Kernels, arena: Arena) {
    this.#book = book;
    this.#kernels = kernels;
    this.#arena = arena;
  }

  /** Coverage of one stroke on one tile, before strength and stencil, 0..1.
   * @returns A plane that stays valid until the next call. */
  on(stroke: Stroke, level: number, tx: number, ty: number): Float32Array {
    const name = `${stroke.id}@${level}:${tx}:${ty}`;
    const progress = this.#progress.get(name) ?? { plane: this.#freshPlane(), seen: 0 };
    this.#progress.delete(name);
    this.#progress.set(name, progress); // most recent last
    const dabs = this.#book.dabs(stroke);
    const scale = 2 ** -level;
    for (; progress.seen < dabs.length / DAB_NUMBERS; progress.seen++) {
      if (!dabTouches(dabs, progress.seen, level, tx, ty)) continue;
      const at = progress.seen * DAB_NUMBERS;
      const x = dabs[at] * scale - tx * TILE;
      const y = dabs[at + 1] * scale - ty * TILE;
      this.#kernels.layDab(progress.plane, x, y, dabs[at + 2] * scale, stroke.hardness, dabs[at + 3], stroke.flow);
    }
    return progress.plane;
  }

  /** A plane of zeros: a new one, or the one that has been left alone longest. */
  #freshPlane(): Float32Array {
    if (this.#progress.size < REMEMBERED) return this.#arena.floats(TILE_SAMPLES);
    const [oldest, { plane }] = this.#progress.entries().next().value as [string, Progress];
    this.#progress.delete(oldest);
    return plane.fill(0);
  }
}

import type { DrawnTile } from './protocol.ts';

/** Most tiles whose memory is kept, 64 KB each: as many as a large screen shows. */
const MOST = 256;

/** Memory of drawn tiles that was looked at and can be drawn into again. New memory for each tile is cleared by the system first, and while a
 * slider is dragged it makes the garbage collector run many times a second. */
export class SpentTiles {
  readonly #kept: ArrayBuffer[] = [];

  /** Of how many tiles it is there. */
  get count(): number {
    return this.#kept.length;
  }

  keep(memory: readonly ArrayBuffer[]): void {
    this.#kept.push(...memory.slice(0, MOST - this.#kept.length));
  }

  /** Keeps the memory of tiles that nobody looks at any more. */
  keepOf(tiles: readonly DrawnTile[]): void {
    this.keep(tiles.flatMap(({ rgba }) => (rgba ? [rgba.buffer] : [])));
  }

  /** Memory for up to so many tiles. */
  take(count: number): ArrayBuffer[] {
    return this.#kept.splice(Math.max(0, this.#kept.length - count));
  }
}

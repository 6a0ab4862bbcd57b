import type { StrokeBook } from '../masks/strokeBook.ts';
import type { StrokeCoverage } from '../masks/strokeCoverage.ts';
import { type Size, TILE_SAMPLES } from '../raster/size.ts';
import type { NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile, TileTable } from '../raster/tileTable.ts';

/** One tile of one pyramid level. */
export interface Spot {
  level: number;
  tx: number;
  ty: number;
}

/** Why pixels could not be made. */
export class RenderError extends Error {
  readonly code: 'memory-full' | 'frame-missing';
  constructor(code: 'memory-full' | 'frame-missing', detail: string) {
    super(`${code}: ${detail}`);
    this.name = 'RenderError';
    this.code = code;
  }
}

/** What a thread renders with. */
export interface Studio {
  table: TileTable;
  size: Size;
  book: StrokeBook;
  coverage: StrokeCoverage;
  scratch: ScratchPlanes;
}

/** A step of the render plan: pixels that are fully determined by a key. */
export interface TileNode {
  /** Key of one tile: equal keys, equal pixels. */
  keyAt(spot: Spot, studio: Studio): NodeKey;
  /** Makes a tile that nobody has and answers it pinned.
   * @throws {RenderError} */
  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile;
}

/** A node's tile, pinned: from the table, or made now. Release it after use.
 * @throws {RenderError} */
export function tileOf(node: TileNode, spot: Spot, studio: Studio): PinnedTile {
  const key = node.keyAt(spot, studio);
  return studio.table.find(key, spot.level, spot.tx, spot.ty) ?? node.make(spot, key, studio);
}

/** Calls `use` with a node's tile and lets go of it afterwards. */
export function withTile<T>(node: TileNode, spot: Spot, studio: Studio, use: (tile: PinnedTile) => T): T {
  const tile = tileOf(node, spot, studio);
  try {
    return use(tile);
  } finally {
    studio.table.release(tile);
  }
}

/** A plane of a tile as 16-bit samples, or the one value it has throughout. */
export function planeOf(tile: PinnedTile, plane: number, studio: Studio): Uint16Array | number {
  return tile.form === 'constant' ? tile.value : studio.table.slab.plane(tile.slots[plane]);
}

/** Reserves slots or says that memory is full.
 * @throws {RenderError} `memory-full` */
export function reserveOrFail(studio: Studio, count: number): number[] {
  const slots = studio.table.reserve(count);
  if (!slots) throw new RenderError('memory-full', `${studio.table.slab.maxSlots} slots are all in use`);
  return slots;
}

/** Float planes of a tile to compute in, reused; one pool per thread. */
export class ScratchPlanes {
  readonly #free: Float32Array[] = [];

  /** Calls `use` with `count` planes of undefined content, which are its own until it returns. */
  lend<T>(count: number, use: (...planes: Float32Array[]) => T): T {
    const planes = Array.from({ length: count }, () => this.#free.pop() ?? new Float32Array(TILE_SAMPLES));
    try {
      return use(...planes);
    } finally {
      this.#free.push(...planes);
    }
  }
}

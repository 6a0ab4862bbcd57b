import { levelCount, levelSize, type Region, type Size } from '../raster/size.ts';
import { gatherArea } from '../raster/tileArea.ts';
import type { NodeKey } from '../raster/tileKey.ts';
import type { TileTable } from '../raster/tileTable.ts';

/** Red, green and blue of a region, 16 bits, each row after the other. */
export type Planes = readonly [Uint16Array, Uint16Array, Uint16Array];

/** Where pixels for alignment come from. */
export interface PixelSource {
  readonly size: Size;
  readonly levels: number;
  /** Pixels of a region of a level; beyond the picture its edge is repeated. */
  area(level: number, region: Region): Planes;
}

/** A frame in the tile table. */
export class TileSource implements PixelSource {
  readonly size: Size;
  readonly levels: number;
  readonly #table: TileTable;
  readonly #key: NodeKey;

  constructor(table: TileTable, key: NodeKey, size: Size) {
    this.#table = table;
    this.#key = key;
    this.size = size;
    this.levels = levelCount(size);
  }

  /** @throws {RangeError} when the frame is not in the table. */
  area(level: number, region: Region): Planes {
    const samples = region.width * region.height;
    const out: Planes = [new Uint16Array(samples), new Uint16Array(samples), new Uint16Array(samples)];
    const withTile = (tx: number, ty: number, use: (planes: readonly Uint16Array[]) => void) => {
      const tile = this.#table.find(this.#key, level, tx, ty);
      if (!tile) throw new RangeError(`Tile ${tx}, ${ty} of level ${level} is not in memory`);
      try {
        use(tile.slots.map((slot) => this.#table.slab.plane(slot)));
      } finally {
        this.#table.release(tile);
      }
    };
    gatherArea(region, levelSize(this.size, level), withTile, out, region.width);
    return out;
  }
}

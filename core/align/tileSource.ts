import { levelCount, levelSize, type Region, type Size, TILE } from '../raster/size.ts';
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
  area(level: number, { x, y, width, height }: Region): Planes {
    const out = [0, 1, 2].map(() => new Uint16Array(width * height)) as unknown as Planes;
    const whole = levelSize(this.size, level);
    const inX = (at: number) => Math.min(whole.width - 1, Math.max(0, at));
    const inY = (at: number) => Math.min(whole.height - 1, Math.max(0, at));
    const [left, right] = [inX(x) >> 7, inX(x + width - 1) >> 7];
    const [top, bottom] = [inY(y) >> 7, inY(y + height - 1) >> 7];
    for (let ty = top; ty <= bottom; ty++)
      for (let tx = left; tx <= right; tx++) this.#copyTile(level, tx, ty, { x, y, width, height }, whole, out);
    return out;
  }

  #copyTile(level: number, tx: number, ty: number, region: Region, whole: Size, out: Planes): void {
    const tile = this.#table.find(this.#key, level, tx, ty);
    if (!tile) throw new RangeError(`Tile ${tx}, ${ty} of level ${level} is not in memory`);
    const planes = tile.slots.map((slot) => this.#table.slab.plane(slot));
    const { x, y, width, height } = region;
    // Rows and columns beyond the picture belong to the tile at its edge.
    const [firstX, lastX] = spanOf(tx, whole.width, x, width);
    const [firstY, lastY] = spanOf(ty, whole.height, y, height);
    for (let row = firstY; row < lastY; row++) {
      const from = (Math.min(whole.height - 1, Math.max(0, row)) - ty * TILE) * TILE - tx * TILE;
      const to = (row - y) * width - x;
      for (let channel = 0; channel < 3; channel++) {
        const [source, target] = [planes[channel], out[channel]];
        for (let column = firstX; column < lastX; column++)
          target[to + column] = source[from + Math.min(whole.width - 1, Math.max(0, column))];
      }
    }
    this.#table.release(tile);
  }
}

/** First place of a region, and one past the last, that take their pixels from a tile. */
function spanOf(tile: number, whole: number, from: number, length: number): [number, number] {
  const last = Math.ceil(whole / TILE) - 1;
  return [
    tile === 0 ? from : Math.max(from, tile * TILE),
    tile === last ? from + length : Math.min(from + length, (tile + 1) * TILE),
  ];
}

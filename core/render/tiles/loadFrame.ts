import { repeatEdge } from '../../kernels/halve.ts';
import type { Kernels } from '../../kernels/kernels.ts';
import type { Arena } from '../../raster/arena.ts';
import { allTiles } from '../../raster/region.ts';
import { levelCount, type Size, TILE, tileGrid, tileRegion } from '../../raster/size.ts';
import type { NodeKey } from '../../raster/tileKey.ts';
import type { TileTable } from '../../raster/tileTable.ts';
import { RenderError } from './renderContext.ts';

/** Bytes that are collected before they are spread over tiles: a strip of tiles of a 45-megapixel frame. */
const BLOCK_BYTES = 7 * 2 ** 20;

/** What frames are loaded with, one for each thread that loads. */
export interface FrameLoader {
  table: TileTable;
  kernels: Kernels;
  /** Where the kernels find the rows that were decoded last. */
  block: Uint8Array;
}

export function createFrameLoader(table: TileTable, kernels: Kernels, arena: Arena): FrameLoader {
  const { buffer, byteOffset, length } = arena.bytes(BLOCK_BYTES);
  return { table, kernels, block: new Uint8Array(buffer, byteOffset, length) };
}

/** Takes a frame's bytes as they are decoded and lays them into tiles; then builds the pyramid. */
export class IncomingFrame {
  readonly #loader: FrameLoader;
  readonly #table: TileTable;
  readonly #key: NodeKey;
  readonly #size: Size;
  readonly #bits: 8 | 16;
  readonly #rowBytes: number;
  /** Rows that are in tiles, and bytes of the rows after them. */
  #row = 0;
  #filled = 0;
  #strip: number[][] = [];

  /** @throws {RangeError} when a single row is more than the loader holds. */
  constructor(loader: FrameLoader, key: NodeKey, size: Size, bits: 8 | 16) {
    this.#loader = loader;
    this.#table = loader.table;
    this.#key = key;
    this.#size = size;
    this.#bits = bits;
    this.#rowBytes = size.width * 3 * (bits / 8);
    if (this.#rowBytes > loader.block.length) throw new RangeError(`A frame ${size.width} pixels wide is too wide`);
    this.#table.tellLoading(key);
  }

  /** Takes the next bytes: interleaved RGB, one byte a sample or two (low byte first), cut anywhere.
   * @throws {RenderError} `memory-full` */
  add(bytes: Uint8Array): void {
    const { block } = this.#loader;
    for (let at = 0; at < bytes.length; ) {
      const wanted = this.#rowsWanted() * this.#rowBytes;
      if (wanted === 0) throw new RangeError('There are more bytes than the frame has pixels');
      const piece = bytes.subarray(at, at + wanted - this.#filled);
      block.set(piece, this.#filled);
      this.#filled += piece.length;
      at += piece.length;
      if (this.#filled === wanted) this.#spread(wanted / this.#rowBytes);
    }
  }

  /** Rows to collect before spreading: the rest of the strip of tiles, or as many as the loader holds. */
  #rowsWanted(): number {
    const inStrip = TILE - (this.#row % TILE);
    return Math.min(inStrip, this.#size.height - this.#row, Math.floor(this.#loader.block.length / this.#rowBytes));
  }

  #spread(rows: number): void {
    const { width, height } = this.#size;
    const y = this.#row % TILE;
    const { columns } = tileGrid(this.#size, 0);
    if (y === 0) this.#strip = Array.from({ length: columns }, () => this.#reserve());
    for (const [tx, slots] of this.#strip.entries()) {
      const [red, green, blue] = slots.map((slot) => this.#table.slab.plane(slot).subarray(y * TILE));
      const block = this.#loader.block.subarray(tx * TILE * 3 * (this.#bits / 8));
      const count = Math.min(TILE, width - tx * TILE);
      this.#loader.kernels.spreadRows(block, this.#rowBytes, this.#bits, [red, green, blue], count, rows);
    }
    this.#filled = 0;
    this.#row += rows;
    if (this.#row % TILE === 0 || this.#row === height) this.#publishStrip(Math.floor((this.#row - 1) / TILE));
  }

  /** Builds the coarser levels once all rows are in. */
  buildPyramid(): void {
    if (this.#row !== this.#size.height) throw new RangeError(`Only ${this.#row} of ${this.#size.height} rows came`);
    for (let level = 1; level < levelCount(this.#size); level++) {
      for (const { tx, ty } of allTiles(this.#size, level)) this.#halve(level, tx, ty);
    }
    this.#table.tellLoading(undefined);
  }

  /** Gives back everything, after a failure. */
  abandon(): void {
    for (const slots of this.#strip) this.#table.unreserve(slots);
    this.#strip = [];
    dropFrame(this.#table, this.#key, this.#size);
    this.#table.tellLoading(undefined);
  }

  #reserve(): number[] {
    const slots = this.#table.reserve(3);
    if (!slots) throw new RenderError('memory-full', `${this.#table.slab.maxSlots} slots are all in use`);
    return slots;
  }

  #publishStrip(ty: number): void {
    this.#strip.forEach((slots, tx) => {
      const { width, height } = tileRegion(this.#size, 0, tx, ty);
      for (const slot of slots) repeatEdge(this.#table.slab.plane(slot), width, height);
      this.#publish(0, tx, ty, slots);
    });
    this.#strip = [];
  }

  #halve(level: number, tx: number, ty: number): void {
    const slots = this.#reserve();
    const finer = tileGrid(this.#size, level - 1);
    for (let quarter = 0; quarter < 4; quarter++) {
      const fineX = 2 * tx + (quarter & 1);
      const fineY = 2 * ty + (quarter >> 1);
      if (fineX >= finer.columns || fineY >= finer.rows) continue;
      const fine = this.#table.find(this.#key, level - 1, fineX, fineY);
      if (!fine) throw new RenderError('frame-missing', `level ${level - 1}, tile ${fineX}, ${fineY}`);
      fine.slots.forEach((slot, plane) => {
        this.#loader.kernels.halveTile(
          this.#table.slab.plane(slot),
          this.#table.slab.plane(slots[plane]),
          quarter & 1,
          quarter >> 1,
        );
      });
      this.#table.release(fine);
    }
    const { width, height } = tileRegion(this.#size, level, tx, ty);
    for (const slot of slots) repeatEdge(this.#table.slab.plane(slot), width, height);
    this.#publish(level, tx, ty, slots);
  }

  #publish(level: number, tx: number, ty: number, slots: number[]): void {
    // Coarse levels are a third of a frame and always at hand: the whole picture can be shown without waiting.
    const keeping = level === 0 ? 'moveable' : 'resident';
    this.#table.release(this.#table.publish(this.#key, level, tx, ty, { form: 'planes', slots }, keeping));
  }
}

/** Slots that a frame takes: what can be moved out of memory, and what cannot. */
export function frameSlots(size: Size): { moveable: number; resident: number } {
  const slots = Array.from({ length: levelCount(size) }, (_, level) => {
    const { columns, rows } = tileGrid(size, level);
    return 3 * columns * rows;
  });
  const [moveable, ...coarser] = slots;
  return { moveable, resident: coarser.reduce((sum, each) => sum + each, 0) };
}

/** Drops all pixels of a frame. */
export function dropFrame(table: TileTable, key: NodeKey, size: Size): void {
  for (let level = 0; level < levelCount(size); level++) {
    for (const { tx, ty } of allTiles(size, level)) table.drop(key, level, tx, ty);
  }
}

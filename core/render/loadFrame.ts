import { repeatEdge } from '../kernels/halve.ts';
import type { Kernels } from '../kernels/kernels.ts';
import type { Arena } from '../raster/arena.ts';
import { allTiles } from '../raster/region.ts';
import { levelCount, type Size, TILE, tileGrid, tileRegion } from '../raster/size.ts';
import type { NodeKey } from '../raster/tileKey.ts';
import type { TileTable } from '../raster/tileTable.ts';
import { RenderError } from './studio.ts';

/** Widest row that is taken, in pixels. */
const MAX_WIDTH = 65536;

/** What frames are loaded with, one for each thread that loads. */
export interface LoadingDesk {
  table: TileTable;
  kernels: Kernels;
  /** Where the kernels find the row that was decoded last. */
  row: Uint16Array;
}

export function createLoadingDesk(table: TileTable, kernels: Kernels, arena: Arena): LoadingDesk {
  return { table, kernels, row: arena.samples(MAX_WIDTH * 3) };
}

/** Takes a frame's rows as they are decoded and lays them into tiles; then builds the pyramid. */
export class FrameLoader {
  readonly #desk: LoadingDesk;
  readonly #table: TileTable;
  readonly #key: NodeKey;
  readonly #size: Size;
  #row = 0;
  #strip: { slots: number[]; planes: Uint16Array[] }[] = [];

  /** @throws {RangeError} when the frame is wider than {@link MAX_WIDTH}. */
  constructor(desk: LoadingDesk, key: NodeKey, size: Size) {
    if (size.width > MAX_WIDTH) throw new RangeError(`A frame is at most ${MAX_WIDTH} pixels wide`);
    this.#desk = desk;
    this.#table = desk.table;
    this.#key = key;
    this.#size = size;
  }

  /** Takes the next row: interleaved RGB, 16 bits.
   * @throws {RenderError} `memory-full` */
  addRow(row: Uint16Array): void {
    const { width, height } = this.#size;
    if (row.length !== width * 3 || this.#row >= height) throw new RangeError('The row does not fit the frame');
    const y = this.#row % TILE;
    if (y === 0) this.#startStrip();
    const buffer = this.#desk.row;
    buffer.set(row);
    for (const [tx, { planes }] of this.#strip.entries()) {
      const count = Math.min(TILE, width - tx * TILE);
      const [red, green, blue] = planes.map((plane) => plane.subarray(y * TILE, y * TILE + count));
      this.#desk.kernels.deinterleave(buffer.subarray(tx * TILE * 3, (tx * TILE + count) * 3), red, green, blue);
    }
    this.#row++;
    if (y === TILE - 1 || this.#row === height) this.#publishStrip(Math.floor((this.#row - 1) / TILE));
  }

  #startStrip(): void {
    this.#strip = [];
    for (let tx = 0; tx < tileGrid(this.#size, 0).columns; tx++) {
      const slots = this.#reserve();
      this.#strip.push({ slots, planes: slots.map((slot) => this.#table.slab.plane(slot)) });
    }
  }

  /** Builds the coarser levels once all rows are in. */
  buildPyramid(): void {
    if (this.#row !== this.#size.height) throw new RangeError(`Only ${this.#row} of ${this.#size.height} rows came`);
    for (let level = 1; level < levelCount(this.#size); level++) {
      for (const { tx, ty } of allTiles(this.#size, level)) this.#halve(level, tx, ty);
    }
  }

  /** Gives back everything, after a failure. */
  abandon(): void {
    for (const { slots } of this.#strip) this.#table.unreserve(slots);
    this.#strip = [];
    dropFrame(this.#table, this.#key, this.#size);
  }

  #reserve(): number[] {
    const slots = this.#table.reserve(3);
    if (!slots) throw new RenderError('memory-full', `${this.#table.slab.maxSlots} slots are all in use`);
    return slots;
  }

  #publishStrip(ty: number): void {
    this.#strip.forEach(({ slots }, tx) => {
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
        this.#desk.kernels.halveTile(
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
    this.#table.release(this.#table.publish(this.#key, level, tx, ty, { form: 'planes', slots }, true));
  }
}

/** Drops all pixels of a frame. */
export function dropFrame(table: TileTable, key: NodeKey, size: Size): void {
  for (let level = 0; level < levelCount(size); level++) {
    for (const { tx, ty } of allTiles(size, level)) table.drop(key, level, tx, ty);
  }
}

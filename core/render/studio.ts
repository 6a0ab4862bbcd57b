import type { Kernels } from '../kernels/kernels.ts';
import type { StrokeBook } from '../masks/strokeBook.ts';
import type { StrokeCoverage } from '../masks/strokeCoverage.ts';
import type { Arena } from '../raster/arena.ts';
import { type Size, TILE, TILE_SAMPLES } from '../raster/size.ts';
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
  kernels: Kernels;
  size: Size;
  book: StrokeBook;
  coverage: StrokeCoverage;
  scratch: Scratch;
  /** Whether somebody looks on: tiles that the next stroke or an undo will ask for are then kept as well. */
  watched: boolean;
}

/** A step of the render plan: pixels that are fully determined by a key. */
export interface TileNode {
  /** Key of one tile: equal keys, equal pixels. */
  keyAt(spot: Spot, studio: Studio): NodeKey;
  /** Makes a tile that nobody has and answers it pinned.
   * @throws {RenderError} */
  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile;
}

/** Remembers what was worked out for a tile last, since a tile's key is asked for several times in a row. Forgets when a
 * stroke has grown. */
export class LastSpot<T> {
  #spot: Spot | undefined;
  #version = -1;
  #value: T | undefined;

  at(spot: Spot, studio: Studio, work: () => T): T {
    const { version } = studio.book;
    const last = this.#spot;
    const same = last && last.level === spot.level && last.tx === spot.tx && last.ty === spot.ty;
    if (!same || this.#version !== version) {
      this.#value = work();
      this.#spot = { level: spot.level, tx: spot.tx, ty: spot.ty };
      this.#version = version;
    }
    return this.#value as T;
  }
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

/** Longest side of an area that is looked at around a tile. */
export const MAX_AREA_SIDE = 384;
const TABLES = 4;

/** What one thread computes in, all in its arena. */
export class Scratch {
  readonly #arena: Arena;
  readonly #free: Float32Array[] = [];
  readonly #tables: { name: string; table: Uint16Array }[] = [];
  /** 8-bit RGBA of a tile. */
  readonly rgba: Uint8ClampedArray;
  /** 16-bit samples of a tile. */
  readonly samples: Uint16Array;
  /** Interleaved RGB of a tile, 16 bits, and its rows. */
  readonly interleaved: { all: Uint16Array; rows: readonly Uint16Array[] };
  /** Four sets of 256 counters. */
  readonly counters: readonly Uint32Array[];
  /** Two areas of {@link MAX_AREA_SIDE} squared. */
  readonly areas: readonly [Float32Array, Float32Array];

  constructor(arena: Arena) {
    this.#arena = arena;
    this.rgba = arena.bytes(TILE_SAMPLES * 4);
    this.samples = arena.samples(TILE_SAMPLES);
    const all = arena.samples(TILE_SAMPLES * 3);
    const row = TILE * 3;
    this.interleaved = { all, rows: Array.from({ length: TILE }, (_, y) => all.subarray(y * row, (y + 1) * row)) };
    this.counters = Array.from({ length: 4 }, () => arena.words(256));
    this.areas = [arena.floats(MAX_AREA_SIDE ** 2), arena.floats(MAX_AREA_SIDE ** 2)];
  }

  /** Calls `use` with `count` planes of undefined content, which are its own until it returns. */
  lend<T>(count: number, use: (...planes: Float32Array[]) => T): T {
    const planes = Array.from({ length: count }, () => this.#free.pop() ?? this.#arena.floats(TILE_SAMPLES));
    try {
      return use(...planes);
    } finally {
      this.#free.push(...planes);
    }
  }

  /** A table of 65,536 values by name: one of the latest, or made now. All tiles of a step of a drag ask for the same
   * one, and a table costs some milliseconds. */
  table(name: string, make: () => Uint16Array): Uint16Array {
    const known = this.#tables.find((each) => each.name === name);
    if (known) return known.table;
    const oldest = this.#tables.length < TABLES ? undefined : this.#tables.shift();
    const table = oldest?.table ?? this.#arena.samples(65536);
    table.set(make());
    this.#tables.push({ name, table });
    return table;
  }
}

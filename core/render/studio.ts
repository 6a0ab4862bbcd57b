import type { Kernels } from '../kernels/kernels.ts';
import type { StrokeBook } from '../masks/strokeBook.ts';
import type { StrokeCoverage } from '../masks/strokeCoverage.ts';
import type { Size } from '../raster/size.ts';
import { mixKeys, type NodeKey, packPlace } from '../raster/tileKey.ts';
import type { PinnedTile, TileForm, TileTable } from '../raster/tileTable.ts';
import type { PassingTiles } from './passingTiles.ts';
import type { Scratch } from './scratch.ts';
import type { TableCopies } from './tableCopies.ts';

/** One tile of one pyramid level. */
export interface Spot {
  level: number;
  tx: number;
  ty: number;
}

type RenderCode = 'memory-full' | 'frame-missing' | 'too-deep' | 'too-much';

/** Why pixels could not be made. */
export class RenderError extends Error {
  readonly code: RenderCode;
  constructor(code: RenderCode, detail: string) {
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
  tables: TableCopies;
  /** Whether somebody looks on: tiles that the next stroke or an undo will ask for are then kept as well. */
  watched: boolean;
  /** What is made while nobody looks on and not kept. */
  passing: PassingTiles;
}

/** A step of the render plan: pixels that are fully determined by a key. */
export interface TileNode {
  /** The key of all its tiles, when it is the same for all. */
  readonly fixedKey?: NodeKey;
  /** Strokes lie in it, which grow while they are painted. */
  readonly grows?: boolean;
  /** Its tiles are drawn or written at once and in no table: nobody looks for them. */
  readonly isLast?: boolean;
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

/** Tiles that are remembered before all are forgotten. */
const REMEMBERED = 4096;

/** The key of all tiles of what is computed from other nodes, when all of theirs are fixed. */
export function fixedKeyOf(seed: NodeKey, inputs: readonly TileNode[]): NodeKey | undefined {
  const fixed = inputs.flatMap(({ fixedKey }) => fixedKey ?? []);
  return fixed.length === inputs.length ? mixKeys(seed, ...fixed) : undefined;
}

export const growsWith = (inputs: readonly TileNode[]): boolean => inputs.some(({ grows }) => grows);

/** Remembers what was worked out for tiles, since what looks around itself asks for each of them many times. Forgets when a
 * stroke has grown, if that can matter. */
export class SpotMemo<T> {
  readonly #known = new Map<number, T>();
  readonly #grows: boolean;
  #version = -1;

  constructor(grows = true) {
    this.#grows = grows;
  }

  at(spot: Spot, studio: Studio, work: () => T): T {
    const { version } = studio.book;
    if ((this.#grows && this.#version !== version) || this.#known.size > REMEMBERED) this.#known.clear();
    this.#version = version;
    const place = packPlace(spot.level, spot.tx, spot.ty);
    const known = this.#known.get(place);
    if (known !== undefined) return known;
    const value = work();
    this.#known.set(place, value);
    return value;
  }
}

/** Keeps a tile just made, pinned: for good while somebody looks on, otherwise for the tile at hand only. */
export function keepBriefly(
  { watched, table, passing }: Studio,
  key: NodeKey,
  { level, tx, ty }: Spot,
  tile: { form: TileForm; slots: readonly number[]; value?: number },
): PinnedTile {
  return watched || passing.isFull
    ? table.publish(key, level, tx, ty, tile)
    : passing.keep(key, packPlace(level, tx, ty), tile.form, tile.slots, tile.value ?? 0);
}

/** Who hands out slots and takes back those that were not used. */
export const slotsOf = ({ watched, table, passing }: Studio): TileTable | PassingTiles => (watched ? table : passing);

const NO_KEY: NodeKey = new Uint32Array(4);

/** A tile that is drawn or written at once, see `TileNode.isLast`. Memory that is used again and again stays in the processor's
 * cache. */
export function lastTile({ watched, table, passing }: Studio, slots: readonly number[]): PinnedTile {
  return watched ? table.loose('planes', slots) : passing.keep(NO_KEY, 0, 'planes', slots, 0);
}

/** A node's tile, pinned: from the table, or made now. Release it after use.
 * @throws {RenderError} */
export function tileOf(node: TileNode, spot: Spot, studio: Studio): PinnedTile {
  if (node.isLast) return node.make(spot, NO_KEY, studio);
  const { table, passing, watched } = studio;
  const { level, tx, ty } = spot;
  const key = node.keyAt(spot, studio);
  const made = watched ? undefined : passing.find(key, packPlace(level, tx, ty));
  return made ?? table.find(key, level, tx, ty) ?? node.make(spot, key, studio);
}

/** A tile that is asked for; of a node that is not the last. */
export interface Wanted {
  node: TileNode;
  spot: Spot;
}

/** Several tiles, pinned, like {@link tileOf}: those that are there are fetched at once.
 * @throws {RenderError} when one cannot be made; then none is pinned. */
export function tilesOf(wanted: readonly Wanted[], studio: Studio): PinnedTile[] {
  const { table, passing, watched } = studio;
  const keys = wanted.map(({ node, spot }) => ({
    key: node.keyAt(spot, studio),
    place: packPlace(spot.level, spot.tx, spot.ty),
  }));
  const made = watched ? [] : keys.map(({ key, place }) => passing.find(key, place));
  const known = table.findAll(keys.filter((_, index) => !made[index]));
  const tiles: (PinnedTile | undefined)[] = keys.map((_, index) => made[index] ?? known.shift());
  try {
    return tiles.map((tile, index) => {
      if (tile) return tile;
      const { node, spot } = wanted[index];
      // One that was made meanwhile may have made it.
      const now = tileOf(node, spot, studio);
      tiles[index] = now;
      return now;
    });
  } catch (error) {
    table.releaseAll(tiles.flatMap((tile) => tile ?? []));
    throw error;
  }
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

/** Calls `use` with the tiles of several nodes at one place and lets go of them afterwards. */
export const withTiles = <T>(
  nodes: readonly TileNode[],
  spot: Spot,
  studio: Studio,
  use: (tiles: readonly PinnedTile[]) => T,
): T =>
  withWanted(
    nodes.map((node) => ({ node, spot })),
    studio,
    use,
  );

/** The same with tiles of several places. */
export function withWanted<T>(wanted: readonly Wanted[], studio: Studio, use: (tiles: readonly PinnedTile[]) => T): T {
  const tiles = tilesOf(wanted, studio);
  try {
    return use(tiles);
  } finally {
    studio.table.releaseAll(tiles);
  }
}

/** A plane of a tile as 16-bit samples, or the one value it has throughout. */
export function planeOf(tile: PinnedTile, plane: number, studio: Studio): Uint16Array | number {
  return tile.form === 'constant' ? tile.value : studio.table.slab.plane(tile.slots[plane]);
}

/** Reserves slots or says that memory is full.
 * @throws {RenderError} `memory-full` */
export function reserveOrFail(studio: Studio, count: number): number[] {
  const slots = slotsOf(studio).reserve(count);
  if (!slots) throw new RenderError('memory-full', `${studio.table.slab.maxSlots} slots are all in use`);
  return slots;
}

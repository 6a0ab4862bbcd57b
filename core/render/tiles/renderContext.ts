import type { Kernels } from '../../kernels/kernels.ts';
import type { StrokeCoverage } from '../../masks/strokeCoverage.ts';
import type { StrokeStore } from '../../masks/strokeStore.ts';
import type { Matrix3 } from '../../raster/matrix3.ts';
import type { Size } from '../../raster/size.ts';
import { mixAll, type NodeKey, packPlace } from '../../raster/tileKey.ts';
import type { PinnedTile, TileForm, TileTable } from '../../raster/tileTable.ts';
import type { Contents } from './contents.ts';
import type { Scratch } from './scratch.ts';
import type { TableCopies } from './tableCopies.ts';
import type { TransientTiles } from './transientTiles.ts';

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
export interface RenderContext {
  table: TileTable;
  kernels: Kernels;
  strokes: StrokeStore;
  coverage: StrokeCoverage;
  scratch: Scratch;
  tables: TableCopies;
  contents: Contents;
  /** Whether a person waits for what is drawn: tiles that the next stroke or an undo will ask for are then kept as well. */
  interactive: boolean;
  /** Whether keys of what looks around itself tell what lies there, and not where it comes from: tiles are found again more often then, but
   * have to be made before a key is known. */
  byContent: boolean;
  /** What is made while nothing is drawn on screen and not kept. */
  transient: TransientTiles;
}

/** Where a node's pixels lie. */
export interface Extent {
  /** Of the picture at full size. */
  readonly size: Size;
  /** Pixels at full size to scene pixels, counted from the centre of the first; null: they are the scene's. */
  readonly toScene: Matrix3 | null;
}

/** Pixels that are the scene's own. */
export const sceneExtent = ({ width, height }: Size): Extent => ({ size: { width, height }, toScene: null });

/** A version of strokes, see `StrokeStore`. */
export type Grown = (strokes: StrokeStore) => number;

/** A step of the render plan: pixels that are fully determined by a key. */
export interface TileNode {
  readonly extent: Extent;
  /** The key of all its tiles, when it is the same for all. */
  readonly fixedKey?: NodeKey;
  /** Strokes lie in it, which grow while they are painted: the version of all strokes in which one of its own grew last. */
  readonly grownIn?: Grown;
  /** What other tiles hold tells its keys, so that they are made when a key is asked for. */
  readonly looks?: boolean;
  /** Its tiles are drawn or written at once and in no table: no key of theirs is looked up. */
  readonly isTransient?: boolean;
  /** The same pixels in floats, for a step that follows at once; a node that rounds has it. */
  readonly unrounded?: TileNode;
  /** Key of one tile: equal keys, equal pixels. */
  keyAt(spot: Spot, context: RenderContext): NodeKey;
  /** Makes a tile that nobody has and answers it pinned.
   * @throws {RenderError} */
  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile;
  /** Lays a tile over another through a mask while it is made: the same bits come out as if it were made first. Whose pixels are made one by one
   * has it.
   * @param publish - Takes what writes the outcome into slots, in floats.
   * @returns Undefined where nothing is changed of what lies below.
   * @throws {RenderError} */
  layOver?(over: Overlaid, spot: Spot, context: RenderContext, publish: Publish): PinnedTile | undefined;
}

/** What a change is laid over, and through which coverage. */
export interface Overlaid {
  below: PinnedTile;
  mask: PinnedTile;
  opacity: number;
}

/** Reserves a tile, has it written, and keeps it. Call it once nothing else has to be made. */
export type Publish = (write: (slots: readonly number[]) => void) => PinnedTile;

/** Tiles that are remembered before all are forgotten. */
const REMEMBERED = 4096;

/** The key of all tiles of what is computed from other nodes, when all of theirs are fixed. */
export function fixedKeyOf(seed: NodeKey, inputs: readonly TileNode[]): NodeKey | undefined {
  const fixed = inputs.flatMap(({ fixedKey }) => fixedKey ?? []);
  return fixed.length === inputs.length ? mixAll(seed, fixed) : undefined;
}

/** When strokes last grew in any of several nodes; undefined where there are none. */
export function grownWith(inputs: readonly TileNode[]): Grown | undefined {
  const growing = inputs.flatMap(({ grownIn }) => grownIn ?? []);
  return growing.length === 0
    ? undefined
    : oncePerVersion((strokes) => Math.max(...growing.map((grownIn) => grownIn(strokes))));
}

/** The same, worked out once for each version of all strokes. */
export function oncePerVersion(grownIn: Grown): Grown {
  let [version, known] = [-1, 0];
  return (strokes) => {
    if (strokes.version !== version) [version, known] = [strokes.version, grownIn(strokes)];
    return known;
  };
}

export const looksWith = (inputs: readonly TileNode[]): boolean => inputs.some(({ looks }) => looks);

/** Remembers what was worked out for tiles, since what looks around itself asks for each of them many times. Forgets when a
 * stroke of its own has grown. */
export class SpotMemo<T> {
  readonly #byContent = new Map<number, T>();
  readonly #byOrigin = new Map<number, T>();
  readonly #grownIn: Grown | undefined;
  #grown = -1;

  constructor(grownIn?: Grown) {
    this.#grownIn = grownIn;
  }

  /** What is remembered for a tile, or is worked out now. */
  at(spot: Spot, context: RenderContext, work: () => T): T {
    return this.find(spot, context) ?? this.keep(spot, context, work());
  }

  find({ level, tx, ty }: Spot, { strokes, byContent }: RenderContext): T | undefined {
    const grown = this.#grownIn?.(strokes) ?? 0;
    if (this.#grown !== grown) {
      this.#byContent.clear();
      this.#byOrigin.clear();
      this.#grown = grown;
    }
    return (byContent ? this.#byContent : this.#byOrigin).get(packPlace(level, tx, ty));
  }

  /** Remembers what was worked out for a tile that was just asked for in vain. */
  keep({ level, tx, ty }: Spot, { byContent }: RenderContext, value: T): T {
    const memo = byContent ? this.#byContent : this.#byOrigin;
    if (memo.size > REMEMBERED) memo.clear();
    memo.set(packPlace(level, tx, ty), value);
    return value;
  }
}

/** Keeps a tile just made, pinned: for good while rendering is interactive, otherwise for the tile at hand only. */
export function keepBriefly(
  { interactive, table, transient }: RenderContext,
  key: NodeKey,
  { level, tx, ty }: Spot,
  tile: { form: TileForm; slots: readonly number[]; value?: number },
): PinnedTile {
  return interactive || transient.isForTable(key)
    ? table.publish(key, level, tx, ty, tile)
    : transient.keep(key, packPlace(level, tx, ty), tile.form, tile.slots, tile.value ?? 0);
}

/** Who hands out slots and takes back those that were not used. */
export const slotsOf = ({ interactive, table, transient }: RenderContext): TileTable | TransientTiles =>
  interactive ? table : transient;

const NO_KEY: NodeKey = new Uint32Array(4);

/** A tile that is drawn or written at once, see `TileNode.isTransient`. Memory that is used again and again stays in the processor's
 * cache. */
export function transientTile(
  { interactive, table, transient }: RenderContext,
  slots: readonly number[],
  form: TileForm = 'planes',
): PinnedTile {
  return interactive ? table.loose(form, slots) : transient.keep(NO_KEY, 0, form, slots, 0);
}

/** A node's tile, pinned: from the table, or made now. Release it after use.
 * @throws {RenderError} */
export function tileOf(node: TileNode, spot: Spot, context: RenderContext): PinnedTile {
  if (node.isTransient) return node.make(spot, NO_KEY, context);
  const { table, transient, interactive } = context;
  const { level, tx, ty } = spot;
  const key = node.keyAt(spot, context);
  const made = interactive ? undefined : transient.find(key, packPlace(level, tx, ty));
  return made ?? table.find(key, level, tx, ty) ?? node.make(spot, key, context);
}

/** A tile that is asked for; of a node that is not the last. */
export interface Wanted {
  node: TileNode;
  spot: Spot;
}

/** Several tiles, pinned, like {@link tileOf}: those that are there are fetched at once.
 * @throws {RenderError} when one cannot be made; then none is pinned. */
export function tilesOf(wanted: readonly Wanted[], context: RenderContext): PinnedTile[] {
  const { table, transient, interactive } = context;
  const tiles: (PinnedTile | undefined)[] = [];
  const asked: { key: NodeKey; place: number }[] = [];
  for (const { node, spot } of wanted) {
    const key = node.keyAt(spot, context);
    const place = packPlace(spot.level, spot.tx, spot.ty);
    const made = interactive ? undefined : transient.find(key, place);
    tiles.push(made);
    if (!made) asked.push({ key, place });
  }
  const known = table.findAll(asked);
  for (let index = 0, at = 0; index < tiles.length; index++) tiles[index] ??= known[at++];
  try {
    // From opposite ends, so that of two threads that want the same tiles each makes some.
    const isBackwards = table.thread % 2 === 1;
    for (let step = 0; step < tiles.length; step++) {
      const index = isBackwards ? tiles.length - 1 - step : step;
      const { node, spot } = wanted[index];
      // One that was made meanwhile may have made it.
      tiles[index] ??= tileOf(node, spot, context);
    }
    return tiles as PinnedTile[];
  } catch (error) {
    table.releaseAll(tiles.flatMap((tile) => tile ?? []));
    throw error;
  }
}

/** Calls `use` with a node's tile and lets go of it afterwards. */
export function withTile<T>(node: TileNode, spot: Spot, context: RenderContext, use: (tile: PinnedTile) => T): T {
  const tile = tileOf(node, spot, context);
  try {
    return use(tile);
  } finally {
    context.table.release(tile);
  }
}

/** Calls `use` with the tiles of several nodes at one place and lets go of them afterwards. */
export const withTiles = <T>(
  nodes: readonly TileNode[],
  spot: Spot,
  context: RenderContext,
  use: (tiles: readonly PinnedTile[]) => T,
): T =>
  withWanted(
    nodes.map((node) => ({ node, spot })),
    context,
    use,
  );

/** The same with tiles of several places. */
export function withWanted<T>(
  wanted: readonly Wanted[],
  context: RenderContext,
  use: (tiles: readonly PinnedTile[]) => T,
): T {
  const tiles = tilesOf(wanted, context);
  try {
    return use(tiles);
  } finally {
    context.table.releaseAll(tiles);
  }
}

/** A plane of a tile as 16-bit samples, or the one value it has throughout. */
export function planeOf(tile: PinnedTile, plane: number, context: RenderContext): Uint16Array | number {
  return tile.form === 'constant' ? tile.value : context.table.slab.plane(tile.slots[plane]);
}

/** Reserves slots or says that memory is full.
 * @throws {RenderError} `memory-full` */
export function reserveOrFail(context: RenderContext, count: number): number[] {
  const slots = slotsOf(context).reserve(count);
  if (!slots) throw new RenderError('memory-full', `${context.table.slab.maxSlots} slots are all in use`);
  return slots;
}

import { levelSize, type Region, type Size, TILE } from '../../raster/size.ts';
import { tilesOfArea } from '../../raster/tileArea.ts';
import { keyOf, keyText, mixKeys, type NodeKey, packPlace } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishPicture, readEncoded, writeFloats } from '../tiles/pictureTile.ts';
import {
  type Extent,
  type RenderContext,
  type Spot,
  SpotMemo,
  type TileNode,
  tileOf,
  withTile,
} from '../tiles/renderContext.ts';
import { keptNode } from './keptNode.ts';
import { seenOf, spotsIn } from './readRegion.ts';
import { type CoveredSpot, makePatch, type SpotPatch, sourceRegion, spotRegion } from './spotPatch.ts';

/** A spot of a plan: what covers it is taken of a frame, or of the picture below it. */
export interface PlannedSpot {
  spot: CoveredSpot;
  frame: TileNode | undefined;
}

/** What all pictures with some of the spots share. */
interface Shared {
  source: TileNode;
  spots: readonly PlannedSpot[];
  digests: readonly NodeKey[];
  made: Map<number, RetouchNode>;
  patches: PatchStore;
  /** Keys of what covers spots, by their number. */
  patchKeys: Map<number, SpotMemo<NodeKey>>;
  /** Of all spots, by level. */
  levels: Map<number, SpotsOfLevel>;
}

/** Where all spots lie at a level. */
interface SpotsOfLevel {
  size: Size;
  regions: readonly (Region | undefined)[];
  /** Numbers of those that touch a tile, first to last. */
  touching: Map<number, number[]>;
  /** How many of the first spots change what each reads, of those that were asked about. */
  below: number[];
}

const SEED = keyOf('retouch', 1);
/** Most samples of patches that a thread keeps. */
const MOST_SAMPLES = 12e6;

/** Patches by their keys, the latest last. */
class PatchStore {
  readonly #known = new Map<string, SpotPatch | undefined>();
  #samples = 0;

  get(key: NodeKey, make: () => SpotPatch | undefined): SpotPatch | undefined {
    const name = keyText(key);
    if (this.#known.has(name)) return this.#known.get(name);
    const patch = make();
    this.#known.set(name, patch);
    this.#samples += sizeOf(patch);
    for (const [oldest, old] of this.#known) {
      if (this.#samples <= MOST_SAMPLES || oldest === name) break;
      this.#known.delete(oldest);
      this.#samples -= sizeOf(old);
    }
    return patch;
  }
}

const sizeOf = (patch: SpotPatch | undefined): number => 4 * (patch?.cover.length ?? 0);

/** A picture with places of it covered, one after the other: each sees those before it. A tile that none of them touches is the picture's own,
 * and a place costs no more than its area. */
export class RetouchNode implements TileNode {
  readonly extent: Extent;
  readonly grownIn: TileNode['grownIn'];
  readonly looks: boolean;
  readonly #of: Shared;
  readonly #count: number;
  readonly #keys: SpotMemo<NodeKey>;

  private constructor(of: Shared, count: number) {
    this.#of = of;
    this.#count = count;
    this.extent = of.source.extent;
    this.grownIn = of.source.grownIn;
    this.looks = of.source.looks ?? false;
    this.#keys = new SpotMemo(this.grownIn);
  }

  static of(source: TileNode, spots: readonly PlannedSpot[]): RetouchNode {
    const digests = spots.map(({ spot }) => keyOf('spot', spot));
    return new RetouchNode(
      {
        source: keptNode(source),
        spots,
        digests,
        made: new Map(),
        patches: new PatchStore(),
        patchKeys: new Map(),
        levels: new Map(),
      },
      spots.length,
    );
  }

  /** The picture with only the first spots covered. */
  #upTo(count: number): RetouchNode {
    const known = this.#of.made.get(count) ?? new RetouchNode(this.#of, count);
    this.#of.made.set(count, known);
    return known;
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return this.#keys.at(spot, context, () => {
      // First to last, so that what a spot is made of is known when it is asked for, without a chain of calls.
      let key = this.#of.source.keyAt(spot, context);
      for (const index of this.#touching(spot)) key = mixKeys(SEED, key, this.#patchKey(index, spot.level, context));
      return key;
    });
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const touching = this.#touching(spot);
    if (touching.length === 0) return tileOf(this.#of.source, spot, context);
    const patches = touching.flatMap((index) => this.#patch(index, spot.level, context) ?? []);
    return withTile(this.#of.source, spot, context, (tile) =>
      context.scratch.lend(3, (red, green, blue) => {
        readEncoded(tile, [red, green, blue], context);
        for (const patch of patches) lay(patch, [red, green, blue], spot);
        return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
          writeFloats([red, green, blue], slots, context),
        );
      }),
    );
  }

  #level(level: number): SpotsOfLevel {
    const { levels, spots, source } = this.#of;
    const known = levels.get(level) ?? spotsOfLevel(spots, level, levelSize(source.extent.size, level));
    levels.set(level, known);
    return known;
  }

  /** The picture as a spot reads it. */
  #below(index: number, level: number): RetouchNode {
    const all = this.#level(level);
    all.below[index] ??= countBelow(this.#of.spots, index, level, all);
    return this.#upTo(all.below[index]);
  }

  /** Numbers of spots that touch a tile, first to last. */
  #touching({ level, tx, ty }: Spot): readonly number[] {
    const all = this.#level(level).touching.get(packPlace(level, tx, ty)) ?? NONE;
    const last = all.at(-1);
    return last === undefined || last < this.#count ? all : all.filter((index) => index < this.#count);
  }

  /** Key of what covers a spot at a level: of all that it is made of. */
  #patchKey(index: number, level: number, context: RenderContext): NodeKey {
    const { patchKeys } = this.#of;
    const memo = patchKeys.get(index) ?? new SpotMemo<NodeKey>(this.grownIn);
    patchKeys.set(index, memo);
    return memo.at({ level, tx: 0, ty: 0 }, context, () => {
      const { spot, frame } = this.#of.spots[index];
      const below = this.#below(index, level);
      const region = this.#level(level).regions[index];
      if (!region) return this.#of.digests[index];
      const reads = [
        ...(spot.how === 'heal' ? spotsIn(below, level, region).map((at) => below.keyAt(at, context)) : []),
        ...spotsIn(frame ?? below, level, sourceRegion(spot, level, region).region).map((at) =>
          (frame ?? below).keyAt(at, context),
        ),
      ];
      return mixKeys(this.#of.digests[index], packPlace(level, 0, 0), ...reads);
    });
  }

  #patch(index: number, level: number, context: RenderContext): SpotPatch | undefined {
    const { spot, frame } = this.#of.spots[index];
    const below = this.#below(index, level);
    return this.#of.patches.get(this.#patchKey(index, level, context), () =>
      makePatch(spot, level, { below, source: frame ?? below }, context),
    );
  }
}

const NONE: readonly number[] = [];

function spotsOfLevel(spots: readonly PlannedSpot[], level: number, size: Size): SpotsOfLevel {
  const regions = spots.map(({ spot }) => spotRegion(spot, level));
  const touching = new Map<number, number[]>();
  for (const [index, region] of regions.entries()) {
    if (!region || !isSeen(region, size)) continue;
    for (const { tx, ty } of tilesOfArea(region, size)) {
      const place = packPlace(level, tx, ty);
      const known = touching.get(place);
      if (known) known.push(index);
      else touching.set(place, [index]);
    }
  }
  return { size, regions, touching, below: [] };
}

/** How many of the first spots change what one of them reads: up to the last before it that lies there. */
function countBelow(spots: readonly PlannedSpot[], index: number, level: number, all: SpotsOfLevel): number {
  const { spot, frame } = spots[index];
  const region = all.regions[index];
  if (!region) return 0;
  const reads = [
    ...(spot.how === 'heal' ? [region] : []),
    ...(frame ? [] : [sourceRegion(spot, level, region).region]),
  ];
  let count = 0;
  for (const read of reads) {
    // What is read beyond the picture is its edge.
    const seen = seenOf(read, all.size);
    for (const { tx, ty } of tilesOfArea(seen, all.size))
      for (const other of all.touching.get(packPlace(level, tx, ty)) ?? NONE) {
        const covered = all.regions[other];
        if (other >= count && other < index && covered && overlap(covered, seen)) count = other + 1;
      }
  }
  return count;
}

const isSeen = (region: Region, { width, height }: Size): boolean => overlap(region, { x: 0, y: 0, width, height });

const overlap = (a: Region, b: Region): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

/** Lays a patch over the planes of a tile. */
function lay({ region, planes, cover }: SpotPatch, out: readonly Float32Array[], { tx, ty }: Spot): void {
  const [left, top] = [tx * TILE, ty * TILE];
  const [firstX, lastX] = [Math.max(left, region.x), Math.min(left + TILE, region.x + region.width)];
  const [firstY, lastY] = [Math.max(top, region.y), Math.min(top + TILE, region.y + region.height)];
  for (const [channel, plane] of out.entries()) {
    const patch = planes[channel];
    for (let y = firstY; y < lastY; y++) {
      let from = (y - region.y) * region.width + firstX - region.x;
      let to = (y - top) * TILE + firstX - left;
      for (let x = firstX; x < lastX; x++, from++, to++) plane[to] += (patch[from] - plane[to]) * cover[from];
    }
  }
}

import { type Region, TILE } from '../../raster/size.ts';
import { keyOf, keyText, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
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
import { spotsIn } from './readRegion.ts';
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
  regions: (Region | undefined)[][];
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
        regions: [],
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
        return publishPicture(spot, key, context, { form: 'floats', isTransient: false }, (slots) =>
          writeFloats([red, green, blue], slots, context),
        );
      }),
    );
  }

  #regionOf(index: number, level: number): Region | undefined {
    const { regions, spots } = this.#of;
    regions[level] ??= spots.map(({ spot }) => spotRegion(spot, level));
    return regions[level][index];
  }

  /** Numbers of spots that touch a tile, first to last. */
  #touching({ level, tx, ty }: Spot): number[] {
    const found: number[] = [];
    for (let index = 0; index < this.#count; index++) {
      const region = this.#regionOf(index, level);
      if (!region) continue;
      const { x, y, width, height } = region;
      const [left, top] = [tx * TILE, ty * TILE];
      if (x < left + TILE && y < top + TILE && x + width > left && y + height > top) found.push(index);
    }
    return found;
  }

  /** Key of what covers a spot at a level: of all that it is made of. */
  #patchKey(index: number, level: number, context: RenderContext): NodeKey {
    const { patchKeys } = this.#of;
    const memo = patchKeys.get(index) ?? new SpotMemo<NodeKey>(this.grownIn);
    patchKeys.set(index, memo);
    return memo.at({ level, tx: 0, ty: 0 }, context, () => {
      const { spot, frame } = this.#of.spots[index];
      const below = this.#upTo(index);
      const region = this.#regionOf(index, level);
      if (!region) return this.#of.digests[index];
      const reads = [
        ...(spot.how === 'heal' ? spotsIn(below, level, region).map((at) => below.keyAt(at, context)) : []),
        ...spotsIn(frame ?? below, level, sourceRegion(spot, level, region).region).map((at) =>
          (frame ?? below).keyAt(at, context),
        ),
      ];
      return mixKeys(this.#of.digests[index], level, ...reads);
    });
  }

  #patch(index: number, level: number, context: RenderContext): SpotPatch | undefined {
    const { spot, frame } = this.#of.spots[index];
    const below = this.#upTo(index);
    return this.#of.patches.get(this.#patchKey(index, level, context), () =>
      makePatch(spot, level, { below, source: frame ?? below }, context),
    );
  }
}

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

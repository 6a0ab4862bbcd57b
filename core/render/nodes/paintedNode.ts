import type { Kernels } from '../../kernels/kernels.ts';
import type { CoarseCoverage } from '../../kernels/planes.ts';
import { isFill, type Stroke, type Touch, touchName } from '../../masks/stroke.ts';
import { type Size, TILE_SAMPLES } from '../../raster/size.ts';
import { keyOf, keyOfText, keyText, mixKeys, type NodeKey, packPlace } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  type Grown,
  grownWith,
  oncePerVersion,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  SpotMemo,
  type TileNode,
  type Wanted,
  withTile,
  withTiles,
  withWanted,
} from '../tiles/renderContext.ts';
import { colourUnder, type LabNode } from './labNode.ts';

const EMPTY = keyOf('painted', []);
const HALF = TILE_SAMPLES / 2;

/** Strokes before the end at which a tile is kept as well while rendering is interactive: the stroke in progress starts from the
 * one before it and undo ends there; going further back costs some strokes instead of a thousand. */
const KEY_FRAMES: readonly number[] = [1, 8, 64, 512];

/** Keys of strokes that are remembered before all are forgotten. */
const REMEMBERED = 10_000;
const strokeKeys = new Map<string, NodeKey>();

/** Key of a stroke by its name. It never changes but for growing at its end while it is painted. */
function strokeKey(name: string): NodeKey {
  let key = strokeKeys.get(name);
  if (!key) {
    if (strokeKeys.size >= REMEMBERED) strokeKeys.clear();
    key = keyOfText(`stroke:${name}`);
    strokeKeys.set(name, key);
  }
  return key;
}

/** A stroke or a fill with what it needs of the rest of the scene. */
export interface PaintedTouch {
  touch: Touch;
  /** What it was painted through. */
  stencil?: TileNode;
  /** What it pulls the mask towards, where that is no single grey: the mask before it, blurred. */
  towards?: TileNode;
  /** What a fill covers, when it is not everything. */
  area?: TileNode;
  /** The colours that a stroke stays on. */
  near?: LabNode;
}

/** A stroke that touches a tile, with the key of the tile after it. */
interface ChainLink {
  /** The stroke's place among those of the part. */
  index: number;
  /** Dabs of the stroke on the tile; a fill counts as one. */
  dabs: number;
  /** Key of all else that the stroke depends on. */
  inputs: NodeKey | undefined;
  key: NodeKey;
}

/** A stroke that can be joined to a mask at once. */
export interface LoneStroke {
  touch: Stroke;
  coverage: CoarseCoverage;
  /** Its stencil's tile. */
  through?: PinnedTile;
}

const INPUTS = keyOf('inputs of a stroke', 1);

/** Key of what a stroke depends on besides its own points. */
function inputsOf(by: PaintedTouch, spot: Spot, context: RenderContext): NodeKey | undefined {
  const nodes = nodesOf(by);
  if (!nodes.some((node) => node)) return undefined;
  return mixKeys(INPUTS, ...nodes.map((node) => node?.keyAt(spot, context) ?? 0));
}

const nodesOf = ({ stencil, towards, area, near }: PaintedTouch): (TileNode | undefined)[] => [
  stencil,
  towards,
  area,
  near,
];

/** The strokes that touch a tile, as they were when it was last asked for. */
interface Chain {
  links: readonly ChainLink[];
  /** Names of all strokes that the part had then. */
  names: readonly string[];
  /** Of the strokes. */
  version: number;
}

/** Chains of tiles by place, handed from one scene's painted part to the same part of the next scene. */
export type Chains = Map<number, Chain>;

const sameKey = (a: NodeKey | undefined, b: NodeKey | undefined): boolean =>
  a === b || (a !== undefined && b !== undefined && a.every((word, i) => word === b[i]));

/** What strokes cover (`value`) and how much of each place they decide (`alpha`): two float planes, four slots.
 * Each tile depends on the strokes that touch it and on no others. */
export class PaintedNode implements TileNode {
  readonly #strokes: readonly PaintedTouch[];
  readonly extent: Extent;
  readonly #chains: Chains;
  readonly grownIn: Grown;
  readonly #known: SpotMemo<readonly ChainLink[]>;
  #nameList: readonly string[] | undefined;
  /** How many of the first strokes another list has too. */
  readonly #shared = new Map<readonly string[], number>();
  /** The first stroke that has grown between two versions of the strokes, when it was last asked. */
  #grown = { since: -1, version: -1, index: 0 };

  /** @param chains - Of this part in the scene before, or empty; changed in place. */
  constructor(strokes: readonly PaintedTouch[], chains: Chains, extent: Extent) {
    this.extent = extent;
    this.#strokes = strokes;
    this.#chains = chains;
    const inputs = grownWith(strokes.flatMap((by) => nodesOf(by).flatMap((node) => node ?? [])));
    this.grownIn = oncePerVersion((store) =>
      strokes.reduce((latest, { touch }) => Math.max(latest, store.grownIn(touch.id)), inputs?.(store) ?? 0),
    );
    this.#known = new SpotMemo(this.grownIn);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return this.#chain(spot, context).at(-1)?.key ?? EMPTY;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { level, tx, ty } = spot;
    const { table } = context;
    const chain = this.#chain(spot, context);
    if (chain.length === 0) return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value: 0 });
    return withWanted(this.wantedAt(spot, context), context, () =>
      context.scratch.lend(2, (value, alpha) => {
        this.paint(spot, context, value, alpha);
        return publishFloats(key, spot, context, value, alpha);
      }),
    );
  }

  /** The tiles that the strokes still to be painted on a tile are painted by: whoever borrows planes before has them made first. */
  wantedAt(spot: Spot, context: RenderContext): Wanted[] {
    const chain = this.#chain(spot, context);
    const nodes = new Set<TileNode>();
    for (let at = chain.length; at > 0 && !this.#isKnown(chain[at - 1], spot, context); at--) {
      for (const node of nodesOf(this.#strokes[chain[at - 1].index])) if (node) nodes.add(node);
    }
    return [...nodes].map((node) => ({ node, spot }));
  }

  #isKnown({ key }: ChainLink, { level, tx, ty }: Spot, { table }: RenderContext): boolean {
    const tile = table.find(key, level, tx, ty);
    if (tile) table.release(tile);
    return tile !== undefined;
  }

  /** Paints a tile into planes of the caller's and keeps nothing of it.
   * @param value - Overwritten with what the strokes cover.
   * @param alpha - Overwritten with how much of each place they decide.
   * @returns Whether any stroke touches the tile; when none does the planes are left alone. */
  paint(spot: Spot, context: RenderContext, value: Float32Array, alpha: Float32Array): boolean {
    const chain = this.#chain(spot, context);
    const known = this.#longestKnown(chain, spot, context, value, alpha);
    for (let painted = known; painted < chain.length; painted++) {
      if (context.interactive && painted > known && KEY_FRAMES.includes(chain.length - painted))
        context.table.release(publishFloats(chain[painted - 1].key, spot, context, value, alpha));
      paintStroke(this.#strokes[chain[painted].index], this.extent.size, spot, context, value, alpha, painted === 0);
    }
    return chain.length > 0;
  }

  /** Calls `use` with the stroke on a tile where it is the only one, soft enough to be enlarged, and towards one grey: it can be
   * joined to a mask at once. Undefined where it is not so simple. */
  withLoneStroke<T>(spot: Spot, context: RenderContext, use: (stroke: LoneStroke) => T): T | undefined {
    const chain = this.#chain(spot, context);
    if (chain.length !== 1) return undefined;
    const { touch, stencil, towards, near } = this.#strokes[chain[0].index];
    if (towards || isFill(touch)) return undefined;
    return withTiles(stencil ? [stencil] : [], spot, context, ([through]) =>
      withCoverage(touch, this.extent.size, near, spot, context, (coverage) =>
        coverage instanceof Float32Array ? undefined : use({ touch, coverage, through }),
      ),
    );
  }

  /** The strokes that touch a tile, each with the key of the tile after it. */
  #chain(spot: Spot, context: RenderContext): readonly ChainLink[] {
    return this.#known.at(spot, context, () => this.#link(spot, context));
  }

  get #names(): readonly string[] {
    this.#nameList ??= this.#strokes.map(({ touch }) => touchName(touch));
    return this.#nameList;
  }

  /** Goes on from the chain that the tile had last time as far as the strokes are the same: of a thousand strokes only the
   * new one is looked at. */
  #link(spot: Spot, context: RenderContext): readonly ChainLink[] {
    const place = packPlace(spot.level, spot.tx, spot.ty);
    const links: ChainLink[] = [];
    let next = this.#follow(this.#chains.get(place), links, spot, context);
    let key = links.at(-1)?.key ?? EMPTY;
    for (; next < this.#strokes.length; next++) {
      const by = this.#strokes[next];
      const { touch } = by;
      const dabs = isFill(touch)
        ? 1
        : context.strokes.on(this.extent.size).dabsOnTile(touch, spot.level, spot.tx, spot.ty);
      if (dabs === 0) continue;
      const inputs = inputsOf(by, spot, context);
      key = mixKeys(key, strokeKey(this.#names[next]), dabs, ...(inputs ? [inputs] : []));
      links.push({ index: next, dabs, inputs, key });
    }
    this.#chains.set(place, { links, names: this.#names, version: context.strokes.version });
    return links;
  }

  /** Takes over the links of strokes that are as they were, and answers how many strokes that are. */
  #follow(known: Chain | undefined, links: ChainLink[], spot: Spot, context: RenderContext): number {
    if (!known) return 0;
    const same = Math.min(this.#sharedWith(known.names), this.#firstGrown(known.version, context));
    for (const link of known.links) {
      if (link.index >= same) break;
      if (!sameKey(link.inputs, inputsOf(this.#strokes[link.index], spot, context))) return link.index;
      links.push(link);
    }
    return same;
  }

  #sharedWith(names: readonly string[]): number {
    const known = names === this.#names ? names.length : this.#shared.get(names);
    if (known !== undefined) return known;
    let count = 0;
    while (count < names.length && names[count] === this.#names[count]) count++;
    this.#shared.set(names, count);
    return count;
  }

  #firstGrown(since: number, { strokes }: RenderContext): number {
    if (since !== this.#grown.since || strokes.version !== this.#grown.version) {
      const grown =
        since === strokes.version ? -1 : this.#strokes.findIndex(({ touch }) => strokes.grownIn(touch.id) > since);
      this.#grown = { since, version: strokes.version, index: grown < 0 ? this.#strokes.length : grown };
    }
    return this.#grown.index;
  }

  /** Fills the planes with the tile after as many strokes as the table knows of, and answers how many; none: fills nothing. */
  #longestKnown(
    chain: readonly ChainLink[],
    { level, tx, ty }: Spot,
    context: RenderContext,
    value: Float32Array,
    alpha: Float32Array,
  ): number {
    for (let count = chain.length; count > 0; count--) {
      const tile = context.table.find(chain[count - 1].key, level, tx, ty);
      if (!tile) continue;
      readFloats(tile, context, value, alpha);
      context.table.release(tile);
      return count;
    }
    return 0;
  }
}

function paintStroke(
  by: PaintedTouch,
  size: Size,
  spot: Spot,
  context: RenderContext,
  value: Float32Array,
  alpha: Float32Array,
  fresh: boolean,
): void {
  // What it depends on comes first: making those tiles may lay strokes, and only one is laid at a time.
  const nodes = [by.stencil, by.towards, by.area];
  withTiles(
    nodes.filter((node) => node !== undefined),
    spot,
    context,
    (tiles) => {
      const rest = [...tiles];
      const [stencil, towards, area] = nodes.map((node) => node && planeOf(rest.shift() as PinnedTile, 0, context));
      const through = stencil ?? 65535;
      if (towards === undefined) layTouch(by, size, area, spot, context, value, alpha, through, by.touch.target, fresh);
      else {
        context.scratch.lend(2, (weight, spare) => {
          layTouch(by, size, area, spot, context, weight, spare, through, 1, true);
          pullTowards(towards, weight, value, alpha, fresh, context.kernels);
        });
      }
    },
  );
}

/** Pulls painting towards a target that differs from place to place, which then decides there by itself.
 * @param weight - How much each place is pulled. */
function pullTowards(
  target: Uint16Array | number,
  weight: Float32Array,
  value: Float32Array,
  alpha: Float32Array,
  fresh: boolean,
  kernels: Kernels,
): void {
  if (fresh) {
    kernels.fillFloats(value, 0);
    kernels.fillFloats(alpha, 0);
  }
  for (let i = 0; i < value.length; i++) {
    if (weight[i] === 0) continue;
    const wanted = (typeof target === 'number' ? target : target[i]) / 65535;
    value[i] += (wanted - value[i]) * weight[i];
    alpha[i] += (1 - alpha[i]) * weight[i];
  }
}

/** Lays a stroke's dabs, or a fill, with one grey as target. */
function layTouch(
  { touch, near }: PaintedTouch,
  size: Size,
  area: Uint16Array | number | undefined,
  spot: Spot,
  context: RenderContext,
  value: Float32Array,
  alpha: Float32Array,
  through: Uint16Array | number,
  target: number,
  fresh: boolean,
): void {
  const { kernels } = context;
  const { strength } = touch;
  if (isFill(touch)) {
    context.scratch.lend(1, (coverage) => {
      if (area === undefined || typeof area === 'number') kernels.fillFloats(coverage, (area ?? 65535) / 65535);
      else kernels.widen(area, coverage);
      kernels.paintOver(value, alpha, coverage, target, strength, through, fresh);
    });
    return;
  }
  withCoverage(touch, size, near, spot, context, (coverage) => {
    if (coverage instanceof Float32Array) kernels.paintOver(value, alpha, coverage, target, strength, through, fresh);
    else kernels.paintEnlarged(value, alpha, coverage, target, strength, through, fresh);
  });
}

function withCoverage<T>(
  stroke: Stroke,
  size: Size,
  near: LabNode | undefined,
  spot: Spot,
  context: RenderContext,
  use: (coverage: Float32Array | CoarseCoverage) => T,
): T {
  if (!near || !stroke.keepTo) return context.coverage.with(stroke, size, spot, undefined, use);
  const { tolerance } = stroke.keepTo;
  return withTile(near, spot, context, ({ slots }) => {
    const [l, a, b] = slots.map((slot) => context.table.slab.plane(slot));
    const colours = {
      name: keyText(near.keyAt(spot, context)),
      lab: [l, a, b] as const,
      tolerance,
      under: (x: number, y: number) => colourUnder(near, x, y, stroke.size, context),
    };
    return context.coverage.with(stroke, size, spot, colours, use);
  });
}

function publishFloats(
  key: NodeKey,
  { level, tx, ty }: Spot,
  context: RenderContext,
  value: Float32Array,
  alpha: Float32Array,
): PinnedTile {
  const { table, kernels } = context;
  const slots = reserveOrFail(context, 4);
  [value, alpha].forEach((plane, index) => {
    kernels.copyPlane(plane.subarray(0, HALF), table.slab.halfPlane(slots[2 * index]));
    kernels.copyPlane(plane.subarray(HALF), table.slab.halfPlane(slots[2 * index + 1]));
  });
  return table.publish(key, level, tx, ty, { form: 'floats', slots });
}

/** Copies a painted tile's two planes out. */
export function readFloats(tile: PinnedTile, context: RenderContext, value: Float32Array, alpha: Float32Array): void {
  const { table, kernels } = context;
  [value, alpha].forEach((plane, index) => {
    kernels.copyPlane(table.slab.halfPlane(tile.slots[2 * index]), plane.subarray(0, HALF));
    kernels.copyPlane(table.slab.halfPlane(tile.slots[2 * index + 1]), plane.subarray(HALF));
  });
}

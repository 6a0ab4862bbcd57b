import type { Rgb16, RgbFloats } from '../../kernels/planes.ts';
import { TILE_SAMPLES } from '../../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  growsWith,
  LastSpot,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  tileOf,
  transientTile,
  withTiles,
} from '../tiles/renderContext.ts';

/** A picture that lies over others through its mask. */
export interface CompositeLayer {
  source: TileNode;
  mask: TileNode;
  opacity: number;
}

interface MaskedLayer extends Omit<CompositeLayer, 'mask'> {
  /** Of its mask. */
  tile: PinnedTile;
}

const KEY = keyOf('composite', 1);
const UNROUNDED = keyOf('composite, unrounded', 1);
const HALF = TILE_SAMPLES / 2;

/** Fewer layers than this are mixed as quickly as they are read back. */
const WORTH_KEEPING = 2;

/** How a composite is made and kept; what it looks like does not depend on it. */
interface CompositeOptions {
  /** This many of the first layers are kept mixed: those below the one that is being worked on. */
  lowerLayerCount?: number;
  /** Nothing else is computed from it, so it is not kept. */
  isTransient?: boolean;
}

/** Layers over a base, each through its mask. All layers are mixed in floats and rounded once at the end. */
export class CompositeNode implements TileNode {
  readonly #base: TileNode;
  readonly extent: Extent;
  readonly #last = new LastSpot<NodeKey>();
  readonly #layers: readonly CompositeLayer[];
  readonly #lowerLayerCount: number;
  readonly isTransient: boolean;
  readonly fixedKey: NodeKey | undefined;
  readonly grows: boolean;

  constructor(
    base: TileNode,
    layers: readonly CompositeLayer[],
    { lowerLayerCount = 0, isTransient = false }: CompositeOptions = {},
  ) {
    this.#base = base;
    this.extent = base.extent;
    this.#layers = layers;
    this.#lowerLayerCount = lowerLayerCount < WORTH_KEEPING ? 0 : lowerLayerCount;
    this.isTransient = isTransient;
    this.fixedKey = layers.length === 0 ? base.fixedKey : undefined;
    this.grows = growsWith([base, ...layers.flatMap(({ source, mask }) => [source, mask])]);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    if (this.#layers.length === 0) return this.#base.keyAt(spot, context);
    return this.#last.at(spot, context, () => this.#keyOfFirst(this.#layers.length, KEY, spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, kernels } = context;
    const lower = context.interactive && this.#lowerLayerCount > 0 ? this.#lowerTile(spot, context) : undefined;
    try {
      return this.#withMasks(lower ? this.#lowerLayerCount : 0, this.#layers.length, spot, context, (masked) => {
        const { bottom, above } = cullHiddenLayers(lower ? undefined : this.#base, masked);
        // Where no layer takes part the tile is the bottom's own: nothing to compute, nothing to keep.
        if (bottom && above.length === 0) return tileOf(bottom, spot, context);
        const sources = above.map(({ source }) => source);
        return withTiles(bottom ? [bottom, ...sources] : sources, spot, context, (tiles) => {
          const slots = reserveOrFail(context, 3);
          const out = rgbOf({ slots }, context);
          if (!bottom) mixOverFloats(lower as PinnedTile, above, tiles, context, out);
          else {
            const layers = layersOf(above, tiles.slice(1), context, 0, TILE_SAMPLES);
            kernels.composite(rgbOf(tiles[0], context), layers, out);
          }
          if (this.isTransient) return transientTile(context, slots);
          return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
        });
      });
    } finally {
      if (lower) table.release(lower);
    }
  }

  #keyOfFirst(count: number, seed: NodeKey, spot: Spot, context: RenderContext): NodeKey {
    const inputs = this.#layers
      .slice(0, count)
      .flatMap(({ source, mask, opacity }) => [
        source.keyAt(spot, context),
        mask.keyAt(spot, context),
        Math.round(opacity * 1e6),
      ]);
    return mixKeys(seed, this.#base.keyAt(spot, context), ...inputs);
  }

  /** Calls `use` with some of the layers and the tiles of their masks. */
  #withMasks<T>(from: number, to: number, spot: Spot, context: RenderContext, use: (masked: MaskedLayer[]) => T): T {
    const layers = this.#layers.slice(from, to);
    const masks = layers.map(({ mask }) => mask);
    return withTiles(masks, spot, context, (tiles) =>
      use(layers.map(({ source, opacity }, index) => ({ source, opacity, tile: tiles[index] }))),
    );
  }

  /** The lower layers mixed, in floats, so that going on from here gives the same bits; undefined when too few of them
   * show here to be worth it. */
  #lowerTile(spot: Spot, context: RenderContext): PinnedTile | undefined {
    const { table, kernels } = context;
    const { level, tx, ty } = spot;
    const key = this.#keyOfFirst(this.#lowerLayerCount, UNROUNDED, spot, context);
    const known = table.find(key, level, tx, ty);
    if (known) return known;
    return this.#withMasks(0, this.#lowerLayerCount, spot, context, (masked) => {
      const { bottom, above } = cullHiddenLayers(this.#base, masked);
      if (!bottom || above.length < WORTH_KEEPING) return undefined;
      const sources = above.map(({ source }) => source);
      return withTiles([bottom, ...sources], spot, context, ([lowest, ...upper]) => {
        const slots = reserveOrFail(context, 6);
        for (const [index, half] of floatsOf({ slots }, context).entries()) {
          const from = index * HALF;
          const layers = layersOf(above, upper, context, from, HALF);
          kernels.composite(cut(rgbOf(lowest, context), from, HALF), layers, half);
        }
        return table.publish(key, level, tx, ty, { form: 'floats', slots });
      });
    });
  }
}

/** Leaves out layers that a mask hides wholly, and all that lies under one that covers wholly. */
function cullHiddenLayers(
  base: TileNode | undefined,
  layers: readonly MaskedLayer[],
): { bottom: TileNode | undefined; above: MaskedLayer[] } {
  const covers = layers.findLastIndex(
    ({ tile, opacity }) => tile.form === 'constant' && tile.value === 65535 && opacity === 1,
  );
  const above = layers
    .slice(covers + 1)
    .filter(({ tile, opacity }) => opacity > 0 && !(tile.form === 'constant' && tile.value === 0));
  return { bottom: covers < 0 ? base : layers[covers].source, above };
}

const rgbOf = ({ slots }: Pick<PinnedTile, 'slots'>, { table }: RenderContext): Rgb16 => [
  table.slab.plane(slots[0]),
  table.slab.plane(slots[1]),
  table.slab.plane(slots[2]),
];

/** The upper and the lower half of three float planes, which lie in two slots each. */
const floatsOf = ({ slots }: Pick<PinnedTile, 'slots'>, { table }: RenderContext): [RgbFloats, RgbFloats] => {
  const half = (which: number): RgbFloats => [
    table.slab.halfPlane(slots[which]),
    table.slab.halfPlane(slots[2 + which]),
    table.slab.halfPlane(slots[4 + which]),
  ];
  return [half(0), half(1)];
};

const from16 = (plane: Uint16Array, from: number, length: number): Uint16Array =>
  length === plane.length ? plane : plane.subarray(from, from + length);

const cut = ([red, green, blue]: Rgb16, from: number, length: number): Rgb16 => [
  from16(red, from, length),
  from16(green, from, length),
  from16(blue, from, length),
];

/** The layers' planes from a sample on.
 * @param tiles - Of their sources. */
const layersOf = (
  above: readonly MaskedLayer[],
  tiles: readonly PinnedTile[],
  context: RenderContext,
  from: number,
  length: number,
) =>
  above.map(({ tile, opacity }, index) => {
    const mask = planeOf(tile, 0, context);
    return {
      upper: cut(rgbOf(tiles[index], context), from, length),
      mask: typeof mask === 'number' ? mask : from16(mask, from, length),
      opacity,
    };
  });

/** Mixes layers over a tile in floats. */
function mixOverFloats(
  lower: PinnedTile,
  above: readonly MaskedLayer[],
  tiles: readonly PinnedTile[],
  context: RenderContext,
  out: Rgb16,
): void {
  for (const [index, half] of floatsOf(lower, context).entries()) {
    const from = index * HALF;
    context.kernels.composite(half, layersOf(above, tiles, context, from, HALF), cut(out, from, HALF));
  }
}

import type { Rgb16, RgbFloats } from '../kernels/kernels.ts';
import { TILE_SAMPLES } from '../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import {
  growsWith,
  LastSpot,
  lastTile,
  planeOf,
  reserveOrFail,
  type Spot,
  type Studio,
  type TileNode,
  tileOf,
} from './studio.ts';

/** A picture that lies over others through its mask. */
export interface CompositeLayer {
  source: TileNode;
  mask: TileNode;
  opacity: number;
}

interface MaskedLayer extends CompositeLayer {
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
  settled?: number;
  /** Nothing else is computed from it, so it is not kept. */
  isLast?: boolean;
}

/** Layers over a base, each through its mask. All layers are mixed in floats and rounded once at the end. */
export class CompositeNode implements TileNode {
  readonly #base: TileNode;
  readonly #last = new LastSpot<NodeKey>();
  readonly #layers: readonly CompositeLayer[];
  readonly #settled: number;
  readonly isLast: boolean;
  readonly fixedKey: NodeKey | undefined;
  readonly grows: boolean;

  constructor(
    base: TileNode,
    layers: readonly CompositeLayer[],
    { settled = 0, isLast = false }: CompositeOptions = {},
  ) {
    this.#base = base;
    this.#layers = layers;
    this.#settled = settled < WORTH_KEEPING ? 0 : settled;
    this.isLast = isLast;
    this.fixedKey = layers.length === 0 ? base.fixedKey : undefined;
    this.grows = growsWith([base, ...layers.flatMap(({ source, mask }) => [source, mask])]);
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    if (this.#layers.length === 0) return this.#base.keyAt(spot, studio);
    return this.#last.at(spot, studio, () => this.#keyOfFirst(this.#layers.length, KEY, spot, studio));
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { table } = studio;
    const settled = studio.watched && this.#settled > 0 ? this.#settledTile(spot, studio) : undefined;
    const from = settled ? this.#settled : 0;
    const masked = this.#masked(from, this.#layers.length, spot, studio);
    try {
      const { bottom, above } = whatShows(settled ? undefined : this.#base, masked);
      // Where no layer takes part the tile is the bottom's own: nothing to compute, nothing to keep.
      if (bottom && above.length === 0) return tileOf(bottom, spot, studio);
      const slots = reserveOrFail(studio, 3);
      const out = rgbOf({ slots }, studio);
      if (bottom) mixOver(bottom, above, spot, studio, out);
      else mixOverFloats(settled as PinnedTile, above, spot, studio, out);
      if (this.isLast) return lastTile(studio, slots);
      return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
    } finally {
      table.releaseAll(masked.map(({ tile }) => tile));
      if (settled) table.release(settled);
    }
  }

  #keyOfFirst(count: number, seed: NodeKey, spot: Spot, studio: Studio): NodeKey {
    const inputs = this.#layers
      .slice(0, count)
      .flatMap(({ source, mask, opacity }) => [
        source.keyAt(spot, studio),
        mask.keyAt(spot, studio),
        Math.round(opacity * 1e6),
      ]);
    return mixKeys(seed, this.#base.keyAt(spot, studio), ...inputs);
  }

  #masked(from: number, to: number, spot: Spot, studio: Studio): MaskedLayer[] {
    return this.#layers.slice(from, to).map((layer) => ({ ...layer, tile: tileOf(layer.mask, spot, studio) }));
  }

  /** The settled layers mixed, in floats, so that going on from here gives the same bits; undefined when too few of them
   * show here to be worth it. */
  #settledTile(spot: Spot, studio: Studio): PinnedTile | undefined {
    const { table } = studio;
    const { level, tx, ty } = spot;
    const key = this.#keyOfFirst(this.#settled, UNROUNDED, spot, studio);
    const known = table.find(key, level, tx, ty);
    if (known) return known;
    const masked = this.#masked(0, this.#settled, spot, studio);
    try {
      const { bottom, above } = whatShows(this.#base, masked);
      if (!bottom || above.length < WORTH_KEEPING) return undefined;
      const slots = reserveOrFail(studio, 6);
      const halves = floatsOf({ slots }, studio);
      mixOver(bottom, above, spot, studio, halves[0], 0);
      mixOver(bottom, above, spot, studio, halves[1], HALF);
      return table.publish(key, level, tx, ty, { form: 'floats', slots });
    } finally {
      table.releaseAll(masked.map(({ tile }) => tile));
    }
  }
}

/** Leaves out layers that a mask hides wholly, and all that lies under one that covers wholly. */
function whatShows(
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

const rgbOf = ({ slots }: Pick<PinnedTile, 'slots'>, { table }: Studio): Rgb16 => [
  table.slab.plane(slots[0]),
  table.slab.plane(slots[1]),
  table.slab.plane(slots[2]),
];

/** The upper and the lower half of three float planes, which lie in two slots each. */
const floatsOf = ({ slots }: Pick<PinnedTile, 'slots'>, { table }: Studio): [RgbFloats, RgbFloats] => {
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

/** Calls `use` with the layers' planes from a sample on. */
function withLayers(
  above: readonly MaskedLayer[],
  spot: Spot,
  studio: Studio,
  use: (layersFrom: (from: number, length: number) => Parameters<Studio['kernels']['composite']>[1]) => void,
): void {
  const sources = above.map(({ source }) => tileOf(source, spot, studio));
  try {
    use((from, length) =>
      above.map(({ tile, opacity }, i) => {
        const mask = planeOf(tile, 0, studio);
        return {
          upper: cut(rgbOf(sources[i], studio), from, length),
          mask: typeof mask === 'number' ? mask : from16(mask, from, length),
          opacity,
        };
      }),
    );
  } finally {
    studio.table.releaseAll(sources);
  }
}

/** Mixes layers over a picture, from a sample on as far as `out` reaches. */
function mixOver(
  bottom: TileNode,
  above: readonly MaskedLayer[],
  spot: Spot,
  studio: Studio,
  out: Rgb16 | RgbFloats,
  from = 0,
): void {
  const lowest = tileOf(bottom, spot, studio);
  try {
    withLayers(above, spot, studio, (layersFrom) => {
      const { length } = out[0];
      studio.kernels.composite(cut(rgbOf(lowest, studio), from, length), layersFrom(from, length), out);
    });
  } finally {
    studio.table.release(lowest);
  }
}

/** Mixes layers over a tile in floats. */
function mixOverFloats(
  settled: PinnedTile,
  above: readonly MaskedLayer[],
  spot: Spot,
  studio: Studio,
  out: Rgb16,
): void {
  withLayers(above, spot, studio, (layersFrom) => {
    floatsOf(settled, studio).forEach((half, index) => {
      const from = index * HALF;
      studio.kernels.composite(half, layersFrom(from, HALF), cut(out, from, HALF));
    });
  });
}

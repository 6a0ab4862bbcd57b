import type { Rgb16 } from '../kernels/kernels.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { LastSpot, planeOf, reserveOrFail, type Spot, type Studio, type TileNode, tileOf } from './studio.ts';

interface CompositeLayer {
  source: TileNode;
  mask: TileNode;
  opacity: number;
}

interface MaskedLayer extends CompositeLayer {
  tile: PinnedTile;
}

const KEY = keyOf('composite', 1);

/** Layers over a base, each through its mask. All layers are mixed in floats and rounded once at the end. */
export class CompositeNode implements TileNode {
  readonly #base: TileNode;
  readonly #last = new LastSpot<NodeKey>();
  readonly #layers: readonly CompositeLayer[];

  constructor(base: TileNode, layers: readonly CompositeLayer[]) {
    this.#base = base;
    this.#layers = layers;
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    if (this.#layers.length === 0) return this.#base.keyAt(spot, studio);
    return this.#last.at(spot, studio, () => {
      const inputs = this.#layers.flatMap(({ source, mask, opacity }) => [
        source.keyAt(spot, studio),
        mask.keyAt(spot, studio),
        Math.round(opacity * 1e6),
      ]);
      return mixKeys(KEY, this.#base.keyAt(spot, studio), ...inputs);
    });
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const masked = this.#layers.map((layer) => ({ ...layer, tile: tileOf(layer.mask, spot, studio) }));
    try {
      const { bottom, above } = whatShows(this.#base, masked);
      // Where no layer takes part the tile is the bottom's own: nothing to compute, nothing to keep.
      return above.length === 0 ? tileOf(bottom, spot, studio) : mix(bottom, above, spot, key, studio);
    } finally {
      for (const { tile } of masked) studio.table.release(tile);
    }
  }
}

/** Leaves out layers that a mask hides wholly, and all that lies under one that covers wholly. */
function whatShows(base: TileNode, layers: readonly MaskedLayer[]): { bottom: TileNode; above: MaskedLayer[] } {
  const covers = layers.findLastIndex(
    ({ tile, opacity }) => tile.form === 'constant' && tile.value === 65535 && opacity === 1,
  );
  const above = layers
    .slice(covers + 1)
    .filter(({ tile, opacity }) => opacity > 0 && !(tile.form === 'constant' && tile.value === 0));
  return { bottom: covers < 0 ? base : layers[covers].source, above };
}

function mix(bottom: TileNode, above: readonly MaskedLayer[], spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
  const { table } = studio;
  const sources = [bottom, ...above.map(({ source }) => source)].map((node) => tileOf(node, spot, studio));
  try {
    const slots = reserveOrFail(studio, 3);
    const rgbOf = (from: readonly number[]): Rgb16 => [
      table.slab.plane(from[0]),
      table.slab.plane(from[1]),
      table.slab.plane(from[2]),
    ];
    const [lowest, ...uppers] = sources.map((tile) => rgbOf(tile.slots));
    const layers = above.map(({ tile, opacity }, i) => ({ upper: uppers[i], mask: planeOf(tile, 0, studio), opacity }));
    studio.kernels.composite(lowest, layers, rgbOf(slots));
    return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
  } finally {
    for (const tile of sources) table.release(tile);
  }
}

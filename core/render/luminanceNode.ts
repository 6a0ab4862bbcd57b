import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { keepPassing, LastSpot, reserveOrFail, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

/** The tone of a picture: one plane, shared by all parts that read tones of it. */
export class LuminanceNode implements TileNode {
  readonly #source: TileNode;
  readonly #weights: readonly [number, number, number];
  readonly #key: NodeKey;
  readonly fixedKey: NodeKey | undefined;
  readonly #last = new LastSpot<NodeKey>();

  constructor(source: TileNode, weights: readonly [number, number, number]) {
    this.#source = source;
    this.#weights = weights;
    this.#key = keyOf('luminance', weights);
    this.fixedKey = source.fixedKey && mixKeys(this.#key, source.fixedKey);
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    if (this.fixedKey) return this.fixedKey;
    return this.#last.at(spot, studio, () => mixKeys(this.#key, this.#source.keyAt(spot, studio)));
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { table, kernels } = studio;
    const slots = withTile(this.#source, spot, studio, ({ slots: rgb }) => {
      const slots = reserveOrFail(studio, 1);
      const [red, green, blue] = rgb.map((slot) => table.slab.plane(slot));
      kernels.luminance(red, green, blue, this.#weights, table.slab.plane(slots[0]));
      return slots;
    });
    return keepPassing(studio, key, spot, table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots }));
  }
}

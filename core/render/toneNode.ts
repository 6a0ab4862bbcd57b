import { toneTable } from '../masks/toneCurve.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import type { TonePart } from '../scene/mask.ts';
import { LastSpot, reserveOrFail, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

/** Coverage of a tone part: the source's tone through the part's table. */
export class ToneNode implements TileNode {
  readonly #source: TileNode;
  readonly #part: TonePart;
  readonly #weights: readonly [number, number, number];
  readonly #key: NodeKey;
  readonly #last = new LastSpot<NodeKey>();

  constructor(part: TonePart, source: TileNode, weights: readonly [number, number, number]) {
    this.#part = part;
    this.#source = source;
    this.#weights = weights;
    const { side, from, to, fromShoulder, toShoulder, narrowing } = part;
    this.#key = keyOf('tone', [side, from, to, fromShoulder, toShoulder, narrowing, weights]);
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    return this.#last.at(spot, studio, () => mixKeys(this.#key, this.#source.keyAt(spot, studio)));
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { table, kernels } = studio;
    const { slots, out } = withTile(this.#source, spot, studio, ({ slots: rgb }) => {
      const slots = reserveOrFail(studio, 1);
      const out = table.slab.plane(slots[0]);
      const [red, green, blue] = rgb.map((slot) => table.slab.plane(slot));
      kernels.luminance(red, green, blue, this.#weights, out);
      return { slots, out };
    });
    kernels.lookUp(this.#table(studio), out, out);
    const value = kernels.uniformValue(out);
    if (value < 0) return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
    table.unreserve(slots);
    return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'constant', slots: [], value });
  }

  #table({ scratch }: Studio): Uint16Array {
    const { side, from, to, fromShoulder, toShoulder, narrowing } = this.#part;
    const name = [side, from, to, fromShoulder, toShoulder, narrowing].join();
    return scratch.table(name, () => toneTable(this.#part));
  }
}

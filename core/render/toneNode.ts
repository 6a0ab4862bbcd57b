import { toneTable } from '../masks/toneCurve.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import type { TonePart } from '../scene/mask.ts';
import { keepPassing, LastSpot, reserveOrFail, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

/** Coverage of a tone part: the source's tone through the part's table. */
export class ToneNode implements TileNode {
  readonly #tone: TileNode;
  readonly #part: TonePart;
  readonly #key: NodeKey;
  readonly fixedKey: NodeKey | undefined;
  readonly #last = new LastSpot<NodeKey>();

  /** @param tone - The source's tone, one plane. */
  constructor(part: TonePart, tone: TileNode) {
    this.#part = part;
    this.#tone = tone;
    const { side, from, to, fromShoulder, toShoulder, narrowing } = part;
    this.#key = keyOf('tone', [side, from, to, fromShoulder, toShoulder, narrowing]);
    this.fixedKey = tone.fixedKey && mixKeys(this.#key, tone.fixedKey);
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    if (this.fixedKey) return this.fixedKey;
    return this.#last.at(spot, studio, () => mixKeys(this.#key, this.#tone.keyAt(spot, studio)));
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { table, kernels } = studio;
    const { level, tx, ty } = spot;
    const slots = reserveOrFail(studio, 1);
    const out = table.slab.plane(slots[0]);
    withTile(this.#tone, spot, studio, (tile) => {
      kernels.lookUp(this.#table(studio), table.slab.plane(tile.slots[0]), out);
    });
    const value = kernels.uniformValue(out);
    if (value < 0) return keepPassing(studio, key, spot, table.publish(key, level, tx, ty, { form: 'planes', slots }));
    table.unreserve(slots);
    return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value });
  }

  #table({ scratch }: Studio): Uint16Array {
    const { side, from, to, fromShoulder, toShoulder, narrowing } = this.#part;
    const name = [side, from, to, fromShoulder, toShoulder, narrowing].join();
    return scratch.table(name, () => toneTable(this.#part));
  }
}

import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from './derivedNode.ts';
import {
  keepBriefly,
  planeOf,
  reserveOrFail,
  type Spot,
  type Studio,
  slotsOf,
  type TileNode,
  withTile,
} from './studio.ts';

/** Coverage or tones through a table of 65,536 values. */
export class TableNode extends DerivedNode {
  readonly #input: TileNode;
  readonly #name: string;
  readonly #make: () => Uint16Array;

  /** @param name - Different for every table.
   * @param make - The table, made when it is needed. */
  constructor(input: TileNode, name: string, make: () => Uint16Array) {
    super(keyOf('table', name), [input]);
    this.#input = input;
    this.#name = name;
    this.#make = make;
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { table, kernels, scratch } = studio;
    const values = scratch.table(this.#name, this.#make);
    return withTile(this.#input, spot, studio, (tile) => {
      const plane = planeOf(tile, 0, studio);
      if (typeof plane === 'number')
        return keepBriefly(studio, key, spot, { form: 'constant', slots: [], value: values[plane] });
      const slots = reserveOrFail(studio, 1);
      const out = table.slab.plane(slots[0]);
      kernels.lookUp(values, plane, out);
      const value = kernels.uniformValue(out);
      if (value < 0) return keepBriefly(studio, key, spot, { form: 'planes', slots });
      slotsOf(studio).unreserve(slots);
      return keepBriefly(studio, key, spot, { form: 'constant', slots: [], value });
    });
  }
}

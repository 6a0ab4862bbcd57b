import type { NodeKey } from '../raster/tileKey.ts';
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
import { ValueTable } from './valueTable.ts';

/** Coverage or tones through a table of 65,536 values. */
export class TableNode extends DerivedNode {
  readonly #input: TileNode;
  readonly #table: ValueTable;

  /** @param name - Different for every table.
   * @param make - The table, made when it is needed. */
  constructor(input: TileNode, name: string, make: () => Uint16Array) {
    const table = new ValueTable(name, make);
    super(table.key, [input]);
    this.#input = input;
    this.#table = table;
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    return withTile(this.#input, spot, studio, (tile) =>
      this.#table.with(studio, (values) => mapped(planeOf(tile, 0, studio), values, spot, key, studio)),
    );
  }
}

/** A tile of what a table makes of samples, or of one value throughout. */
function mapped(
  plane: Uint16Array | number,
  values: Uint16Array,
  spot: Spot,
  key: NodeKey,
  studio: Studio,
): PinnedTile {
  const { table, kernels } = studio;
  const same = (value: number) => keepBriefly(studio, key, spot, { form: 'constant', slots: [], value });
  if (typeof plane === 'number') return same(values[plane]);
  const slots = reserveOrFail(studio, 1);
  const out = table.slab.plane(slots[0]);
  kernels.lookUp(values, plane, out);
  const value = kernels.uniformValue(out);
  if (value < 0) return keepBriefly(studio, key, spot, { form: 'planes', slots });
  slotsOf(studio).unreserve(slots);
  return same(value);
}

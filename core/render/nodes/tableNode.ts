import type { NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  keepBriefly,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  slotsOf,
  type TileNode,
  withTile,
} from '../tiles/renderContext.ts';
import { ValueTable } from '../tiles/valueTable.ts';
import { DerivedNode } from './derivedNode.ts';

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

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return withTile(this.#input, spot, context, (tile) =>
      this.#table.with(context, (values) => lookUpTile(planeOf(tile, 0, context), values, spot, key, context)),
    );
  }
}

/** A tile of what a table makes of samples, or of one value throughout. */
function lookUpTile(
  plane: Uint16Array | number,
  values: Uint16Array,
  spot: Spot,
  key: NodeKey,
  context: RenderContext,
): PinnedTile {
  const { table, kernels } = context;
  const same = (value: number) => keepBriefly(context, key, spot, { form: 'constant', slots: [], value });
  if (typeof plane === 'number') return same(values[plane]);
  const slots = reserveOrFail(context, 1);
  const out = table.slab.plane(slots[0]);
  kernels.lookUp(values, plane, out);
  const value = kernels.uniformValue(out);
  if (value < 0) return keepBriefly(context, key, spot, { form: 'planes', slots });
  slotsOf(context).unreserve(slots);
  return same(value);
}

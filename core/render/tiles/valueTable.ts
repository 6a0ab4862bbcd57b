import { TILE, TILE_SAMPLES } from '../../raster/size.ts';
import { keyOf, keyText, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { type RenderContext, RenderError, type Spot, sceneExtent, type TileNode, withTile } from './renderContext.ts';
import { TABLE_VALUES } from './tableCopies.ts';

/** A table lies in as many planes. */
const QUARTERS = TABLE_VALUES / TILE_SAMPLES;
/** Tables belong to no place of a picture. */
const NOWHERE: Spot = { level: 0, tx: 0, ty: 0 };
export const NO_PICTURE = sceneExtent({ width: TILE, height: TILE });

/** A table of 65,536 values as a tile of its own: one thread makes it, all have it. */
class TableTile implements TileNode {
  readonly extent = NO_PICTURE;
  readonly fixedKey: NodeKey;
  readonly #make: () => Uint16Array;

  constructor(key: NodeKey, make: () => Uint16Array) {
    this.fixedKey = key;
    this.#make = make;
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make({ level, tx, ty }: Spot, key: NodeKey, { table }: RenderContext): PinnedTile {
    const values = this.#make();
    const slots = table.reserve(QUARTERS);
    if (!slots) throw new RenderError('memory-full', 'a table of values found no room');
    for (const [quarter, slot] of slots.entries())
      table.slab.plane(slot).set(values.subarray(quarter * TILE_SAMPLES, (quarter + 1) * TILE_SAMPLES));
    return table.publish(key, level, tx, ty, { form: 'planes', slots });
  }
}

/** A table of 65,536 values by name. */
export class ValueTable {
  readonly key: NodeKey;
  /** The key as text. */
  readonly name: string;
  readonly #tile: TableTile;

  /** @param name - Different for every table.
   * @param make - The values, made when nobody has them. */
  constructor(name: string, make: () => Uint16Array) {
    this.key = keyOf('values', name);
    this.name = keyText(this.key);
    this.#tile = new TableTile(this.key, make);
  }

  /** Calls `use` with the values, which stay as they are until it returns, whatever other tables it asks for.
   * @throws {RenderError} */
  with<T>(context: RenderContext, use: (values: Uint16Array) => T): T {
    return context.tables.lend(
      this.name,
      (copy) =>
        withTile(this.#tile, NOWHERE, context, ({ slots }) => {
          for (const [quarter, slot] of slots.entries())
            copy.set(context.table.slab.plane(slot), quarter * TILE_SAMPLES);
        }),
      use,
    );
  }
}

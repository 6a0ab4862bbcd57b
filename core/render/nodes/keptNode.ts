import type { NodeKey } from '../../raster/tileKey.ts';
import { HELD, type PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  tileOf,
} from '../tiles/renderContext.ts';

/** In less memory than this, in slots, what is kept would only push out what is needed. */
const LEAST_SLOTS = 4096;

/** A picture whose tiles neighbours look at as well: they are in the table also where nothing is drawn, so that each is made once. */
class KeptNode implements TileNode {
  readonly extent: Extent;
  readonly fixedKey: NodeKey | undefined;
  readonly grownIn: TileNode['grownIn'];
  readonly looks: TileNode['looks'];
  readonly #source: TileNode;

  constructor(source: TileNode) {
    this.#source = source;
    this.extent = source.extent;
    this.fixedKey = source.fixedKey;
    this.grownIn = source.grownIn;
    this.looks = source.looks;
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return this.#source.keyAt(spot, context);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, transient, interactive, kernels } = context;
    const source = this.#source;
    // Whatever is drawn is in the table already, and it has just been looked for there.
    if (interactive && !source.isTransient) return source.make(spot, key, context);
    const make = () => tileOf(source, spot, context);
    if (table.slab.maxSlots < LEAST_SLOTS) return make();
    const tile = transient.promising(key, make);
    // It was there already, or is of a picture that is in no table.
    if (tile.entry !== HELD) return tile;
    const { form, value } = tile;
    const slots = reserveOrFail(context, tile.slots.length);
    for (const [index, slot] of tile.slots.entries())
      kernels.copyPlane(table.slab.plane(slot), table.slab.plane(slots[index]));
    return table.publish(key, spot.level, spot.tx, spot.ty, { form, slots, value });
  }
}

/** A picture of which more is asked for than the tile at hand. */
export const keptNode = (source: TileNode): TileNode =>
  source instanceof KeptNode || source.fixedKey ? source : new KeptNode(source);

import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { withRounded } from '../render/tiles/pictureTile.ts';
import {
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  withTile,
} from '../render/tiles/renderContext.ts';

/** Brightness and the two differences of colour of encoded values: (r + 2g + b) / 4, (r - g) / 2 and (b - g) / 2, the latter around
 * the middle of the range. */
export const CHANNELS = ['brightness', 'red', 'blue'] as const;
export type Channel = (typeof CHANNELS)[number];

/** A channel of a picture, as one plane. */
export class ChannelNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #channel: Channel;

  constructor(source: TileNode, channel: Channel) {
    super(keyOf('channel', channel), [source]);
    this.#source = source;
    this.#channel = channel;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, kernels } = context;
    const slots = withTile(this.#source, spot, context, (tile) =>
      withRounded(tile, context, ([red, green, blue]) => {
        const made = reserveOrFail(context, 1);
        const out = table.slab.plane(made[0]);
        if (this.#channel === 'brightness') kernels.brightnessOf([red, green, blue], out);
        else kernels.differenceOf(this.#channel === 'red' ? red : blue, green, out);
        return made;
      }),
    );
    // Neighbours look at it as well, also where nothing is drawn.
    return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
  }
}

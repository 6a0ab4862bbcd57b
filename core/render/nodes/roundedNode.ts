import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { rgbOf, writeRounded } from '../tiles/pictureTile.ts';
import { type RenderContext, reserveOrFail, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

/** A picture in 16 bits, for what looks around itself and reads its planes. */
export class RoundedNode extends DerivedNode {
  readonly #source: TileNode;

  constructor(source: TileNode) {
    super(keyOf('rounded', 1), [source]);
    this.#source = source;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return withTile(this.#source, spot, context, (tile) => {
      const slots = reserveOrFail(context, 3);
      if (tile.form === 'floats') writeRounded(tile, slots, context);
      else {
        const rgb = rgbOf(tile, context);
        for (const [channel, plane] of rgbOf({ slots }, context).entries())
          context.kernels.copyPlane(rgb[channel], plane);
      }
      // Neighbours look at it as well, also where nothing is drawn.
      return context.table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
    });
  }
}

import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishPicture } from '../tiles/pictureTile.ts';
import type { Extent, RenderContext, Spot, TileNode } from '../tiles/renderContext.ts';

/** Black everywhere. */
export class BlackNode implements TileNode {
  readonly extent: Extent;
  readonly fixedKey = keyOf('black', []);

  constructor(extent: Extent) {
    this.extent = extent;
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return publishPicture(spot, key, context, { form: 'planes', extent: this.extent }, (slots) => {
      for (const slot of slots) context.table.slab.plane(slot).fill(0);
    });
  }
}

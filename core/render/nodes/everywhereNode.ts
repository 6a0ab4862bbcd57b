import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishSame } from '../tiles/coverageTile.ts';
import type { Extent, RenderContext, Spot, TileNode } from '../tiles/renderContext.ts';

/** Coverage of all that there is. */
export class EverywhereNode implements TileNode {
  readonly extent: Extent;
  readonly fixedKey: NodeKey = keyOf('everywhere', 1);

  constructor(extent: Extent) {
    this.extent = extent;
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return publishSame(1, spot, key, context);
  }
}

import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { MIXED_SO_FAR } from '../tiles/pictureTile.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';

/** Stands among the layers of a composite for what is mixed below it there, so that no picture of its own has to be made of that. It must
 * not be laid in normal mode, where it would change nothing. */
export class SoFarNode implements TileNode {
  readonly extent: Extent;
  readonly fixedKey: NodeKey = keyOf('so far', 1);
  readonly isTransient = true;

  constructor(extent: Extent) {
    this.extent = extent;
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(): PinnedTile {
    return MIXED_SO_FAR;
  }
}

import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { publishCoverage } from './coverageTile.ts';
import type { PaintedNode } from './paintedNode.ts';
import type { Spot, Studio, TileNode } from './studio.ts';

/** One of the two planes of painting, as coverage that can be refined. */
export class PaintedPlaneNode implements TileNode {
  readonly #painted: PaintedNode;
  readonly #which: 'value' | 'hold';
  readonly grows = true;
  readonly #key: NodeKey;

  constructor(painted: PaintedNode, which: 'value' | 'hold') {
    this.#painted = painted;
    this.#which = which;
    this.#key = keyOf('painted plane', which);
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    return mixKeys(this.#key, this.#painted.keyAt(spot, studio));
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    return studio.scratch.lend(2, (value, hold) => {
      if (!this.#painted.paint(spot, studio, value, hold))
        return studio.table.publish(key, spot.level, spot.tx, spot.ty, { form: 'constant', slots: [], value: 0 });
      return publishCoverage(this.#which === 'value' ? value : hold, spot, key, studio);
    });
  }
}

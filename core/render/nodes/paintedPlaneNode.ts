import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishCoverage } from '../tiles/coverageTile.ts';
import { type Extent, type RenderContext, type Spot, type TileNode, withWanted } from '../tiles/renderContext.ts';
import type { PaintedNode } from './paintedNode.ts';

/** One of the two planes of painting, as coverage that can be refined. */
export class PaintedPlaneNode implements TileNode {
  readonly #painted: PaintedNode;
  readonly extent: Extent;
  readonly #which: 'value' | 'alpha';
  readonly grownIn: TileNode['grownIn'];
  readonly #key: NodeKey;

  constructor(painted: PaintedNode, which: 'value' | 'alpha') {
    this.#painted = painted;
    this.extent = painted.extent;
    this.grownIn = painted.grownIn;
    this.#which = which;
    this.#key = keyOf('painted plane', which);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return mixKeys(this.#key, this.#painted.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return withWanted(this.#painted.wantedAt(spot, context), context, () =>
      context.scratch.lend(2, (value, alpha) => {
        if (!this.#painted.paint(spot, context, value, alpha))
          return context.table.publish(key, spot.level, spot.tx, spot.ty, { form: 'constant', slots: [], value: 0 });
        return publishCoverage(this.#which === 'value' ? value : alpha, spot, key, context);
      }),
    );
  }
}

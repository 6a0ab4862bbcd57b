import { grow } from '../masks/grow.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { AreaNode } from './areaNode.ts';
import { publishCoverage, publishSame } from './coverageTile.ts';
import { withArea } from './neighbourhood.ts';
import type { Spot, Studio, TileNode } from './studio.ts';

/** Largest disc, in pixels of the level it is computed at. */
const WIDEST = 24;
const WIDEST_AT_TOP = 110;

/** A mask whose covered places have grown, or shrunk, by a disc. */
export class GrowNode extends AreaNode {
  readonly #shrinks: boolean;

  /** @param by - Scene pixels; negative shrinks. */
  constructor(mask: TileNode, by: number) {
    const reach = Math.abs(by);
    super(keyOf('grow', by), mask, { reach, widest: WIDEST, widestAtTop: WIDEST_AT_TOP, marginOf: (r) => r + 1 });
    this.#shrinks = by < 0;
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const area = this.areaOf(spot, studio);
    const radius = this.reachIn(area);
    const growing = (mask: Float32Array, grown: Float32Array, runs: Float32Array, spare: Float32Array) => {
      const planes = { plane: mask, out: grown, runs, spare, width: area.side };
      grow(studio.kernels, planes, this.#shrinks ? -radius : radius);
      return studio.scratch.lend(1, (out) => {
        this.readBack(grown, area, spot, studio, out);
        return publishCoverage(out, spot, key, studio);
      });
    };
    return withArea([this.mask], area, studio, 3, growing, (value) => publishSame(value, spot, key, studio));
  }
}

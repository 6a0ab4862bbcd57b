import { z } from 'zod';
import { grow as growPlane } from '../masks/grow.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { AreaNode } from '../render/nodes/areaNode.ts';
import { publishCoverage, publishSame } from '../render/tiles/coverageTile.ts';
import { withArea } from '../render/tiles/neighbourhood.ts';
import type { RenderContext, Spot, TileNode } from '../render/tiles/renderContext.ts';
import { defineRefinement } from './defineRefinement.ts';

/** Covered places become wider, or narrower. */
export const grow = defineRefinement({
  schema: {
    /** By how much; negative shrinks. */
    grow: z.number().min(-100).max(100),
  },
  rest: { grow: 0 },
  isAtRest: (settings) => settings.grow === 0,
  reach: (settings) => Math.abs(settings.grow),
  actsOnAlpha: true,
  build: (node, settings) => new GrowNode(node, settings.grow),
  rows: [{ path: ['grow'], min: -60, max: 60, step: 0.5, unit: 'px', usual: 0 }],
});

/** Largest disc, in pixels of the level it is computed at. */
const WIDEST = 24;
const WIDEST_AT_TOP = 110;

/** A mask whose covered places have grown, or shrunk, by a disc. */
class GrowNode extends AreaNode {
  readonly #shrinks: boolean;

  /** @param by - Scene pixels; negative shrinks. */
  constructor(mask: TileNode, by: number) {
    const reach = Math.abs(by);
    super(keyOf('grow', by), mask, { reach, widest: WIDEST, widestAtTop: WIDEST_AT_TOP, marginOf: (r) => r + 1 });
    this.#shrinks = by < 0;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const area = this.areaOf(spot);
    const radius = this.reachIn(area);
    const growing = (mask: Float32Array, grown: Float32Array, runs: Float32Array, spare: Float32Array) => {
      const planes = { plane: mask, out: grown, runs, spare, width: area.side };
      growPlane(context.kernels, planes, this.#shrinks ? -radius : radius);
      return context.scratch.lend(1, (out) => {
        this.readBack(grown, area, spot, context, out);
        return publishCoverage(out, spot, key, context);
      });
    };
    return withArea([this.mask], area, context, 3, growing, (value) => publishSame(value, spot, key, context));
  }
}

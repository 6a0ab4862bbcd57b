import { z } from 'zod';
import { coreOf } from '../kernels/coreFill.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { AreaNode } from '../render/nodes/areaNode.ts';
import { blurMargin, WIDEST_BLUR_AT_TOP } from '../render/nodes/softenNode.ts';
import { publishSame, publishStored } from '../render/tiles/coverageTile.ts';
import { withArea } from '../render/tiles/neighbourhood.ts';
import { planeOf, type RenderContext, type Spot, type TileNode, withTile } from '../render/tiles/renderContext.ts';
import { defineRefinement } from './defineRefinement.ts';

const CoreFill = z.strictObject({
  amount: z.number().min(0).max(1),
  /** Within how far of it a place must be covered to lie inside. */
  reach: z.number().min(1).max(400),
  /** Mean coverage around from which on a place surely belongs to an area; a third of it counts for nothing. */
  from: z.number().min(0.01).max(1),
});
type CoreFill = z.infer<typeof CoreFill>;

/** The inside becomes full. */
export const coreFill = defineRefinement({
  schema: { coreFill: CoreFill },
  rest: { coreFill: { amount: 0, reach: 40, from: 0.25 } },
  isAtRest: (settings) => settings.coreFill.amount === 0,
  reach: (settings) => 2 * settings.coreFill.reach,
  actsOnAlpha: false,
  build: (node, settings) => new CoreFillNode(node, settings.coreFill),
  rows: [
    { path: ['coreFill', 'amount'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0 },
    {
      path: ['coreFill', 'reach'],
      ...{ min: 1, max: 400, step: 1, unit: 'px', usual: 40, geometric: true, isDetail: true },
    },
    { path: ['coreFill', 'from'], min: 0.01, max: 1, step: 0.01, unit: 'share', usual: 0.25, isDetail: true },
  ],
});

/** Widest blur in pixels of the level it is computed at. What lies inside changes slowly: it is found at a coarse level. */
const WIDEST = 2.5;

/** A mask whose inside is filled while its edge keeps the coverage that it has. */
class CoreFillNode extends AreaNode {
  readonly #amount: number;
  readonly #from: number;

  constructor(mask: TileNode, { amount, reach, from }: CoreFill) {
    super(keyOf('core fill', [amount, reach, from]), mask, {
      reach: reach / 2,
      widest: WIDEST,
      widestAtTop: WIDEST_BLUR_AT_TOP,
      marginOf: blurMargin,
    });
    this.#amount = amount;
    this.#from = from;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return mixKeys(super.keyOver(spot, context), this.mask.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { kernels } = context;
    const area = this.areaOf(spot);
    const { side } = area;
    const sigma = this.reachIn(area);
    const fill = (mean: Float32Array, square: Float32Array, spare: Float32Array) => {
      square.set(mean);
      kernels.joinCoverage('intersect', square, mean);
      kernels.blurPlane(mean, spare, side, side, sigma);
      kernels.blurPlane(square, spare, side, side, sigma);
      kernels.findCore(mean, square, this.#amount, this.#from);
      return context.scratch.lend(1, (core) => {
        this.readBack(mean, area, spot, context, core);
        return withTile(this.mask, spot, context, (tile) => {
          const mask = planeOf(tile, 0, context);
          const join = (samples: Uint16Array) =>
            publishStored(spot, key, context, (out) => kernels.joinSamples('add', samples, core, core, out()));
          return typeof mask === 'number' ? context.scratch.lendSamples((even) => join(even.fill(mask))) : join(mask);
        });
      });
    };
    return withArea([this.mask], area, context, 2, fill, (value) => {
      const core = this.#amount * coreOf(value, value * value, this.#from);
      return publishSame(value + core * (1 - value), spot, key, context);
    });
  }
}

import { coreOf } from '../../kernels/coreFill.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import type { Refinements } from '../../scene/refinements.ts';
import { publishSame, publishStored } from '../tiles/coverageTile.ts';
import { withArea } from '../tiles/neighbourhood.ts';
import { planeOf, type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { AreaNode } from './areaNode.ts';
import { blurMargin, WIDEST_BLUR_AT_TOP } from './softenNode.ts';

/** Widest blur in pixels of the level it is computed at. What lies inside changes slowly: it is found at a coarse level. */
const WIDEST = 2.5;

/** A mask whose inside is filled while its edge keeps the coverage that it has. */
export class CoreFillNode extends AreaNode {
  readonly #amount: number;
  readonly #from: number;

  constructor(mask: TileNode, { amount, reach, from }: Refinements['coreFill']) {
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

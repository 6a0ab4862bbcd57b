import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishCoverage, publishSame } from '../tiles/coverageTile.ts';
import { withArea } from '../tiles/neighbourhood.ts';
import type { RenderContext, Spot, TileNode } from '../tiles/renderContext.ts';
import { AreaNode } from './areaNode.ts';

/** Widest blur, in pixels of the level it is computed at; wider ones are computed at a coarser level. A blur leaves
 * nothing finer than itself, so going down and back costs less than a thousandth of full scale. */
export const WIDEST_BLUR = 12;
/** At the coarsest level a blur may be wider than that, up to what an area holds: the whole picture is a blotch by then. */
export const WIDEST_BLUR_AT_TOP = 30;

export const blurMargin = (sigma: number): number => 4 * sigma + 3;

/** A mask blurred. */
export class SoftenNode extends AreaNode {
  /** @param softness - Standard deviation in scene pixels. */
  constructor(mask: TileNode, softness: number) {
    super(keyOf('soften', softness), mask, {
      reach: softness,
      widest: WIDEST_BLUR,
      widestAtTop: WIDEST_BLUR_AT_TOP,
      marginOf: blurMargin,
    });
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const area = this.areaOf(spot);
    const blur = (wide: Float32Array, spare: Float32Array) => {
      context.kernels.blurPlane(wide, spare, area.side, area.side, this.reachIn(area));
      return context.scratch.lend(1, (out) => {
        this.readBack(wide, area, spot, context, out);
        return publishCoverage(out, spot, key, context);
      });
    };
    return withArea([this.mask], area, context, 1, blur, (value) => publishSame(value, spot, key, context));
  }
}

import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { blurTile } from '../tiles/blurredArea.ts';
import { type Area, areaAround, keyOfArea, withPictureArea } from '../tiles/neighbourhood.ts';
import { halfOf, halvesIn, publishPicture } from '../tiles/pictureTile.ts';
import type { RenderContext, Spot, TileNode } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';
import { RoundedNode } from './roundedNode.ts';
import { blurMargin, WIDEST_BLUR_AT_TOP } from './softenNode.ts';

/** Widest blur, in pixels of the level that it is computed at: read between pixels at least four of which are one deviation, the edge of
 * something is right to two thousandths of its height. */
const WIDEST = 8;

/** A picture blurred, encoded values as they are; wide blurs are computed at a coarser level, as those of masks. */
export class BlurredNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #radius: number;

  /** @param radius - Standard deviation, in scene pixels. */
  constructor(source: TileNode, radius: number) {
    const rounded = new RoundedNode(source);
    super(keyOf('blurred', radius), [rounded]);
    this.#source = rounded;
    this.#radius = radius;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return mixKeys(keyOfArea(this.seed, this.#source, this.#areaOf(spot), context));
  }

  #areaOf(spot: Spot): Area {
    return areaAround(spot, this.extent.size, this.#radius, WIDEST, (length) =>
      blurMargin(Math.min(WIDEST_BLUR_AT_TOP, length)),
    );
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const area = this.#areaOf(spot);
    const sigmaPx = Math.min(WIDEST_BLUR_AT_TOP, this.#radius / 2 ** area.level);
    return withPictureArea(this.#source, area, context, 2, (red, green, blue, ...spares) =>
      publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) => {
        const halves = halvesIn(slots).map((which) => halfOf({ slots }, which, context));
        for (const [channel, plane] of [red, green, blue].entries()) {
          const outs = halves.map((half) => half[channel]);
          blurTile(plane, [spares[0], spares[1]], { area, spot, sigmaPx, unit: 65535 }, outs, context);
        }
      }),
    );
  }
}

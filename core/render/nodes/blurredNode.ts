import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { type Area, areaAround, keyOfArea, placeIn, wantedIn, withArea } from '../tiles/neighbourhood.ts';
import { publishPicture, writeFloats } from '../tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withWanted } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';
import { RoundedNode } from './roundedNode.ts';
import { blurMargin, WIDEST_BLUR, WIDEST_BLUR_AT_TOP } from './softenNode.ts';

const PLANES = [0, 1, 2] as const;

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
    return areaAround(spot, this.extent.size, this.#radius, WIDEST_BLUR, (length) =>
      blurMargin(Math.min(WIDEST_BLUR_AT_TOP, length)),
    );
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const area = this.#areaOf(spot);
    const { side } = area;
    const sigma = Math.min(WIDEST_BLUR_AT_TOP, this.#radius / 2 ** area.level);
    const { step, x, y } = placeIn(area, spot);
    return withWanted(wantedIn(this.#source, area), context, () =>
      context.scratch.lend(3, (...planes) => {
        for (const plane of PLANES) {
          const out = planes[plane];
          const blur = (wide: Float32Array, spare: Float32Array) => {
            context.kernels.blurPlane(wide, spare, side, side, sigma);
            context.kernels.enlarge(wide, side, x, y, step, out);
          };
          withArea([this.#source], area, context, 1, blur, (value) => void out.fill(value), plane);
        }
        const [red, green, blue] = planes;
        return publishPicture(spot, key, context, { form: 'floats', isTransient: false }, (slots) =>
          writeFloats([red, green, blue], slots, context, 65535),
        );
      }),
    );
  }
}

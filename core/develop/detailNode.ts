import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { AreaNode } from '../render/nodes/areaNode.ts';
import { blurMargin, WIDEST_BLUR, WIDEST_BLUR_AT_TOP } from '../render/nodes/softenNode.ts';
import { blurTile } from '../render/tiles/blurredArea.ts';
import { widenTile } from '../render/tiles/coverageTile.ts';
import { wantedIn, withArea } from '../render/tiles/neighbourhood.ts';
import { publishPicture, writeFloats } from '../render/tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withWanted } from '../render/tiles/renderContext.ts';
import { ChannelNode } from './channelNode.ts';

/** Blurs that are narrower at a level leave nothing of detail there. */
const NARROWEST = 0.2;
/** Middle grey, encoded. */
const MIDDLE = 32767.5;

/** Encoded brightness less a blurred copy of itself, on middle grey: an even picture is even grey. */
export class DetailNode extends AreaNode {
  readonly #radius: number;
  readonly #amount: number;

  /** @param radius - Standard deviation of the blur, in scene pixels.
   * @param amount - Times which the difference is taken. */
  constructor(source: TileNode, radius: number, amount: number) {
    super(keyOf('detail', [radius, amount]), new ChannelNode(source, 'brightness'), {
      reach: radius,
      widest: WIDEST_BLUR,
      widestAtTop: WIDEST_BLUR_AT_TOP,
      marginOf: blurMargin,
    });
    this.#radius = radius;
    this.#amount = amount;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return mixKeys(super.keyOver(spot, context), this.mask.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const publish = (grey: Float32Array) =>
      publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
        writeFloats([grey, grey, grey], slots, context),
      );
    if (this.#radius / 2 ** spot.level < NARROWEST)
      return context.scratch.lend(1, (grey) => publish(grey.fill(MIDDLE)));
    const wanted = [{ node: this.mask, spot }, ...wantedIn(this.mask, this.areaOf(spot))];
    return withWanted(wanted, context, ([tile]) =>
      context.scratch.lend(2, (grey, blurred) => {
        this.#findDetail(tile, grey, blurred, spot, context);
        return publish(grey);
      }),
    );
  }

  #findDetail(tile: PinnedTile, grey: Float32Array, blurred: Float32Array, spot: Spot, context: RenderContext): void {
    const area = this.areaOf(spot);
    const blur = (wide: Float32Array, ...spares: Float32Array[]) => {
      const sigmaPx = this.reachIn(area);
      blurTile(wide, [spares[0], spares[1]], { area, spot, sigmaPx }, [blurred], context);
      widenTile(tile, context, grey);
      context.kernels.awayFrom(grey, blurred, 65535 * this.#amount, MIDDLE);
    };
    withArea([this.mask], area, context, 2, blur, () => void grey.fill(MIDDLE));
  }
}

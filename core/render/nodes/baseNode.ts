import { TONE_SPAN } from '../../color/toneCodes.ts';
import { findBase } from '../../kernels/edgeBase.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { Sight } from '../tiles/contentKeys.ts';
import { type Area, areaAround, withArea } from '../tiles/neighbourhood.ts';
import { type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';
import { publishByLines, publishEven } from './tonesByLines.ts';

/** Widest windows each way, in pixels of the level that lines are found at. */
const WIDEST = 8;
const WIDEST_AT_TOP = 56;
const marginOf = (radius: number): number => 2 * Math.min(WIDEST_AT_TOP, Math.max(1, radius)) + 2;
/** Contrast in stops of which half counts as detail. */
const CONTRAST = 0.25;

/** Tones without their detail, whose edges stay, as one plane of tone codes. Lines are found at a level where windows are small
 * and laid over the tones of the level asked for (He and Sun 2015, "Fast guided filter"). */
export class BaseNode extends DerivedNode {
  override readonly looks: boolean = this.fixedKey === undefined;
  readonly #stops: TileNode;
  readonly #radius: number;
  readonly #sight: Sight;

  /** @param stops - Tone codes, see `StopsNode`.
   * @param radius - Of the windows, in scene pixels. */
  constructor(stops: TileNode, radius: number) {
    super(keyOf('base', radius), [stops]);
    this.#stops = stops;
    this.#radius = radius;
    this.#sight = new Sight(stops, `base ${radius}`, (spot) => this.#areaOf(spot), true);
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return this.#sight.keyAt(this.seed, spot, context);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const area = this.#areaOf(spot);
    const { side } = area;
    const radius = Math.min(WIDEST_AT_TOP, Math.max(1, Math.round(this.#radius / 2 ** area.level)));
    const find = (of: PinnedTile, ...[tones, slope, offset, a, b, c]: Float32Array[]) => {
      findBase(
        { tones, slope, offset, spare: [a, b, c], width: side, height: side },
        radius,
        CONTRAST / TONE_SPAN,
        context.kernels,
      );
      return publishByLines({ slope, offset }, area, of, spot, key, context);
    };
    const even = (value: number) => publishEven(value, spot, key, context);
    return withTile(this.#stops, spot, context, (of) =>
      withArea([this.#stops], area, context, 5, (...planes) => find(of, ...planes), even),
    );
  }

  #areaOf(spot: Spot): Area {
    return areaAround(spot, this.extent.size, this.#radius, WIDEST, marginOf);
  }
}

import { TONE_SPAN } from '../../color/toneCodes.ts';
import { findBase } from '../../kernels/edgeBase.ts';
import { TILE } from '../../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { type Area, areaAround, keyOfArea, placeIn, withArea } from '../tiles/neighbourhood.ts';
import {
  keepBriefly,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  withTile,
} from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

/** Widest windows each way, in pixels of the level that lines are found at. */
const WIDEST = 8;
const WIDEST_AT_TOP = 56;
const marginOf = (radius: number): number => 2 * Math.min(WIDEST_AT_TOP, Math.max(1, radius)) + 2;
/** Contrast in stops of which half counts as detail. */
const CONTRAST = 0.25;

/** Tones without their detail, whose edges stay, as one plane of tone codes. Lines are found at a level where windows are small
 * and laid over the tones of the level asked for (He and Sun 2015, "Fast guided filter"). */
export class BaseNode extends DerivedNode {
  readonly #stops: TileNode;
  readonly #radius: number;

  /** @param stops - Tone codes, see `StopsNode`.
   * @param radius - Of the windows, in scene pixels. */
  constructor(stops: TileNode, radius: number) {
    super(keyOf('base', radius), [stops]);
    this.#stops = stops;
    this.#radius = radius;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return mixKeys(keyOfArea(this.seed, this.#stops, this.#areaOf(spot), context), this.#stops.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const area = this.#areaOf(spot);
    const { side } = area;
    const radius = Math.min(WIDEST_AT_TOP, Math.max(1, Math.round(this.#radius / 2 ** area.level)));
    const find = (...[tones, slope, offset, a, b, c]: Float32Array[]) => {
      findBase(
        { tones, slope, offset, spare: [a, b, c], width: side, height: side },
        radius,
        CONTRAST / TONE_SPAN,
        context.kernels,
      );
      const { step, x, y } = placeIn(area, spot);
      const first = x + y * side;
      if (step === 1) return this.#apply(slope.subarray(first), offset.subarray(first), side, spot, key, context);
      return context.scratch.lend(2, (fineSlope, fineOffset) => {
        context.kernels.enlarge(slope, side, x, y, step, fineSlope);
        context.kernels.enlarge(offset, side, x, y, step, fineOffset);
        return this.#apply(fineSlope, fineOffset, TILE, spot, key, context);
      });
    };
    return withArea([this.#stops], area, context, 5, find, (value) => {
      const slots = reserveOrFail(context, 1);
      context.table.slab.plane(slots[0]).fill(Math.round(value * 65535));
      return keepBriefly(context, key, spot, { form: 'planes', slots });
    });
  }

  /** @param stride - Samples from row to row of slopes and offsets. */
  #apply(
    slope: Float32Array,
    offset: Float32Array,
    stride: number,
    spot: Spot,
    key: NodeKey,
    context: RenderContext,
  ): PinnedTile {
    const slots = withTile(this.#stops, spot, context, (tile) => {
      const tones = planeOf(tile, 0, context);
      const made = reserveOrFail(context, 1);
      const out = context.table.slab.plane(made[0]);
      for (let y = 0, i = 0; y < TILE; y++)
        for (let x = 0, at = y * stride; x < TILE; x++, i++, at++) {
          const tone = typeof tones === 'number' ? tones : tones[i];
          const base = slope[at] * tone + offset[at] * 65535;
          out[i] = base < 0 ? 0 : base > 65535 ? 65535 : base + 0.5;
        }
      return made;
    });
    return keepBriefly(context, key, spot, { form: 'planes', slots });
  }

  #areaOf(spot: Spot): Area {
    return areaAround(spot, this.extent.size, this.#radius, WIDEST, marginOf);
  }
}

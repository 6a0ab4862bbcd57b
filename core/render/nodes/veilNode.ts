import { TILE } from '../../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { type Area, areaAround, keyOfArea, placeIn, withArea } from '../tiles/neighbourhood.ts';
import { readLight } from '../tiles/pictureTile.ts';
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

/** Half the windows whose darkest channel counts, as a share of the picture's longest side, and windows of the fit for one of those
 * (He, Sun and Tang 2009 take 15 pixels of 600; 2010, "Guided image filtering", fit with four times as many). */
const SHARE = 0.0117;
const FIT = 3;
/** Widest darkest window each way, in pixels of the level that thickness is found at. */
const WIDEST = 4;
const WIDEST_AT_TOP = 16;
/** Contrast of tones, of their whole span, from which on edges part the thin from the thick. */
const CONTRAST = 0.02;
const marginOf = (radius: number): number => (2 * FIT + 1) * Math.min(WIDEST_AT_TOP, Math.max(1, radius)) + 2;

/** The darkest channel of each pixel against the veil, as one plane, 0..1. */
class DarkestNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #veil: readonly [number, number, number];

  constructor(source: TileNode, veil: readonly [number, number, number]) {
    super(keyOf('darkest', veil), [source]);
    this.#source = source;
    this.#veil = veil;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { scratch, table } = context;
    const [r, g, b] = this.#veil.map((light) => 65535 / light);
    const slots = withTile(this.#source, spot, context, (tile) =>
      scratch.lend(3, (red, green, blue) => {
        readLight(tile, [red, green, blue], context);
        const made = reserveOrFail(context, 1);
        const out = table.slab.plane(made[0]);
        for (let i = 0; i < out.length; i++) {
          const least = Math.min(r * red[i], g * green[i], b * blue[i]);
          out[i] = least < 0 ? 0 : Math.min(65535, least + 0.5);
        }
        return made;
      }),
    );
    // Neighbours look at it as well, also where nothing is drawn.
    return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
  }
}

/** How thick a veil lies, as one plane, 0..1: the darkest channel around a place, fitted to the picture's edges (He, Sun and Tang
 * 2009, "Single image haze removal using dark channel prior"; refined as in their "Guided image filtering", 2010). */
export class VeilNode extends DerivedNode {
  readonly #darkest: TileNode;
  readonly #tones: TileNode;

  /** @param tones - Tone codes of the picture, see `StopsNode`. */
  constructor(source: TileNode, tones: TileNode, veil: readonly [number, number, number]) {
    const darkest = new DarkestNode(source, veil);
    super(keyOf('veil', []), [darkest, tones]);
    this.#darkest = darkest;
    this.#tones = tones;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const area = this.#areaOf(spot);
    const darkest = keyOfArea(this.seed, this.#darkest, area, context);
    return mixKeys(keyOfArea(darkest, this.#tones, area, context), this.#tones.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { kernels, scratch } = context;
    const area = this.#areaOf(spot);
    const { side } = area;
    const radius = Math.min(WIDEST_AT_TOP, Math.max(1, Math.round(this.#reach / 2 ** area.level)));
    const find = (...[mask, guide, slope, offset, a, b, c]: Float32Array[]) => {
      leastAround(mask, slope, side, radius);
      const planes = { mask, guide, slope, offset, spare: [a, b, c] as const, width: side, height: side };
      kernels.fitGuided(planes, FIT * radius, CONTRAST ** 2);
      const { step, x, y } = placeIn(area, spot);
      return scratch.lend(2, (fineSlope, fineOffset) => {
        kernels.enlarge(slope, side, x, y, step, fineSlope);
        kernels.enlarge(offset, side, x, y, step, fineOffset);
        return this.#apply(fineSlope, fineOffset, spot, key, context);
      });
    };
    return withArea([this.#darkest, this.#tones], area, context, 5, find, (value) => {
      const slots = reserveOrFail(context, 1);
      context.table.slab.plane(slots[0]).fill(Math.round(value * 65535));
      return keepBriefly(context, key, spot, { form: 'planes', slots });
    });
  }

  #apply(slope: Float32Array, offset: Float32Array, spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const slots = withTile(this.#tones, spot, context, (tile) => {
      const tones = planeOf(tile, 0, context);
      const made = reserveOrFail(context, 1);
      const out = context.table.slab.plane(made[0]);
      for (let i = 0; i < TILE * TILE; i++) {
        const thick = slope[i] * (typeof tones === 'number' ? tones : tones[i]) + offset[i] * 65535;
        out[i] = thick < 0 ? 0 : Math.min(65535, thick + 0.5);
      }
      return made;
    });
    return keepBriefly(context, key, spot, { form: 'planes', slots });
  }

  get #reach(): number {
    return SHARE * Math.max(this.extent.size.width, this.extent.size.height);
  }

  #areaOf(spot: Spot): Area {
    return areaAround(spot, this.extent.size, this.#reach, WIDEST, marginOf);
  }
}

/** The least of a square around every sample, in place.
 * @param spare - Scratch of the same length. */
function leastAround(plane: Float32Array, spare: Float32Array, side: number, radius: number): void {
  const along = (from: Float32Array, to: Float32Array, step: number, line: number) => {
    for (let row = 0; row < side; row++)
      for (let i = 0; i < side; i++) {
        let least = Number.POSITIVE_INFINITY;
        const last = Math.min(side - 1, i + radius);
        for (let k = Math.max(0, i - radius); k <= last; k++) least = Math.min(least, from[row * line + k * step]);
        to[row * line + i * step] = least;
      }
  };
  along(plane, spare, 1, side);
  along(spare, plane, side, 1);
}

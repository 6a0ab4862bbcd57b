import { coreOf } from '../../kernels/coreFill.ts';
import { smoothstep } from '../../kernels/smoothstep.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishCoverage, publishSame } from '../tiles/coverageTile.ts';
import { type Area, areaAround, keyOfArea, wantedIn, withArea } from '../tiles/neighbourhood.ts';
import type { RenderContext, Spot, TileNode, Wanted } from '../tiles/renderContext.ts';
import { AreaNode } from './areaNode.ts';
import { blurMargin, WIDEST_BLUR_AT_TOP } from './softenNode.ts';

/** The areas of a picture that are weighed against each other lie within this share of its longer side (standard deviation). */
const AROUND = 1 / 8;
/** Least share of the picture that tells of light inside or outside; and how much the whole picture counts beside what lies near, so that
 * it decides where nothing does. */
const LEAST = 1e-3;
/** Difference of tones from which on one of two areas is the darker one, and where that is beyond doubt. */
const ALIKE = 0.02;
const APART = 0.06;
/** Of the way to the light outside: what is filled stays below it. */
const SHORT_OF = 0.96;

/** What order is kept between. */
interface Tones {
  /** What lies below the layer, one plane of tones. */
  below: TileNode;
  /** What the layer shows. */
  layer: TileNode;
}

/** What the inside of covered areas is filled up to, so that what was darker than its surroundings does not become brighter than
 * they are, nor the reverse. Areas are weighed in their means, within a wide distance: what lies in them keeps its own contrast. */
export class OrderNode extends AreaNode {
  readonly #tones: Tones;
  readonly #core: { reach: number; from: number };

  /** @param core - How the inside is found, as in core fill. */
  constructor(mask: TileNode, tones: Tones, core: { reach: number; from: number }) {
    const { width, height } = mask.extent.size;
    super(keyOf('order', [core.reach, core.from]), mask, {
      reach: Math.max(width, height) * AROUND,
      widest: WIDEST_BLUR_AT_TOP,
      widestAtTop: WIDEST_BLUR_AT_TOP,
      marginOf: blurMargin,
    });
    this.#tones = tones;
    this.#core = core;
  }

  /** Light changes slowly from area to area: it is found at the coarsest level only, and read from there. */
  static areaFor(spot: Spot, { size }: TileNode['extent']): Area {
    return areaAround(spot, size, Math.max(size.width, size.height), 1, () => 1);
  }

  /** The tiles that {@link readLimits} reads from. */
  wantedFor(spot: Spot): Wanted[] {
    return wantedIn(this, OrderNode.areaFor(spot, this.extent));
  }

  /** Reads the limits of a tile.
   * @param out - A tile plane, 0..1; overwritten. */
  readLimits(spot: Spot, context: RenderContext, out: Float32Array): void {
    const area = OrderNode.areaFor(spot, this.extent);
    const read = (plane: Float32Array) => this.readBack(plane, area, spot, context, out);
    withArea([this], area, context, 0, read, (value) => void out.fill(value));
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const area = this.areaOf(spot);
    const { below, layer } = this.#tones;
    return mixKeys(
      super.keyOver(spot, context),
      keyOfArea(this.seed, below, area, context),
      keyOfArea(this.seed, layer, area, context),
    );
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { kernels } = context;
    const area = this.areaOf(spot);
    const { side } = area;
    const limit = (...[mask, below, layer, inside, outside, light, spare]: Float32Array[]) => {
      const blur = (plane: Float32Array, sigma: number) => kernels.blurPlane(plane, spare, side, side, sigma);
      this.#findInside(mask, inside, light, blur, area);
      for (let i = 0; i < mask.length; i++) {
        const shown = below[i] + mask[i] * (layer[i] - below[i]);
        outside[i] = (1 - inside[i]) * (1 - mask[i]) ** 2;
        light[i] = outside[i] * shown;
        for (const plane of [below, layer, mask]) plane[i] *= inside[i];
      }
      const weighed = [inside, outside, light, below, layer, mask];
      const whole = weighed.map(meanOf);
      for (const plane of weighed) blur(plane, this.reachIn(area));
      const isOne = whole[0] < LEAST || whole[1] < LEAST;
      for (let i = 0; i < mask.length; i++) {
        if (isOne) mask[i] = 1;
        else {
          const within = inside[i] + LEAST * whole[0];
          const around = (light[i] + LEAST * whole[2]) / (outside[i] + LEAST * whole[1]);
          const most = limitOf((below[i] + LEAST * whole[3]) / within, (layer[i] + LEAST * whole[4]) / within, around);
          mask[i] = Math.max(most, (mask[i] + LEAST * whole[5]) / within);
        }
      }
      return context.scratch.lend(1, (out) => {
        this.readBack(mask, area, spot, context, out);
        return publishCoverage(out, spot, key, context);
      });
    };
    const { below, layer } = this.#tones;
    // Without an inside and an outside there is no order between them.
    return withArea([this.mask, below, layer], area, context, 4, limit, () => publishSame(1, spot, key, context));
  }

  /** How far inside a covered area places lie. */
  #findInside(
    mask: Float32Array,
    inside: Float32Array,
    square: Float32Array,
    blur: (plane: Float32Array, sigma: number) => void,
    { level }: Area,
  ): void {
    for (let i = 0; i < mask.length; i++) square[i] = mask[i] ** 2;
    inside.set(mask);
    const sigma = Math.max(1, this.#core.reach / 2 / 2 ** level);
    for (const plane of [inside, square]) blur(plane, sigma);
    for (let i = 0; i < inside.length; i++) inside[i] = coreOf(inside[i], square[i], this.#core.from);
  }
}

const meanOf = (plane: Float32Array): number => plane.reduce((sum, value) => sum + value, 0) / plane.length;

/** The coverage at which an area shows as much light as its surroundings do.
 * @param below - Mean tone of the area below the layer, 0..1.
 * @param layer - Mean tone of what the layer shows there.
 * @param outside - Mean tone of the surroundings. */
export function limitOf(below: number, layer: number, outside: number): number {
  const [rise, room] = [layer - below, outside - below];
  // Away from the light outside, or not far enough to reach it.
  if (rise * room <= 0 || Math.abs(rise) <= Math.abs(room) * SHORT_OF) return 1;
  const isOrdered = smoothstep((Math.abs(room) - ALIKE) / (APART - ALIKE));
  return 1 - isOrdered * (1 - (room * SHORT_OF) / rise);
}

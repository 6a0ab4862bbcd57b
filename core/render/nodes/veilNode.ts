import type { RgbFloats } from '../../kernels/planes.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { Sight } from '../tiles/contentKeys.ts';
import { type Area, areaAround, withArea } from '../tiles/neighbourhood.ts';
import { type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';
import { OfLight } from './ofLight.ts';
import { publishByLines, publishEven } from './tonesByLines.ts';

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
class DarkestNode extends OfLight {
  readonly #veil: readonly [number, number, number];

  constructor(source: TileNode, veil: readonly [number, number, number]) {
    super(keyOf('darkest', veil), source);
    this.#veil = veil;
  }

  protected override write(light: RgbFloats, out: Uint16Array, { kernels }: RenderContext): void {
    const [red, green, blue] = this.#veil;
    kernels.leastOfLight(light, [65535 / red, 65535 / green, 65535 / blue], out);
  }
}

/** How thick a veil lies, as one plane, 0..1: the darkest channel around a place, fitted to the picture's edges (He, Sun and Tang
 * 2009, "Single image haze removal using dark channel prior"; refined as in their "Guided image filtering", 2010). */
export class VeilNode extends DerivedNode {
  override readonly looks: boolean = this.fixedKey === undefined;
  readonly #darkest: TileNode;
  readonly #tones: TileNode;
  readonly #darkestSeen: Sight;
  readonly #tonesSeen: Sight;

  /** @param tones - Tone codes of the picture, see `StopsNode`. */
  constructor(source: TileNode, tones: TileNode, veil: readonly [number, number, number]) {
    const darkest = new DarkestNode(source, veil);
    super(keyOf('veil', []), [darkest, tones]);
    this.#darkest = darkest;
    this.#tones = tones;
    const areaOf = (spot: Spot) => this.#areaOf(spot);
    this.#darkestSeen = new Sight(darkest, 'veil', areaOf, false);
    this.#tonesSeen = new Sight(tones, 'veil', areaOf, true);
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return this.#tonesSeen.keyAt(this.#darkestSeen.keyAt(this.seed, spot, context), spot, context);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { kernels } = context;
    const area = this.#areaOf(spot);
    const { side } = area;
    const radius = Math.min(WIDEST_AT_TOP, Math.max(1, Math.round(this.#reach / 2 ** area.level)));
    const find = (tones: PinnedTile, ...[mask, guide, slope, offset, a, b, c]: Float32Array[]) => {
      kernels.leastAround(mask, slope, side, side, radius);
      const planes = { mask, guide, slope, offset, spare: [a, b, c] as const, width: side, height: side };
      kernels.fitGuided(planes, FIT * radius, CONTRAST ** 2, true);
      return publishByLines({ slope, offset }, area, tones, spot, key, context);
    };
    const even = (value: number) => publishEven(value, spot, key, context);
    return withTile(this.#tones, spot, context, (tones) =>
      withArea([this.#darkest, this.#tones], area, context, 5, (...planes) => find(tones, ...planes), even),
    );
  }

  get #reach(): number {
    return SHARE * Math.max(this.extent.size.width, this.extent.size.height);
  }

  #areaOf(spot: Spot): Area {
    return areaAround(spot, this.extent.size, this.#reach, WIDEST, marginOf);
  }
}

import { lmsMatrix } from '../color/oklab.ts';
import type { WorkingSpace } from '../color/workingSpace.ts';
import { HUE_KNOTS, hueKnot, hueOfKnot } from '../kernels/hueKnots.ts';
import type { RgbFloats } from '../kernels/planes.ts';
import { smoothstep } from '../kernels/smoothstep.ts';
import { hueWindow } from '../masks/rangeWindow.ts';
import { onFirstUse } from '../onFirstUse.ts';
import { invert3 } from '../raster/matrix3.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { type Area, areaAround, keyOfArea, placeIn, wantedIn, withArea } from '../render/tiles/neighbourhood.ts';
import { publishPicture, readEncoded, readLight, writeFloats, writeLight } from '../render/tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withWanted } from '../render/tiles/renderContext.ts';
import { ChannelNode } from './channelNode.ts';

/** Lines of some hues. */
export interface Lines {
  amount: number;
  centre: number;
  width: number;
}

/** Degrees over which a range of hues ends. */
const SHOULDER = 20;
/** Contrast around a place, of encoded brightness, from which on it lies at a hard edge, and at which it surely does. */
const EDGE = 0.15;
const SURE_EDGE = 0.4;
/** Colours of so little chroma are no lines. */
const HUELESS = 0.03;
/** Windows that are narrower than this many pixels at a level hold no line any more. */
const NARROWEST = 0.4;

/** A picture whose lines of some hues are grey where they lie at hard edges: chroma goes, lightness stays (common practice, no source). */
export class FringeNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #brightness: TileNode;
  readonly #reach: number;
  readonly #space: WorkingSpace;
  /** Share of chroma that a hue loses at an edge. */
  readonly #lost: () => Float64Array;

  /** @param reach - From an edge, in pixels of the frame. */
  constructor(source: TileNode, lines: readonly Lines[], reach: number, space: WorkingSpace) {
    const brightness = new ChannelNode(source, 'brightness');
    super(keyOf('fringes', [lines, reach, space]), [source, brightness]);
    this.#source = source;
    this.#brightness = brightness;
    this.#reach = reach;
    this.#space = space;
    const lostAt = (hue: number) =>
      lines.reduce((all, each) => all + each.amount * hueWindow({ ...each, shoulder: SHOULDER }, hue), 0);
    this.#lost = onFirstUse(() =>
      Float64Array.from({ length: HUE_KNOTS }, (_, knot) => Math.min(1, lostAt(hueOfKnot(knot)))),
    );
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const around = keyOfArea(this.seed, this.#brightness, this.#areaOf(spot), context);
    return mixKeys(around, this.#source.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const around = this.#isTooNarrowAt(spot) ? [] : wantedIn(this.#brightness, this.#areaOf(spot));
    return withWanted([{ node: this.#source, spot }, ...around], context, ([tile]) =>
      context.scratch.lend(4, (edges, red, green, blue) => {
        const hasEdges = this.#findEdges(edges, spot, context);
        const planes: RgbFloats = [red, green, blue];
        if (!hasEdges) readEncoded(tile, planes, context);
        else {
          readLight(tile, planes, context);
          this.#takeColour(edges, planes, context);
        }
        const write = hasEdges ? writeLight : writeFloats;
        return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
          write(planes, slots, context),
        );
      }),
    );
  }

  #takeColour(edges: Float32Array, [l, a, b]: RgbFloats, { kernels }: RenderContext): void {
    const toLms = lmsMatrix(this.#space);
    const lostOf = this.#lost();
    kernels.toOklab(l, a, b, toLms);
    for (let i = 0; i < edges.length; i++) {
      if (edges[i] === 0) continue;
      const lost = lostOf[Math.round(hueKnot(a[i], b[i]))];
      if (lost === 0) continue;
      const kept = 1 - lost * edges[i] * smoothstep(Math.hypot(a[i], b[i]) / HUELESS);
      a[i] *= kept;
      b[i] *= kept;
    }
    kernels.fromOklab(l, a, b, invert3(toLms));
  }

  /** Whether windows are too narrow at a level to hold a line. */
  #isTooNarrowAt({ level }: Spot): boolean {
    return this.#reach / 2 ** level < NARROWEST;
  }

  /** How far each place lies at a hard edge, 0..1.
   * @returns Whether any does. */
  #findEdges(out: Float32Array, spot: Spot, context: RenderContext): boolean {
    if (this.#isTooNarrowAt(spot)) return false;
    const reach = this.#reach / 2 ** spot.level;
    const area = this.#areaOf(spot);
    const { side } = area;
    const radius = Math.max(1, Math.round(reach));
    const find = (...[least, most, spare]: Float32Array[]) => {
      const count = side * side;
      for (let i = 0; i < count; i++) most[i] = -least[i];
      context.kernels.leastAround(least, spare, side, side, radius);
      context.kernels.leastAround(most, spare, side, side, radius);
      const { x, y } = placeIn(area, spot);
      let any = false;
      for (let row = 0, i = 0; row < TILE; row++)
        for (let at = x + (y + row) * side, end = at + TILE; at < end; at++, i++) {
          out[i] = smoothstep((-most[at] - least[at] - EDGE) / (SURE_EDGE - EDGE));
          any ||= out[i] > 0;
        }
      return any;
    };
    return withArea([this.#brightness], area, context, 2, find, () => false);
  }

  /** At the level that is drawn, whatever it is. */
  #areaOf(spot: Spot): Area {
    const radius = Math.max(1, Math.round(this.#reach / 2 ** spot.level));
    return areaAround(spot, this.extent.size, 2 ** spot.level, 1, () => radius + 1);
  }
}

import { z } from 'zod';
import { Source } from '../masks/source.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { publishSame, publishStored } from '../render/tiles/coverageTile.ts';
import { areaAround, evenOf, keyOfArea, placeIn, wantedIn, withArea } from '../render/tiles/neighbourhood.ts';
import {
  planeOf,
  type RenderContext,
  type Spot,
  type TileNode,
  withTile,
  withWanted,
} from '../render/tiles/renderContext.ts';
import { defineRefinement } from './defineRefinement.ts';

const EdgeFit = z.strictObject({
  guide: Source,
  /** Of the windows around a place; 0 does nothing. */
  radius: z.number().min(0).max(200),
  /** Contrast (standard deviation of the tones) below which an edge counts as none. */
  contrast: z.number().min(0.002).max(0.5),
});
type EdgeFit = z.infer<typeof EdgeFit>;

/** Coverage is fitted to the edges of a picture. */
export const edgeFit = defineRefinement({
  schema: { edgeFit: EdgeFit },
  rest: { edgeFit: { guide: 'base', radius: 0, contrast: 0.05 } },
  isAtRest: (settings) => settings.edgeFit.radius === 0,
  reach: (settings) => 2 * settings.edgeFit.radius,
  sources: (settings) => [settings.edgeFit.guide],
  actsOnAlpha: true,
  build: (node, settings, tools) => new EdgeFitNode(node, tools.tones(settings.edgeFit.guide), settings.edgeFit),
  rows: [
    { path: ['edgeFit', 'radius'], min: 0, max: 120, step: 1, unit: 'px', usual: 0 },
    {
      path: ['edgeFit', 'contrast'],
      ...{ min: 0.002, max: 0.3, step: 0.001, unit: 'share', usual: 0.05, geometric: true, isDetail: true },
    },
  ],
});

/** Widest window each way, in pixels of the level that the lines are found at. */
const WIDEST = 6;
const WIDEST_AT_TOP = 56;

/** A window is looked at around a place, and the windows around that. */
const marginOf = (radius: number): number => 2 * Math.min(WIDEST_AT_TOP, Math.max(1, radius)) + 2;

/** A mask fitted to the edges of a picture. The lines are found at a level where the windows are small and laid over the tones of
 * the level asked for (He, Sun and Tang 2010, "Guided image filtering"; He and Sun 2015, "Fast guided filter"). */
class EdgeFitNode extends DerivedNode {
  readonly #mask: TileNode;
  readonly #guide: TileNode;
  readonly #fit: EdgeFit;

  /** @param guide - Tones, one plane. */
  constructor(mask: TileNode, guide: TileNode, fit: EdgeFit) {
    super(keyOf('edge fit', [fit.radius, fit.contrast]), [mask, guide]);
    this.#mask = mask;
    this.#guide = guide;
    this.#fit = fit;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const area = this.#areaOf(spot);
    const mask = keyOfArea(this.seed, this.#mask, area, context);
    return mixKeys(keyOfArea(mask, this.#guide, area, context), this.#guide.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { kernels } = context;
    const area = this.#areaOf(spot);
    const { side } = area;
    const radius = Math.min(WIDEST_AT_TOP, Math.max(1, Math.round(this.#fit.radius / 2 ** area.level)));
    const fitted = (tones: PinnedTile, ...[mask, guide, slope, offset, a, b, c]: Float32Array[]) => {
      const planes = { mask, guide, slope, offset, spare: [a, b, c] as const, width: side, height: side };
      kernels.fitGuided(planes, radius, this.#fit.contrast ** 2);
      const { step, x, y } = placeIn(area, spot);
      const apply = (a: Float32Array, b: Float32Array, stride: number) =>
        publishStored(spot, key, context, (out) =>
          kernels.applyGuided(a, b, stride, planeOf(tones, 0, context), out()),
        );
      const first = x + y * side;
      if (step === 1) return apply(slope.subarray(first), offset.subarray(first), side);
      return context.scratch.lend(2, (fineSlope, fineOffset) => {
        kernels.enlarge(slope, side, x, y, step, fineSlope);
        kernels.enlarge(offset, side, x, y, step, fineOffset);
        return apply(fineSlope, fineOffset, TILE);
      });
    };
    // What is the same on both sides of an edge needs no fitting.
    const same = (value: number) => publishSame(value, spot, key, context);
    return withWanted(wantedIn(this.#mask, area), context, (tiles) => {
      const even = evenOf(tiles);
      if (even !== undefined) return same(even / 65535);
      return withTile(this.#guide, spot, context, (tones) =>
        withArea([this.#mask, this.#guide], area, context, 5, (...planes) => fitted(tones, ...planes), same),
      );
    });
  }

  #areaOf(spot: Spot) {
    return areaAround(spot, this.extent.size, this.#fit.radius, WIDEST, marginOf);
  }
}

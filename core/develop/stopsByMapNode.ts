import { ENCODING, type EncodedRun } from '../color/encodedSteps.ts';
import { lmsMatrix } from '../color/oklab.ts';
import type { WorkingSpace } from '../color/workingSpace.ts';
import { LIGHTNESS_KNOTS, lightnessOfKnot, type MappedPowers } from '../kernels/stopsByMap.ts';
import { onFirstUse } from '../onFirstUse.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { layEncoded, layLight } from '../render/tiles/changeTile.ts';
import { type Half, halfMask, publishPicture, readLight } from '../render/tiles/pictureTile.ts';
import {
  type Overlaid,
  type Publish,
  planeOf,
  type RenderContext,
  type Spot,
  type TileNode,
  tileOf,
  withTile,
} from '../render/tiles/renderContext.ts';

export interface MappedStops {
  /** What the settings follow from. */
  name: readonly unknown[];
  /** Stops of a code of the map, 0..65535. */
  stopsOf: (code: number) => number;
  /** How much of them is done at a lightness. */
  shareOf: (lightness: number) => number;
  /** The code that changes nothing. */
  rest: number;
  /** How far colour grows with lightness, 0..1: not at all, or as it does when exposed longer. */
  saturation: number;
  space: WorkingSpace;
}

const NO_BASES = new Map();

/** The codes of a map that stops are tabled for. */
const MAP_KNOTS = 1025;

/** A picture exposed from place to place by as many stops as a map says: lightness of Oklab changes as a longer exposure changes it, by the cube
 * root of the light (Ottosson 2020); hue stays. */
export class StopsByMapNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #map: TileNode;
  readonly #stops: MappedStops;
  readonly #byCode: () => Float32Array;
  readonly #byLightness: () => Float32Array;
  readonly #toLms: Matrix3;

  constructor(source: TileNode, map: TileNode, stops: MappedStops) {
    const exact = source.unrounded ?? source;
    super(keyOf('stops by map', [...stops.name, stops.space]), [exact, map]);
    this.#source = exact;
    this.#map = map;
    this.#stops = stops;
    const table = (length: number, of: (knot: number) => number) =>
      onFirstUse(() => Float32Array.from({ length }, (_, i) => of(i)));
    this.#byCode = table(MAP_KNOTS, (knot) => stops.stopsOf((knot * 65536) / (MAP_KNOTS - 1)) / 3);
    this.#byLightness = table(LIGHTNESS_KNOTS, (knot) => stops.shareOf(lightnessOfKnot(knot)));
    this.#toLms = lmsMatrix(stops.space);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return withTile(this.#map, spot, context, (map) =>
      this.#isRest(map)
        ? tileOf(this.#source, spot, context)
        : this.#lay(map, undefined, spot, context, (write) =>
            publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, write),
          ),
    );
  }

  layOver(over: Overlaid, spot: Spot, context: RenderContext, publish: Publish): PinnedTile | undefined {
    return withTile(this.#map, spot, context, (map) =>
      this.#isRest(map) ? undefined : this.#lay(map, over, spot, context, publish),
    );
  }

  /** Where nothing is done the picture is its own. */
  #isRest({ form, value }: PinnedTile): boolean {
    return form === 'constant' && value === this.#stops.rest;
  }

  #lay(map: PinnedTile, over: Overlaid | undefined, spot: Spot, context: RenderContext, publish: Publish): PinnedTile {
    return withTile(this.#source, spot, context, (tile) =>
      this.#stops.saturation === 1
        ? publish((slots) => this.#expose(map, tile, over, slots, context))
        : this.#layInOklab(map, tile, over, context, publish),
    );
  }

  #powers({ scratch }: RenderContext): MappedPowers {
    return { byCode: scratch.within(this.#byCode()), byLightness: scratch.within(this.#byLightness()) };
  }

  /** Where colour grows as lightness does light is multiplied, which needs no way back from Oklab. */
  #expose(
    map: PinnedTile,
    tile: PinnedTile,
    over: Overlaid | undefined,
    slots: readonly number[],
    context: RenderContext,
  ): void {
    const powers = this.#powers(context);
    const run: EncodedRun = (values, below, { tones: map = 0 }, through, out, { kernels, within }) =>
      context.scratch.lendHalves(3, ([red, green, blue]) => {
        for (const [channel, light] of [red, green, blue].entries()) kernels.linearizeFloats(values[channel], light);
        kernels.lightnessOfLight([red, green, blue], this.#toLms, red);
        kernels.exposeByMap({ map, powers, lightness: red }, within(ENCODING), values, below, through, out);
      });
    const around = (which: Half) => ({ tones: halfMask({ mask: map }, which, context), bases: NO_BASES });
    layEncoded(run, tile, around, over, slots, context);
  }

  #layInOklab(
    map: PinnedTile,
    tile: PinnedTile,
    over: Overlaid | undefined,
    context: RenderContext,
    publish: Publish,
  ): PinnedTile {
    const { kernels, scratch } = context;
    return scratch.lend(3, (red, green, blue) => {
      readLight(tile, [red, green, blue], context);
      kernels.toOklab(red, green, blue, this.#toLms);
      kernels.stopsByMap(planeOf(map, 0, context), this.#powers(context), this.#stops.saturation, [red, green, blue]);
      kernels.fromOklab(red, green, blue, invert3(this.#toLms));
      return publish((slots) => layLight([red, green, blue], over, slots, context));
    });
  }
}

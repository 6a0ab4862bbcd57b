import { decodeSrgb, encodeSrgb } from '../../color/srgb.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishCoverage, publishSame } from '../tiles/coverageTile.ts';
import { type Area, areaAround, keyOfArea, placeIn, withArea } from '../tiles/neighbourhood.ts';
import {
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  withTiles,
} from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';

/** Stops of change that a plane holds, half of them to each side of its middle. */
const STOPS = 16;
/** Light below which a change is noise. */
const FLOOR = decodeSrgb(0.06);
/** Windows each way, in pixels of the level that surroundings are found at. */
const WIDEST = 8;
const WIDEST_AT_TOP = 56;
const marginOf = (radius: number): number => 2 * Math.min(WIDEST_AT_TOP, Math.max(1, radius)) + 2;
/** Contrast of the first picture from which on its edges part surroundings. */
const CONTRAST = 0.06;
/** What rises further than this above its surroundings is no part of them, in stops. */
const STANDS_OUT = 0.25;
/** So often surroundings are found anew without what stands out. */
const ROUNDS = 3;

/** How many stops brighter one picture is than another, as one plane: the middle for none. */
class ChangeNode extends DerivedNode {
  readonly #before: TileNode;
  readonly #after: TileNode;

  /** @param before - Brightest channels, one plane; so for `after`. */
  constructor(before: TileNode, after: TileNode) {
    super(keyOf('change', []), [before, after]);
    this.#before = before;
    this.#after = after;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, scratch } = context;
    const { decoding } = scratch.curves;
    return withTiles([this.#before, this.#after], spot, context, (tiles) => {
      const [before, after] = tiles.map((tile) => planeOf(tile, 0, context));
      const slots = reserveOrFail(context, 1);
      const out = table.slab.plane(slots[0]);
      const lightOf = (plane: Uint16Array | number, i: number) =>
        decoding[typeof plane === 'number' ? plane : plane[i]];
      for (let i = 0; i < out.length; i++) {
        const stops = Math.log2((lightOf(after, i) + FLOOR) / (lightOf(before, i) + FLOOR));
        out[i] = Math.min(65535, Math.max(0, 65535 * (0.5 + stops / STOPS) + 0.5));
      }
      return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
    });
  }
}

/** How much brighter places became than their surroundings did: lights that came on, whatever dusk did to the whole. The change
 * of the surroundings is fitted, window by window, to the tones before (He, Sun and Tang 2010, "Guided image filtering"), without
 * what stands out; what the picture would be after that change alone is taken from what it is, in encoded values. */
export class LitNode extends DerivedNode {
  readonly #before: TileNode;
  readonly #after: TileNode;
  readonly #change: TileNode;
  readonly #around: number;

  /** @param before - Brightest channels, one plane; so for `after`.
   * @param around - How far surroundings reach, in scene pixels. */
  constructor(before: TileNode, after: TileNode, around: number) {
    super(keyOf('lit', around), [before, after]);
    this.#before = before;
    this.#after = after;
    this.#change = new ChangeNode(before, after);
    this.#around = around;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const area = this.#areaOf(spot);
    const change = keyOfArea(this.seed, this.#change, area, context);
    return mixKeys(keyOfArea(change, this.#before, area, context), super.keyOver(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { kernels, scratch } = context;
    const area = this.#areaOf(spot);
    const { side } = area;
    const radius = Math.min(WIDEST_AT_TOP, Math.max(1, Math.round(this.#around / 2 ** area.level)));
    const find = (...[change, guide, slope, offset, left, a, b, c]: Float32Array[]) => {
      left.set(change);
      for (let round = 0; round < ROUNDS; round++) {
        // Fitting overwrites what is fitted.
        change.set(left);
        const planes = { mask: change, guide, slope, offset, spare: [a, b, c] as const, width: side, height: side };
        kernels.fitGuided(planes, radius, CONTRAST ** 2);
        for (let i = 0; i < left.length; i++)
          left[i] = Math.min(left[i], slope[i] * guide[i] + offset[i] + STANDS_OUT / STOPS);
      }
      const { step, x, y } = placeIn(area, spot);
      return scratch.lend(3, (fineSlope, fineOffset, out) => {
        kernels.enlarge(slope, side, x, y, step, fineSlope);
        kernels.enlarge(offset, side, x, y, step, fineOffset);
        return withTiles([this.#before, this.#after], spot, context, (tiles) => {
          const [before, after] = tiles.map((tile) => planeOf(tile, 0, context));
          for (let i = 0; i < out.length; i++) {
            const code = typeof before === 'number' ? before : before[i];
            const stops = (fineSlope[i] * (code / 65535) + fineOffset[i] - 0.5) * STOPS;
            const expected = (scratch.curves.decoding[code] + FLOOR) * 2 ** stops - FLOOR;
            const now = (typeof after === 'number' ? after : after[i]) / 65535;
            out[i] = Math.max(0, now - encodeSrgb(Math.min(1, Math.max(0, expected))));
          }
          return publishCoverage(out, spot, key, context);
        });
      });
    };
    // Where all changed alike nothing stands out.
    return withArea([this.#change, this.#before], area, context, 6, find, () => publishSame(0, spot, key, context));
  }

  #areaOf(spot: Spot): Area {
    return areaAround(spot, this.extent.size, this.#around, WIDEST, marginOf);
  }
}

import { smoothstep } from '../kernels/smoothstep.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { type Area, areaAround, keyOfArea, placeIn, wantedIn, withArea } from '../render/tiles/neighbourhood.ts';
import { publishPicture, readEncoded, writeFloats } from '../render/tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withWanted } from '../render/tiles/renderContext.ts';
import { ChannelNode } from './channelNode.ts';

/** A blur reaches so many deviations. */
const REACH = 3;
/** Blurs that are narrower at a level leave nothing to be sharpened there. */
const NARROWEST = 0.2;
/** Deviation of the blur that tells how flat a place is, against that of what is sharpened. */
const WIDER = 1.5;

/** A picture whose brightness is moved away from a blurred copy of itself, channels by as much, but where it is flat. */
export class SharpNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #brightness: TileNode;
  readonly #settings: { amount: number; radius: number; flat: number };

  constructor(source: TileNode, settings: { amount: number; radius: number; flat: number }) {
    const brightness = new ChannelNode(source, 'brightness');
    super(keyOf('sharp', [settings.amount, settings.radius, settings.flat]), [source, brightness]);
    this.#source = source;
    this.#brightness = brightness;
    this.#settings = settings;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const around = keyOfArea(this.seed, this.#brightness, this.#areaOf(spot), context);
    return mixKeys(around, this.#source.keyAt(spot, context));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const around = this.#isTooNarrowAt(spot) ? [] : wantedIn(this.#brightness, this.#areaOf(spot));
    return withWanted([{ node: this.#source, spot }, ...around], context, ([tile]) =>
      context.scratch.lend(4, (change, red, green, blue) => {
        this.#findChange(change, spot, context);
        readEncoded(tile, [red, green, blue], context);
        for (const plane of [red, green, blue]) for (let i = 0; i < plane.length; i++) plane[i] += change[i];
        return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
          writeFloats([red, green, blue], slots, context),
        );
      }),
    );
  }

  /** Whether its blur is too narrow at a level to leave anything to be sharpened. */
  #isTooNarrowAt({ level }: Spot): boolean {
    return this.#settings.radius / 2 ** level < NARROWEST;
  }

  /** By how much brightness changes, in steps of 16 bits. */
  #findChange(out: Float32Array, spot: Spot, context: RenderContext): void {
    const { amount, flat } = this.#settings;
    const sigma = this.#settings.radius / 2 ** spot.level;
    if (this.#isTooNarrowAt(spot)) {
      out.fill(0);
      return;
    }
    const area = this.#areaOf(spot);
    const { side } = area;
    const find = (...[plane, detail, energy, spare]: Float32Array[]) => {
      const count = side * side;
      blur(plane, detail, spare, side, sigma);
      for (let i = 0; i < count; i++) {
        detail[i] = plane[i] - detail[i];
        plane[i] = detail[i] * detail[i];
      }
      blur(plane, energy, spare, side, WIDER * sigma);
      const { x, y } = placeIn(area, spot);
      for (let row = 0, i = 0; row < TILE; row++)
        for (let at = x + (y + row) * side, end = at + TILE; at < end; at++, i++) {
          const kept = flat === 0 ? 1 : smoothstep(Math.sqrt(Math.max(0, energy[at])) / flat - 0.5);
          out[i] = 65535 * amount * kept * detail[at];
        }
    };
    withArea([this.#brightness], area, context, 3, find, () => {
      out.fill(0);
    });
  }

  /** At the level that is drawn, whatever it is. */
  #areaOf(spot: Spot): Area {
    const sigma = this.#settings.radius / 2 ** spot.level;
    const reach = Math.ceil(REACH * sigma) + Math.ceil(REACH * WIDER * sigma);
    return areaAround(spot, this.extent.size, 2 ** spot.level, 1, () => reach);
  }
}

/** A Gaussian blur along rows and then along columns; beyond the area its edge repeats.
 * @param spare - Scratch; all planes have `side` x `side` samples, and `plane` stays. */
function blur(plane: Float32Array, out: Float32Array, spare: Float32Array, side: number, sigma: number): void {
  const reach = Math.ceil(REACH * sigma);
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, i) =>
    Math.exp(-((i - reach) ** 2) / (2 * sigma * sigma)),
  );
  const sum = weights.reduce((all, each) => all + each, 0);
  const along = (from: Float32Array, to: Float32Array, step: number, line: number) => {
    for (let row = 0; row < side; row++)
      for (let i = 0; i < side; i++) {
        let value = 0;
        for (let k = -reach; k <= reach; k++) {
          const at = i + k < 0 ? 0 : i + k >= side ? side - 1 : i + k;
          value += weights[k + reach] * from[row * line + at * step];
        }
        to[row * line + i * step] = value / sum;
      }
  };
  along(plane, spare, 1, side);
  along(spare, out, side, 1);
}

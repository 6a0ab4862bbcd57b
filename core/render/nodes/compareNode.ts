import { COMPARED } from '../../checks/limits.ts';
import { decodeSrgb, encodeSrgb } from '../../color/srgb.ts';
import type { Rgb16 } from '../../kernels/planes.ts';
import { TILE } from '../../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  transientTile,
  withTiles,
} from '../tiles/renderContext.ts';

/** Mid grey: nothing to see. */
const EVEN = 32768;
/** By how much differences are enlarged. */
const CONTRAST = 3.5;

/** How two pictures lie on each other, as grey. `difference`: brighter and darker where the second is, and even where both agree
 * or one of them holds nothing; `edges`: those of the first dark, those of the second bright, and nothing where they meet. */
export class CompareNode implements TileNode {
  /** It is looked at, and nothing is computed from it. */
  readonly isTransient = true;
  readonly #base: TileNode;
  readonly extent: Extent;
  readonly #frame: TileNode;
  readonly #inside: TileNode;
  readonly #how: 'difference' | 'edges';
  readonly #stops: number;
  readonly #key: NodeKey;

  /** @param stops - By which the second picture was darkened to match. */
  constructor(base: TileNode, frame: TileNode, inside: TileNode, how: 'difference' | 'edges', stops: number) {
    this.#base = base;
    this.extent = base.extent;
    this.#frame = frame;
    this.#inside = inside;
    this.#how = how;
    this.#stops = stops;
    this.#key = keyOf('compare', [how, stops]);
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return mixKeys(
      this.#key,
      this.#base.keyAt(spot, context),
      this.#frame.keyAt(spot, context),
      this.#inside.keyAt(spot, context),
    );
  }

  make(spot: Spot, _key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    return withTiles([this.#base, this.#frame, this.#inside], spot, context, ([base, frame, inside]) => {
      const slots = reserveOrFail(context, 1);
      const [a, b] = [base, frame].map(({ slots: rgb }) => rgb.map((slot) => table.slab.plane(slot)));
      const compare = this.#how === 'difference' ? difference : edges;
      const within = planeOf(inside, 0, context);
      compare(a as unknown as Rgb16, b as unknown as Rgb16, this.#stops, within, table.slab.plane(slots[0]));
      return transientTile(context, slots);
    });
  }
}

type Compare = (a: Rgb16, b: Rgb16, stops: number, inside: Uint16Array | number, out: Uint16Array) => void;

/** Codes of 16 bits between which a picture holds something after it was darkened. */
export const limitsAfter = (stops: number): number[] =>
  [COMPARED.from, COMPARED.to].map((level) => 65535 * encodeSrgb(Math.min(1, decodeSrgb(level / 255) * 2 ** -stops)));

const difference: Compare = (a, b, stops, inside, out) => {
  const [low, high] = limitsAfter(0);
  const [frameLow, frameHigh] = limitsAfter(stops);
  for (let i = 0; i < out.length; i++) {
    const [first, second] = [Math.max(a[0][i], a[1][i], a[2][i]), Math.max(b[0][i], b[1][i], b[2][i])];
    const isHeld = first > low && first < high && second > frameLow && second < Math.min(high, frameHigh);
    const coverage = typeof inside === 'number' ? inside : inside[i];
    const off = (b[0][i] + 2 * b[1][i] + b[2][i] - a[0][i] - 2 * a[1][i] - a[2][i]) / 4;
    out[i] = isHeld && coverage > EVEN ? Math.min(65535, Math.max(0, EVEN + CONTRAST * off)) : EVEN;
  }
};

/** Steepness at which an edge is drawn half as strong as it can be: doublings of the code over two pixels. */
const HALF_EDGE = 0.5;

const edges: Compare = (a, b, _stops, inside, out) => {
  const [first, second] = [a, b].map(steepness);
  for (let i = 0; i < out.length; i++) {
    const coverage = typeof inside === 'number' ? inside : inside[i];
    out[i] = coverage > EVEN ? Math.min(65535, Math.max(0, EVEN + 32767 * (second[i] - first[i]))) : EVEN;
  }
};

/** How steep tones are at each pixel, 0..1, whatever the exposure. */
function steepness([red, green, blue]: Rgb16): Float32Array {
  const tone = Float32Array.from(red, (value, i) => Math.log2(600 + (value + 2 * green[i] + blue[i]) / 4));
  return tone.map((_, i) => {
    const [x, y] = [i % TILE, Math.floor(i / TILE)];
    // Over two pixels, so that noise and the steps of 8-bit files draw less.
    const [left, right] = [Math.max(0, x - 1), Math.min(TILE - 1, x + 1)];
    const [above, below] = [Math.max(0, y - 1), Math.min(TILE - 1, y + 1)];
    const row = i - x;
    const steep = Math.hypot(tone[row + right] - tone[row + left], tone[below * TILE + x] - tone[above * TILE + x]);
    return steep / (steep + HALF_EDGE);
  });
}

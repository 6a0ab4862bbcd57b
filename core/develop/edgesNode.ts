import { smoothstep } from '../kernels/smoothstep.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { publishCoverage } from '../render/tiles/coverageTile.ts';
import type { Extent, RenderContext, Spot, TileNode } from '../render/tiles/renderContext.ts';
import type { Delivered } from './defineAdjustment.ts';

/** How edges lie, see `edges`. */
export interface EdgeShape {
  shape: number;
  middle: { x: number; y: number };
  size: number;
  soft: number;
}

/** Powers of the superellipse (G. Lamé) from an ellipse to nearly a rectangle. */
const POWERS = [2, 16] as const;

/** How far a place belongs to the edges, 0..1.
 * @param u - From the middle of the picture to its edge: 0..1, and likewise `v`. */
export function edgeShare({ shape, size, soft }: EdgeShape, u: number, v: number): number {
  const power = POWERS[0] * (POWERS[1] / POWERS[0]) ** shape;
  const width = 2 * Math.max(0.01, soft);
  const stepAt = (radius: number) => (radius / size - 1) / width + 0.5;
  // Powers are slow, and nowhere is a radius shorter than its longer side or longer than a square's diagonal.
  const longer = Math.max(Math.abs(u), Math.abs(v));
  if (stepAt(longer) >= 1) return 1;
  if (stepAt(longer * Math.SQRT2) <= 0) return 0;
  return smoothstep(stepAt((Math.abs(u) ** power + Math.abs(v) ** power) ** (1 / power)));
}

/** They are soft: found so many pixels apart and read on lines between. */
const APART = 4;
const KNOTS = TILE / APART + 1;

/** Where the edges of a picture are, as it will be turned and cut. */
export class EdgesNode implements TileNode {
  readonly extent: Extent;
  readonly fixedKey: NodeKey;
  readonly #shape: EdgeShape;
  readonly #delivered: Delivered | undefined;

  /** @param delivered - Whose edges they are; those of the scene if it is not told. */
  constructor({ shape, middle, size, soft }: EdgeShape, extent: Extent, delivered: Delivered | undefined) {
    this.extent = extent;
    this.#shape = { shape, middle, size, soft };
    this.#delivered = delivered;
    this.fixedKey = keyOf('edges', [this.#shape, delivered ?? null]);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { middle } = this.#shape;
    const { width, height } = this.#delivered?.size ?? this.extent.size;
    const [a, b, c, d, e, f, g, h, i] = this.#delivered?.fromScene ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
    const step = 2 ** spot.level;
    const shareAt = (column: number, row: number): number => {
      const x = (spot.tx * TILE + column + 0.5) * step - 0.5;
      const y = (spot.ty * TILE + row + 0.5) * step - 0.5;
      const w = g * x + h * y + i;
      const u = (a * x + b * y + c) / w + 0.5 - middle.x * width;
      const v = (d * x + e * y + f) / w + 0.5 - middle.y * height;
      return edgeShare(this.#shape, (2 * u) / width, (2 * v) / height);
    };
    return context.scratch.lend(2, (area, out) => {
      for (let at = 0; at < KNOTS * KNOTS; at++)
        area[at] = shareAt((at % KNOTS) * APART, Math.floor(at / KNOTS) * APART);
      // A knot lies on the first of the pixels that it is apart from the next.
      const first = 0.5 - 0.5 / APART;
      context.kernels.enlarge(area, KNOTS, first, first, APART, out);
      return publishCoverage(out, spot, key, context);
    });
  }
}

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

const powerOf = (shape: number): number => POWERS[0] * (POWERS[1] / POWERS[0]) ** shape;
const widthOf = (soft: number): number => 2 * Math.max(0.01, soft);

/** How far places belong to the edges, 0..1, by how far they are from the middle of the picture to its edge, 0..1 each way. */
export function edgeShare({ shape, size, soft }: EdgeShape): (u: number, v: number) => number {
  const power = powerOf(shape);
  const root = 1 / power;
  const width = widthOf(soft);
  const stepAt = (radius: number) => (radius / size - 1) / width + 0.5;
  return (u, v) => {
    // Powers are slow, and nowhere is a radius shorter than its longer side or longer than a square's diagonal.
    const [across, down] = [Math.abs(u), Math.abs(v)];
    const longer = Math.max(across, down);
    if (stepAt(longer) >= 1) return 1;
    if (stepAt(longer * Math.SQRT2) <= 0) return 0;
    return smoothstep(stepAt((across ** power + down ** power) ** root));
  };
}

/** They are soft: found so many pixels apart and read on lines between. */
const APART = [16, 8, 4] as const;
/** How far lines may be off the share that they are read for. */
const MOST_OFF = 1 / 2048;

/** How far apart places may be found for lines between them to be close to the shares: a line is off by an eighth of the second derivative times its
 * length squared, each way. Smoothstep bends by 6 at most, and a p-norm by p - 1 over its radius.
 * @param half - Shorter half side of the picture, in pixels of the level. */
export function edgesApart({ shape, size, soft }: EdgeShape, half: number): number {
  const radius = size * half;
  const fade = widthOf(soft) * radius;
  const bend = 6 / (fade * fade) + (3 * (powerOf(shape) - 1)) / (radius * fade);
  const most = Math.sqrt((4 * MOST_OFF) / bend);
  return APART.find((apart) => apart <= most) ?? APART[2];
}

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
    const share = edgeShare(this.#shape);
    const shareAt = (column: number, row: number): number => {
      const x = (spot.tx * TILE + column + 0.5) * step - 0.5;
      const y = (spot.ty * TILE + row + 0.5) * step - 0.5;
      const w = g * x + h * y + i;
      const u = (a * x + b * y + c) / w + 0.5 - middle.x * width;
      const v = (d * x + e * y + f) / w + 0.5 - middle.y * height;
      return share((2 * u) / width, (2 * v) / height);
    };
    const apart = edgesApart(this.#shape, Math.min(width, height) / 2 / step);
    const knots = TILE / apart + 1;
    return context.scratch.lend(2, (area, out) => {
      for (let at = 0; at < knots * knots; at++)
        area[at] = shareAt((at % knots) * apart, Math.floor(at / knots) * apart);
      // A knot lies on the first of the pixels that it is apart from the next.
      const first = 0.5 - 0.5 / apart;
      context.kernels.enlarge(area, knots, first, first, apart, out);
      return publishCoverage(out, spot, key, context);
    });
  }
}

import { isIdentity } from '../../align/placement.ts';
import { bentPlace, isBent } from '../../raster/lens.ts';
import type { Matrix3 } from '../../raster/matrix3.ts';
import { levelSize, type Size, TILE } from '../../raster/size.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  type RenderContext,
  reserveOrFail,
  type Spot,
  slotsOf,
  type TileNode,
} from '../tiles/renderContext.ts';
import { eachPlace, type FrameGeometry, frameMap, sourceOf } from './frameMap.ts';

/** Pixels at a frame's edge over which it fades in: what lies beside the edge is made of the edge alone. */
const FADE = 2;
/** Places of the scene's sides that are looked at. */
const SIDE_PLACES = 33;

/** Whether a frame covers a scene of its own size without more: it lies as it was taken, and straightening it draws no border in. */
export function coversScene({ placement, lens }: FrameGeometry, size: Size): boolean {
  if (!isIdentity(placement)) return false;
  if (!isBent(lens)) return true;
  const [right, bottom] = [size.width - 1, size.height - 1];
  return Array.from({ length: SIDE_PLACES }, (_, i) => i / (SIDE_PLACES - 1)).every((share) =>
    [
      { x: share * right, y: 0 },
      { x: share * right, y: bottom },
      { x: 0, y: share * bottom },
      { x: right, y: share * bottom },
    ].every((at) => {
      const { x, y } = bentPlace(lens, size, at);
      return x >= 0 && y >= 0 && x <= right && y <= bottom;
    }),
  );
}

/** Where a placed frame is: full inside, nothing beyond its edges. */
export class InsideNode implements TileNode {
  readonly extent: Extent;
  readonly #geometry: FrameGeometry;
  readonly #size: Size;
  readonly fixedKey: NodeKey;

  /** @param geometry - How it comes into the scene; what is moved from place to place counts for nothing here.
   * @param size - Of the frame.
   * @param scene - Where it is placed. */
  constructor(geometry: FrameGeometry, size: Size, scene: Extent) {
    this.#geometry = { ...geometry, local: null };
    this.extent = scene;
    this.#size = size;
    const { placement, lens, turned } = geometry;
    const bend = isBent(lens) ? [lens.bend] : [];
    this.fixedKey = keyOf('inside', [placement, size.width, size.height, ...bend, ...(turned ? [turned] : [])]);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    const { level, tx, ty } = spot;
    const { lens } = this.#geometry;
    const { from, map, places } = sourceOf(frameMap(this.#geometry, this.extent.size, spot), lens, level, this.#size);
    const { width, height } = levelSize(this.#size, from);
    const insideOf = (x: number, y: number) => Math.min(x + 0.5, y + 0.5, width - 0.5 - x, height - 0.5 - y) - 0.5;
    // Between the places that are looked at a bent side may come one pixel nearer.
    const enough = map.bent ? FADE + 1 : FADE;
    if (places.every(({ x, y }) => insideOf(x, y) >= enough))
      return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value: 65535 });
    // A straight tile whose corners lie beyond one side lies beyond it.
    const beyond = [
      places.every(({ x }) => x < 0),
      places.every(({ y }) => y < 0),
      places.every(({ x }) => x > width - 1),
      places.every(({ y }) => y > height - 1),
    ];
    if (!map.bent && beyond.some(Boolean))
      return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value: 0 });
    const slots = reserveOrFail(context, 1);
    const plane = table.slab.plane(slots[0]);
    const valueAt = (x: number, y: number) => Math.round(65535 * Math.min(1, Math.max(0, insideOf(x, y) / FADE)));
    if (map.bent)
      eachPlace(map, (at, x, y) => {
        plane[at] = valueAt(x, y);
      });
    else fillStraight(plane, map.matrix, { width, height }, valueAt);
    const value = context.kernels.uniformValue(plane);
    if (value < 0) return table.publish(key, level, tx, ty, { form: 'planes', slots });
    slotsOf(context).unreserve(slots);
    return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value });
  }
}

/** Writes what a straight map says of a tile. Along a row the way to each side goes evenly, times what tilts it: where it is longer than the fade, or none at
 * all, is found at once, and only pixels in between are looked at one by one. */
function fillStraight(
  plane: Uint16Array,
  m: Matrix3,
  { width, height }: Size,
  valueAt: (x: number, y: number) => number,
): void {
  for (let row = 0; row < TILE; row++) {
    const [u, v, w] = [m[1] * row + m[2], m[4] * row + m[5], m[7] * row + m[8]];
    const isTurnedAway = w <= 0 || w + m[6] * TILE <= 0;
    /** Columns on which the way to all sides is at least so long. */
    const within = (least: number): [number, number] => {
      let [first, end] = [0, TILE];
      for (const [slope, start] of [
        [m[0] - least * m[6], u - least * w],
        [m[3] - least * m[6], v - least * w],
        [(width - 1 - least) * m[6] - m[0], (width - 1 - least) * w - u],
        [(height - 1 - least) * m[6] - m[3], (height - 1 - least) * w - v],
      ]) {
        if (slope > 0) first = Math.max(first, Math.ceil(-start / slope));
        else if (slope < 0) end = Math.min(end, Math.floor(-start / slope) + 1);
        else if (start < 0) end = 0;
      }
      return [first, Math.max(first, end)];
    };
    // A column more on either side, since rounding may go either way.
    const [from, to] = isTurnedAway ? [0, TILE] : within(0);
    const [first, last] = [Math.min(TILE, Math.max(0, from - 1)), Math.min(TILE, to + 1)];
    const [full, fullEnd] = isTurnedAway ? [TILE, TILE] : within(FADE);
    const [solid, solidEnd] = fullEnd - full > 2 ? [full + 1, fullEnd - 1] : [last, last];
    const at = row * TILE;
    const exact = (start: number, end: number) => {
      for (let x = start; x < end; x++) {
        const tilt = m[6] * x + w;
        plane[at + x] = valueAt((m[0] * x + u) / tilt, (m[3] * x + v) / tilt);
      }
    };
    plane.fill(0, at, at + first);
    exact(first, Math.min(solid, last));
    plane.fill(65535, at + solid, at + solidEnd);
    exact(Math.max(first, solidEnd), last);
    plane.fill(0, at + last, at + TILE);
  }
}

import { placeByCorners } from '../../align/byHand.ts';
import { type LocalGrid, moveOfGrid } from '../../align/localFit.ts';
import { compose, cornersOf, fromLevel, mapPoint, shiftMatrix } from '../../align/placement.ts';
import type { Rgb16 } from '../../kernels/planes.ts';
import { invert3, type Matrix3 } from '../../raster/matrix3.ts';
import { levelCount, levelSize, type Size, TILE } from '../../raster/size.ts';
import { copyTile, tilesOfArea } from '../../raster/tileArea.ts';
import { keyOf, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  type RenderContext,
  reserveOrFail,
  type Spot,
  slotsOf,
  type TileNode,
  withWanted,
} from '../tiles/renderContext.ts';
import { MAX_AREA_SIDE } from '../tiles/scratch.ts';

/** Samples that the kernel needs beyond a place: two before, six after; one more for rounding. */
const BEFORE = 3;
const AFTER = 8;

/** From a tile's pixels to places in the frame, both counted from the centre of their first pixel. */
type TileMap = (spot: Spot) => Matrix3;

const originOf = ({ level, tx, ty }: Spot): Matrix3 => compose(shiftMatrix(tx * TILE, ty * TILE), fromLevel(level));

const placedBy = (placement: Matrix3): TileMap => {
  const toFrame = invert3(placement);
  return (spot) => compose(originOf(spot), toFrame);
};

const TILE_SIZE = { width: TILE, height: TILE };

/** Placed, and moved from place to place: each tile by the homography that takes its corners where they belong. Neighbours share
 * corners, and so the edges between them; within a tile the grid is nearly even. */
function placedLocally(placement: Matrix3, local: LocalGrid, scene: Size): TileMap {
  const toFrame = invert3(placement);
  return (spot) => {
    const origin = originOf(spot);
    const corners = cornersOf(TILE_SIZE).map((corner) => {
      const at = mapPoint(origin, corner);
      const move = moveOfGrid(local, scene, at);
      return mapPoint(toFrame, { x: at.x - move.x, y: at.y - move.y });
    });
    return placeByCorners(corners, TILE_SIZE) ?? compose(origin, toFrame);
  };
}

/** Where a tile's pixels come from: the level of the source, and the matrix from the tile's pixels to that level's. */
function sourceOf(toFrame: Matrix3, level: number, size: Size) {
  const last = levelCount(size) - 1;
  for (let from = level; ; from++) {
    const matrix = compose(toFrame, invert3(fromLevel(Math.min(from, last))));
    const corners = [
      [0, 0],
      [TILE - 1, 0],
      [0, TILE - 1],
      [TILE - 1, TILE - 1],
    ].map(([x, y]) => mapPoint(matrix, { x, y }));
    const [xs, ys] = [corners.map(({ x }) => x), corners.map(({ y }) => y)];
    const [left, top] = [Math.floor(Math.min(...xs)) - BEFORE, Math.floor(Math.min(...ys)) - BEFORE];
    const side = Math.ceil(Math.max(Math.max(...xs) - left, Math.max(...ys) - top)) + AFTER;
    // A frame that is shrunk a lot is read from a coarser level.
    if (side <= MAX_AREA_SIDE || from >= last) return { from: Math.min(from, last), matrix, left, top, side, xs, ys };
  }
}

/** A frame as it is placed: turned, shifted and tilted into scene space, read between its pixels (Lanczos, three lobes). */
export class WarpNode implements TileNode {
  readonly extent: Extent;
  readonly #source: TileNode;
  readonly #toFrame: TileMap;
  readonly #size: Size;
  readonly fixedKey: NodeKey | undefined;
  readonly #key: NodeKey;

  /** @param placement - Frame pixels to scene pixels, counted from the centre of the first.
   * @param scene - Where the frame is placed.
   * @param local - How it is moved further from place to place of the scene. */
  constructor(source: TileNode, placement: Matrix3, scene: Extent, local: LocalGrid | null = null) {
    this.#source = source;
    this.extent = scene;
    this.#toFrame = local ? placedLocally(placement, local, scene.size) : placedBy(placement);
    this.#size = source.extent.size;
    this.#key = keyOf('warp', local ? [placement, local] : placement);
    this.fixedKey = source.fixedKey && mixKeys(this.#key, source.fixedKey);
  }

  /** Of all the tiles that are read, which need not lie where the tile does. */
  keyAt(spot: Spot, context: RenderContext): NodeKey {
    return (
      this.fixedKey ??
      mixKeys(this.#key, ...this.#area(spot).wanted.map((read) => this.#source.keyAt(read.spot, context)))
    );
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, kernels, scratch } = context;
    const { whole, region, matrix, wanted } = this.#area(spot);
    const { x, y, width: side } = region;
    return withWanted(wanted, context, (tiles) =>
      scratch.lendRgbArea((area) => {
        for (const [index, { slots }] of tiles.entries()) {
          const { tx, ty } = wanted[index].spot;
          copyTile(
            slots.map((slot) => table.slab.plane(slot)),
            tx,
            ty,
            region,
            whole,
            area,
            side,
          );
        }
        const slots = reserveOrFail(context, 3);
        const out: Rgb16 = [table.slab.plane(slots[0]), table.slab.plane(slots[1]), table.slab.plane(slots[2])];
        kernels.warpTile(area, side, compose(matrix, shiftMatrix(-x, -y)), scratch.lanczos, out);
        return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
      }),
    );
  }

  /** What is read for a tile: a square region of a level of the source, the tiles that it lies in, and the matrix from the tile's
   * pixels to that level's. */
  #area(spot: Spot) {
    const { from: level, matrix, left, top, side } = sourceOf(this.#toFrame(spot), spot.level, this.#size);
    const used = Math.min(side, MAX_AREA_SIDE);
    const whole = levelSize(this.#size, level);
    const region = { x: left, y: top, width: used, height: used };
    const wanted = tilesOfArea(region, whole).map((tile) => ({ node: this.#source, spot: { level, ...tile } }));
    return { whole, region, matrix, wanted };
  }
}

/** Pixels at a frame's edge over which it fades in: what lies beside the edge is made of the edge alone. */
const FADE = 2;

/** Where a placed frame is: full inside, nothing beyond its edges. */
export class InsideNode implements TileNode {
  readonly extent: Extent;
  readonly #placement: Matrix3;
  readonly #size: Size;
  readonly fixedKey: NodeKey;

  /** @param size - Of the frame.
   * @param scene - Where it is placed. */
  constructor(placement: Matrix3, size: Size, scene: Extent) {
    this.#placement = placement;
    this.extent = scene;
    this.#size = size;
    this.fixedKey = keyOf('inside', [placement, size.width, size.height]);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    const { level, tx, ty } = spot;
    const { from, matrix, xs, ys } = sourceOf(placedBy(this.#placement)(spot), level, this.#size);
    const { width, height } = levelSize(this.#size, from);
    const insideOf = (x: number, y: number) => Math.min(x + 0.5, y + 0.5, width - 0.5 - x, height - 0.5 - y) - 0.5;
    if (xs.every((x, i) => insideOf(x, ys[i]) >= FADE))
      return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value: 65535 });
    const slots = reserveOrFail(context, 1);
    const plane = table.slab.plane(slots[0]);
    for (let y = 0; y < TILE; y++)
      for (let x = 0; x < TILE; x++) {
        const at = mapPoint(matrix, { x, y });
        plane[y * TILE + x] = Math.round(65535 * Math.min(1, Math.max(0, insideOf(at.x, at.y) / FADE)));
      }
    const value = context.kernels.uniformValue(plane);
    if (value < 0) return table.publish(key, level, tx, ty, { form: 'planes', slots });
    slotsOf(context).unreserve(slots);
    return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value });
  }
}

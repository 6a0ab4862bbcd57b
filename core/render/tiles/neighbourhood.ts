import { coarsestFrom, levelCount, levelSize, type Size, TILE } from '../../raster/size.ts';
import { copyTile, tilesOfArea } from '../../raster/tileArea.ts';
import { mixAll, type NodeKey, packPlace } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { planeOf, type RenderContext, type Spot, type TileNode, tilesOf, type Wanted } from './renderContext.ts';
import { MAX_AREA_SIDE } from './scratch.ts';
import { shrunkStride } from './shrunkTiles.ts';

/** A square of pixels of a level around a tile, which may be of a finer level. */
export interface Area {
  level: number;
  left: number;
  top: number;
  /** A multiple of 4. */
  side: number;
  /** It is gathered this many levels finer, where its tiles are wanted anyway, and halved. */
  halvings: number;
}

/** Most levels that an area is halved down, rather than have a mask made at one more level. */
const MOST_HALVINGS = 2;

/** The area that is looked at around a tile of a picture of a size, computed at the finest level where that is cheap: what is as wide as `reach` and
 * leaves nothing finer than itself loses nothing by going down and back.
 * @param reach - Length in scene pixels.
 * @param widest - Most pixels of a level that it may measure; at the coarsest level it may measure more, as far as an area holds.
 * @param marginOf - How many pixels of a level are looked at around a place, for a reach in pixels of it. */
export function areaAround(
  spot: Spot,
  size: Size,
  reach: number,
  widest: number,
  marginOf: (reach: number) => number,
): Area {
  const top = coarsestFrom(spot.level, levelCount(size));
  const down = Math.max(0, Math.ceil(Math.log2(reach / 2 ** spot.level / widest)));
  const level = Math.min(top, spot.level + down);
  const step = 1 << (level - spot.level);
  const margin = Math.ceil(marginOf(reach / 2 ** level)) + 2;
  const side = Math.ceil((TILE / step + 2 * margin) / 4) * 4;
  if (side > MAX_AREA_SIDE) throw new RangeError(`A mask needs an area of ${side} pixels`);
  const left = Math.floor((spot.tx * TILE) / step) - margin;
  const near = level - spot.level;
  const halvings = near <= MOST_HALVINGS && side * 2 ** near <= MAX_AREA_SIDE ? near : 0;
  return { level, left, top: Math.floor((spot.ty * TILE) / step) - margin, side, halvings };
}

/** The area as it is gathered. */
export function gatheredFrom({ level, left, top, side, halvings }: Area): Area {
  const step = 1 << halvings;
  return { level: level - halvings, left: left * step, top: top * step, side: side * step, halvings: 0 };
}

/** Pixels of the area's level for each of the spot's, and where the spot begins in the area. */
export function placeIn(area: Area, spot: Spot): { step: number; x: number; y: number } {
  const step = 1 << (area.level - spot.level);
  return { step, x: (spot.tx * TILE) / step - area.left, y: (spot.ty * TILE) / step - area.top };
}

/** Key of all that a node shows in an area. */
export function keyOfArea(seed: NodeKey, node: TileNode, area: Area, context: RenderContext): NodeKey {
  return mixAll(
    seed,
    spotsOf(gatheredFrom(area), node.extent.size).map((near) => node.keyAt(near, context)),
  );
}

/** The tiles that an area of a node is gathered from: whoever borrows planes before it gathers has them made before. */
export const wantedIn = (node: TileNode, area: Area): Wanted[] =>
  spotsOf(gatheredFrom(area), node.extent.size).map((spot) => ({ node, spot }));

interface Gathered {
  near: Spot;
  tile: PinnedTile;
}

/** Calls `use` with coverage, or a tone, in an area, 0..1, as one plane, and with as many more planes of undefined content;
 * beyond the picture its edge repeats. All tiles are there before a plane is taken, since making them takes planes too, and a stack is
 * deep; `use` makes none.
 * @param same - Called instead where the first of the nodes has one value all over, with that value, 0..1.
 * @param which - Of the planes that the nodes have, as those of a picture in 16 bits. */
export function withArea<T>(
  nodes: readonly TileNode[],
  area: Area,
  context: RenderContext,
  spare: number,
  use: (...planes: Float32Array[]) => T,
  same: (value: number) => T,
  which = 0,
): T {
  const fine = gatheredFrom(area);
  const gathered: Gathered[][] = [];
  try {
    for (const node of nodes) {
      const wanted = wantedIn(node, area);
      const tiles = tilesOf(wanted, context);
      gathered.push(wanted.map(({ spot }, index) => ({ near: spot, tile: tiles[index] })));
      const value = gathered.length === 1 ? evenOf(tiles) : undefined;
      if (value !== undefined) return same(value / 65535);
    }
    const { size } = nodes[0].extent;
    return context.scratch.lendAreas(nodes.length + spare, area.side ** 2, (...planes) => {
      gathered.forEach((tiles, index) => {
        for (const { near, tile } of tiles) {
          const plane = planeOf(tile, which, context);
          if (area.halvings === 0) copyInto(planes[index], plane, near, fine, size, context);
          else shrinkInto([planes[index]], [plane], { node: nodes[index], near, which }, area, fine, context);
        }
      });
      return use(...planes);
    });
  } finally {
    for (const tiles of gathered) context.table.releaseAll(tiles.map(({ tile }) => tile));
  }
}

/** Calls `use` with the three planes of a picture in an area, 0..1, and with as many more of undefined content, like {@link withArea}.
 * @param node - A picture in 16 bits. */
export function withPictureArea<T>(
  node: TileNode,
  area: Area,
  context: RenderContext,
  spare: number,
  use: (...planes: Float32Array[]) => T,
): T {
  const fine = gatheredFrom(area);
  const wanted = wantedIn(node, area);
  const tiles = tilesOf(wanted, context);
  try {
    return context.scratch.lendAreas(3 + spare, area.side ** 2, (...planes) => {
      const outs = planes.slice(0, 3);
      for (let index = 0; index < tiles.length; index++) {
        const near = wanted[index].spot;
        const all = outs.map((_, which) => planeOf(tiles[index], which, context));
        if (area.halvings > 0) shrinkInto(outs, all, { node, near, which: 0 }, area, fine, context);
        else for (const [at, out] of outs.entries()) copyInto(out, all[at], near, fine, node.extent.size, context);
      }
      return use(...planes);
    });
  } finally {
    context.table.releaseAll(tiles);
  }
}

/** The value that all tiles have throughout, if they do. */
export function evenOf(tiles: readonly PinnedTile[]): number | undefined {
  const [first] = tiles;
  if (first.form !== 'constant') return undefined;
  return tiles.every(({ form, value }) => form === 'constant' && value === first.value) ? first.value : undefined;
}

/** The part of an area that a tile serves, first and one past the last; the tiles at the picture's ends serve what lies beyond it too. */
interface Served {
  firstX: number;
  lastX: number;
  firstY: number;
  lastY: number;
}

function servedBy(near: Spot, { level, left, top, side }: Area, size: Size): Served {
  const { width, height } = levelSize(size, level);
  const [firstX, lastX] = spanOf(near.tx, width, left, side);
  const [firstY, lastY] = spanOf(near.ty, height, top, side);
  return { firstX, lastX, firstY, lastY };
}

/** Fills what a tile serves of an area, plane by plane, from one that is gathered `halvings` levels finer.
 * @param planes - Of the tile: `which` and those after it. */
function shrinkInto(
  outs: readonly Float32Array[],
  planes: readonly (Uint16Array | number)[],
  { node, near, which }: { node: TileNode; near: Spot; which: number },
  { side, halvings }: Area,
  fine: Area,
  context: RenderContext,
): void {
  const { size } = node.extent;
  const { firstX, lastX, firstY, lastY } = servedBy(near, fine, size);
  if (lastX <= firstX || lastY <= firstY) return;
  const step = 1 << halvings;
  const [left, right, top, bottom] = [firstX / step, lastX / step, firstY / step, lastY / step];
  const place = packPlace(near.level, near.tx, near.ty);
  const key = node.keyAt(near, context);
  // Where the area's first sample lies in what is shrunk, and which of it there is: one sample beyond the picture, which repeats.
  const { width, height } = levelSize(size, near.level);
  const [fromX, toX] = thereOf(near.tx, width, step);
  const [fromY, toY] = thereOf(near.ty, height, step);
  const atX = (fine.left - near.tx * TILE) / step + 1;
  const atY = (fine.top - near.ty * TILE) / step + 1;
  const [insideX, beyondX] = [Math.max(left, fromX - atX), Math.min(right, toX - atX)];
  const [insideY, beyondY] = [Math.max(top, fromY - atY), Math.min(bottom, toY - atY)];
  const { copyFloatRows } = context.kernels;
  const to = insideY * side + insideX;
  const inside = { to, outStride: side, width: beyondX - insideX, rows: beyondY - insideY };
  const repeat = (out: Float32Array, row: number, first: number, last: number) => {
    const block = { from: row * side + left, stride: 0, to: first * side + left, outStride: side };
    if (last > first) copyFloatRows(out, out, { ...block, width: right - left, rows: last - first });
  };
  for (const [index, out] of outs.entries()) {
    const plane = planes[index];
    if (typeof plane === 'number') {
      for (let y = top; y < bottom; y++) out.fill(plane / 65535, y * side + left, y * side + right);
      continue;
    }
    const shrunk = context.scratch.shrunk.get({ key, place, which: which + index, halvings }, (made) =>
      shrinkTile(made.plane, plane, near, halvings, size, context),
    );
    const { stride } = shrunk;
    copyFloatRows(shrunk.plane, out, { from: (insideY + atY) * stride + insideX + atX, stride, ...inside });
    if (insideX > left || right > beyondX)
      for (let y = insideY; y < beyondY; y++) {
        const row = y * side;
        out.fill(out[row + insideX], row + left, row + insideX);
        out.fill(out[row + beyondX - 1], row + beyondX, row + right);
      }
    repeat(out, insideY, top, insideY);
    repeat(out, beyondY - 1, beyondY, bottom);
  }
}

/** The samples of a shrunk tile along one way that are its own, first and one past the last, counted with the one before it: at the picture's ends
 * one beyond as well, and all up to where the picture ends. */
function thereOf(tile: number, length: number, step: number): [number, number] {
  const own = Math.ceil(Math.min(TILE, length - tile * TILE) / step);
  const isLast = (tile + 1) * TILE >= length;
  return [tile === 0 ? 0 : 1, own + (isLast ? 2 : 1)];
}

/** A plane of a tile at a half or a quarter of its size, with a sample more on each side: beyond the picture what its edge repeats, elsewhere
 * anything. */
function shrinkTile(
  out: Float32Array,
  plane: Uint16Array,
  near: Spot,
  halvings: number,
  size: Size,
  context: RenderContext,
): void {
  const { kernels, scratch } = context;
  const step = 1 << halvings;
  const outStride = shrunkStride(halvings);
  const { width, height } = levelSize(size, near.level);
  const [left, top] = [near.tx * TILE, near.ty * TILE];
  const isInside = left > 0 && top > 0 && left + TILE < width && top + TILE < height;
  if (isInside) {
    const block = { from: 0, stride: TILE, to: outStride + 1, outStride, width: TILE, rows: TILE, halvings };
    kernels.shrinkRows(plane, out, block);
    return;
  }
  const side = TILE + 2 * step;
  const all = { firstX: 0, lastX: side, firstY: 0, lastY: side };
  // Not what lies beside the tile in the picture, which is not here.
  if (left > 0) all.firstX = step;
  if (left + TILE < width) all.lastX = side - step;
  if (top > 0) all.firstY = step;
  if (top + TILE < height) all.lastY = side - step;
  scratch.lendRgbArea(([samples]) => {
    const to = (all.firstY / step) * outStride + all.firstX / step;
    const [wide, rows] = [all.lastX - all.firstX, all.lastY - all.firstY];
    const region = { x: left - step + all.firstX, y: top - step + all.firstY, width: wide, height: rows };
    copyTile([plane], near.tx, near.ty, region, { width, height }, [samples], wide, kernels);
    kernels.shrinkRows(samples, out, { from: 0, stride: wide, to, outStride, width: wide, rows, halvings });
  });
}

/** Copies what a tile serves of an area, widened; rows and columns beyond the picture repeat its edge. */
function copyInto(
  out: Float32Array,
  plane: Uint16Array | number,
  near: Spot,
  area: Area,
  size: Size,
  { kernels }: RenderContext,
): void {
  const { level, left, top, side } = area;
  const { width, height } = levelSize(size, level);
  const { firstX, lastX, firstY, lastY } = servedBy(near, area, size);
  if (lastX <= firstX) return;
  if (typeof plane === 'number') {
    for (let y = firstY; y < lastY; y++) out.fill(plane / 65535, y * side + firstX, y * side + lastX);
    return;
  }
  // The columns and rows that lie in the picture; the others repeat the first and the last of them.
  const inside = Math.min(lastX, Math.max(firstX, -left));
  const beyond = Math.max(inside, Math.min(lastX, width - left));
  const upper = Math.min(lastY, Math.max(firstY, -top));
  const lower = Math.max(upper, Math.min(lastY, height - top));
  const rowIn = (y: number) => (Math.min(height - 1, Math.max(0, top + y)) - near.ty * TILE) * TILE - near.tx * TILE;
  const copy = (y: number, rows: number, stride: number) => {
    const from = rowIn(y) + left + inside;
    const block = { from, stride, to: y * side + inside, outStride: side, width: beyond - inside, rows };
    if (rows > 0) kernels.widenRows(plane, out, block);
  };
  copy(upper, lower - upper, TILE);
  copy(firstY, upper - firstY, 0);
  copy(lower, lastY - lower, 0);
  if (inside === firstX && beyond === lastX) return;
  for (let y = firstY; y < lastY; y++) {
    const row = rowIn(y);
    if (inside > firstX)
      out.fill(plane[row + Math.max(0, left + firstX)] / 65535, y * side + firstX, y * side + inside);
    if (lastX > beyond) out.fill(plane[row + width - 1] / 65535, y * side + beyond, y * side + lastX);
  }
}

/** The samples of an area along one way that a tile serves. */
function spanOf(tile: number, length: number, from: number, side: number): [number, number] {
  const last = Math.ceil(length / TILE) - 1;
  const start = tile === 0 ? 0 : tile * TILE - from;
  const end = tile === last ? side : (tile + 1) * TILE - from;
  return [Math.max(0, start), Math.min(side, end)];
}

/** The tiles of its level that an area touches, row by row. */
const spotsOf = ({ level, left, top, side }: Area, size: Size): Spot[] =>
  tilesOfArea({ x: left, y: top, width: side, height: side }, levelSize(size, level)).map(({ tx, ty }) => ({
    level,
    tx,
    ty,
  }));

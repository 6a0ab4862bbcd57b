import { levelSize, type Region, type Size, TILE } from '../../raster/size.ts';
import { tilesOfArea } from '../../raster/tileArea.ts';
import { widenTile } from '../tiles/coverageTile.ts';
import { readEncoded } from '../tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withTile } from '../tiles/renderContext.ts';

/** The pixels of a picture that a part of a level is read of: what lies beyond repeats the edge. */
export function seenOf(region: Region, { width, height }: Size): Region {
  const clamp = (at: number, length: number) => Math.min(length - 1, Math.max(0, at));
  const [left, top] = [clamp(region.x, width), clamp(region.y, height)];
  const [right, bottom] = [clamp(region.x + region.width - 1, width), clamp(region.y + region.height - 1, height)];
  return { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}

/** Tiles that a part of a level lies in; what lies beyond the picture repeats its edge. */
export function spotsIn(node: TileNode, level: number, region: Region): Spot[] {
  const size = levelSize(node.extent.size, level);
  return tilesOfArea(seenOf(region, size), size).map((tile) => ({ level, ...tile }));
}

/** Makes a plane of so many samples. */
type MakePlane = (length: number) => Float32Array;
const freshPlane: MakePlane = (length) => new Float32Array(length);

/** Encoded values, 0..65535 and beyond, of a part of a level of a picture: three planes. */
export function readRegion(
  node: TileNode,
  level: number,
  region: Region,
  context: RenderContext,
  make = freshPlane,
): Float32Array[] {
  const planes = [0, 1, 2].map(() => make(region.width * region.height));
  for (const spot of spotsIn(node, level, region))
    withTile(node, spot, context, (tile) =>
      context.scratch.lend(3, (...rgb) => {
        readEncoded(tile, rgb as [Float32Array, Float32Array, Float32Array], context);
        for (const [index, plane] of planes.entries()) copyPart(rgb[index], plane, spot, node.extent.size, region);
      }),
    );
  return planes;
}

/** Tone, a weighted mean of encoded red, green and blue, 0..1 and beyond, of a part of a level of a picture. */
export function readTone(
  node: TileNode,
  level: number,
  region: Region,
  weights: readonly [number, number, number],
  context: RenderContext,
  make = freshPlane,
): Float32Array {
  const out = make(region.width * region.height);
  const [r, g, b] = weights.map((weight) => weight / 65535);
  for (const spot of spotsIn(node, level, region))
    withTile(node, spot, context, (tile) =>
      context.scratch.lend(3, (red, green, blue) => {
        readEncoded(tile, [red, green, blue], context);
        for (let i = 0; i < red.length; i++) red[i] = r * red[i] + g * green[i] + b * blue[i];
        copyPart(red, out, spot, node.extent.size, region);
      }),
    );
  return out;
}

/** Coverage, 0..1, of a part of a level. */
export function readCoverage(
  node: TileNode,
  level: number,
  region: Region,
  context: RenderContext,
  make = freshPlane,
): Float32Array {
  const out = make(region.width * region.height);
  for (const spot of spotsIn(node, level, region))
    withTile(node, spot, context, (tile) =>
      context.scratch.lend(1, (coverage) => {
        widenTile(tile, context, coverage);
        copyPart(coverage, out, spot, node.extent.size, region);
      }),
    );
  return out;
}

/** Copies what a tile serves of a part of a level; what lies beyond the picture repeats its edge. */
function copyPart(tile: Float32Array, out: Float32Array, { level, tx, ty }: Spot, size: Size, region: Region): void {
  const { width, height } = levelSize(size, level);
  const [fromX, toX] = served(tx, width, region.x, region.width);
  const [fromY, toY] = served(ty, height, region.y, region.height);
  // Within the picture rows are copied whole.
  const isWithin = region.x + fromX >= 0 && region.x + toX <= width;
  for (let y = fromY; y < toY; y++) {
    const row = (Math.min(height - 1, Math.max(0, region.y + y)) - ty * TILE) * TILE - tx * TILE;
    let to = y * region.width + fromX;
    if (isWithin) out.set(tile.subarray(row + region.x + fromX, row + region.x + toX), to);
    else for (let x = fromX; x < toX; x++, to++) out[to] = tile[row + Math.min(width - 1, Math.max(0, region.x + x))];
  }
}

/** Samples of a part along one way that a tile serves, first and one past the last. */
function served(tile: number, length: number, from: number, count: number): [number, number] {
  const last = Math.ceil(length / TILE) - 1;
  const start = tile === 0 ? 0 : tile * TILE - from;
  const end = tile === last ? count : (tile + 1) * TILE - from;
  return [Math.max(0, start), Math.min(count, end)];
}

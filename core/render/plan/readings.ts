import { allTiles } from '../../raster/region.ts';
import { TILE, tileRegion } from '../../raster/size.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { withRounded } from '../tiles/pictureTile.ts';
import { type RenderContext, type TileNode, withTile } from '../tiles/renderContext.ts';

/** Counts of 256 levels each. */
export interface Histogram {
  red: Uint32Array;
  green: Uint32Array;
  blue: Uint32Array;
  /** Of coverage, or of the brightest channel of a picture, by which it is blown or blocked. */
  tone: Uint32Array;
  pixels: number;
}

/** Counts a picture or coverage at one level of the pyramid, tile by tile; it pauses after each tile so that the caller
 * can do something more urgent, or stop.
 * @returns The whole histogram, once the last tile is counted. */
export function* countHistogram(
  node: TileNode,
  level: number,
  context: RenderContext,
): Generator<undefined, Histogram> {
  const counts = () => new Uint32Array(256);
  const { size } = node.extent;
  const histogram: Histogram = { red: counts(), green: counts(), blue: counts(), tone: counts(), pixels: 0 };
  for (const { tx, ty } of allTiles(size, level)) {
    yield undefined;
    const { width, height } = tileRegion(size, level, tx, ty);
    histogram.pixels += width * height;
    withTile(node, { level, tx, ty }, context, (tile) => {
      if (tile.form === 'constant') histogram.tone[tile.value >> 8] += width * height;
      else withPlanes(tile, context, (planes) => countTile(planes, width, height, histogram, context));
    });
  }
  return histogram;
}

/** The plane of coverage, or the three of a picture, in 16 bits. */
const withPlanes = <T>(tile: PinnedTile, context: RenderContext, use: (planes: readonly Uint16Array[]) => T): T =>
  tile.slots.length === 1 ? use([context.table.slab.plane(tile.slots[0])]) : withRounded(tile, context, use);

/** Adds one tile, of coverage or of a picture, to a histogram. */
function countTile(
  planes: readonly Uint16Array[],
  width: number,
  height: number,
  histogram: Histogram,
  { kernels, scratch }: RenderContext,
): void {
  const count = (name: 'red' | 'green' | 'blue' | 'tone', plane: Uint16Array) =>
    scratch.lendCounters((counters) => {
      kernels.countLevels(plane, width, height, counters);
      for (let level = 0; level < 256; level++) histogram[name][level] += counters[level];
    });
  if (planes.length === 1) {
    count('tone', planes[0]);
    return;
  }
  const [red, green, blue] = planes;
  for (const [name, plane] of Object.entries({ red, green, blue })) count(name as 'red' | 'green' | 'blue', plane);
  scratch.lendSamples((tone) => {
    // Rounded to levels as on screen, where frames are judged.
    for (let i = 0; i < tone.length; i++) tone[i] = (((Math.max(red[i], green[i], blue[i]) + 128) / 257) | 0) << 8;
    count('tone', tone);
  });
}

/** The 16-bit samples of a node at one scene pixel: three of a picture, one of coverage. */
export function sampleAt(node: TileNode, x: number, y: number, context: RenderContext): number[] {
  const spot = { level: 0, tx: Math.floor(x / TILE), ty: Math.floor(y / TILE) };
  const at = (Math.floor(y) % TILE) * TILE + (Math.floor(x) % TILE);
  return withTile(node, spot, context, (tile) => {
    if (tile.form === 'constant') return [tile.value];
    return withPlanes(tile, context, (planes) => planes.map((plane) => plane[at]));
  });
}

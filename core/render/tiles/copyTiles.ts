import type { Rgb16 } from '../../kernels/planes.ts';
import type { Region, Size } from '../../raster/size.ts';
import { copyTile } from '../../raster/tileArea.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import type { RenderContext, Wanted } from './renderContext.ts';

/** Copies a square of a picture in 16 bits together; beyond the picture its edge is repeated.
 * @param tiles - Those that it lies in, as they were wanted.
 * @param part - The square, and the size of the level that it is of.
 * @param area - As many samples a row as the square is wide. */
export function copyTiles(
  tiles: readonly PinnedTile[],
  wanted: readonly Wanted[],
  { region, whole }: { region: Region; whole: Size },
  area: Rgb16,
  { table, kernels }: RenderContext,
): void {
  for (const [index, { slots }] of tiles.entries()) {
    const { tx, ty } = wanted[index].spot;
    const planes = slots.map((slot) => table.slab.plane(slot));
    copyTile(planes, tx, ty, region, whole, area, region.width, kernels);
  }
}

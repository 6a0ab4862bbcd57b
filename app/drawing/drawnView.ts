import { allTiles } from '#core/raster/region.ts';
import { levelSize, type Size, TILE } from '#core/raster/size.ts';
import type { Engine } from '#engine/engine.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';

/** A view drawn at one level of the pyramid, four bytes a pixel. */
export interface DrawnView extends Size {
  /** Scene pixels for one of it. */
  step: number;
  rgba: Uint8ClampedArray;
}

/** Draws a whole view at a level.
 * @param size - Of the scene.
 * @returns Undefined when it was not to be had now: a frame is missing, which the canvas tells of, or its pixels left. */
export async function drawnView(engine: Engine, view: View, size: Size, level: number): Promise<DrawnView | undefined> {
  const { width, height } = levelSize(size, level);
  const drawn = { width, height, step: 2 ** level, rgba: new Uint8ClampedArray(width * height * 4) };
  const tiles = allTiles(size, level);
  let come = 0;
  try {
    await engine.draw(Lane.Thumbs, view, level, tiles, (some) => {
      for (const { tx, ty, rgba } of some) {
        if (!rgba) continue;
        copyTile(rgba, drawn, tx * TILE, ty * TILE);
        come++;
      }
    });
  } catch {
    return undefined;
  }
  return come === tiles.length ? drawn : undefined;
}

/** A tile of a view at full size; undefined when it was not to be had now. */
export async function drawnTile(engine: Engine, view: View, tx: number, ty: number): Promise<DrawnView | undefined> {
  const tile = { width: TILE, height: TILE, step: 1, rgba: new Uint8ClampedArray(TILE * TILE * 4) };
  let hasCome = false;
  try {
    await engine.draw(Lane.Thumbs, view, 0, [{ tx, ty }], ([{ rgba }]) => {
      if (!rgba) return;
      copyTile(rgba, tile, 0, 0);
      hasCome = true;
    });
  } catch {
    return undefined;
  }
  return hasCome ? tile : undefined;
}

function copyTile(rgba: Uint8ClampedArray, { width, height, rgba: to }: DrawnView, x: number, y: number): void {
  const columns = Math.min(TILE, width - x);
  for (let row = 0; row < Math.min(TILE, height - y); row++)
    to.set(rgba.subarray(row * TILE * 4, (row * TILE + columns) * 4), ((y + row) * width + x) * 4);
}

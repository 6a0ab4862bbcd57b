import { type FrameNoise, measureNoise } from '#core/checks/frameNoise.ts';
import { type Size, tileGrid } from '#core/raster/size.ts';
import type { Engine } from '#engine/engine.ts';
import type { View } from '#engine/protocol.ts';
import { type DrawnView, drawnTile } from './drawnView.ts';

/** Places where tiles are looked at, as shares of the picture each way. */
const PLACES = [0.15, 0.5, 0.85];

/** Noise of what a view shows, from nine tiles of it at full size, in deviations of encoded values to five digits; undefined when nothing of
 * it tells, or its pixels were not to be had now.
 * @param size - Of the scene. */
export async function measuredNoise(engine: Engine, view: View, size: Size): Promise<FrameNoise | undefined> {
  const { columns, rows } = tileGrid(size, 0);
  const spots = new Map<string, [number, number]>();
  for (const y of PLACES)
    for (const x of PLACES) {
      const spot: [number, number] = [Math.floor(x * columns), Math.floor(y * rows)];
      spots.set(String(spot), spot);
    }
  const pieces: DrawnView[] = [];
  for (const [tx, ty] of spots.values()) {
    const tile = await drawnTile(engine, view, tx, ty);
    if (tile) pieces.push(tile);
  }
  const noise = measureNoise(pieces);
  const rounded = (deviation: number) => Number(deviation.toFixed(5));
  return noise && { brightness: rounded(noise.brightness), colour: rounded(noise.colour) };
}

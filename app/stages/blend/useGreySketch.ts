import type { GreySketch } from '#core/masks/borderWidth.ts';
import { levelCount, levelForScale, type Size, TILE } from '#core/raster/size.ts';
import type { View } from '#engine/protocol.ts';
import { type DrawnView, drawnTile, drawnView } from '../../drawing/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';

/** Longest side that is looked at, in pixels; a level has at most this many. */
const SIDE = 1100;

/** Views drawn at a coarse level, to read values from. */
export function useGreySketch(size: () => Size) {
  const engines = useEngine();

  /** A view as bytes; undefined when it is not to be had now. */
  async function drawnSketch(view: View): Promise<DrawnView | undefined> {
    const level = levelForScale(SIDE / Math.max(size().width, size().height), levelCount(size()));
    return drawnView((await engines.start()).engine, view, size(), level);
  }

  /** A grey view as one plane, 0..1. */
  async function sketchOf(view: View): Promise<GreySketch | undefined> {
    const drawn = await drawnSketch(view);
    return drawn && greyOf(drawn);
  }

  /** A tile of a grey view at full size, without what lies beyond the picture.
   * @param at - Where it begins, in scene pixels. */
  async function pieceOf(view: View, at: { x: number; y: number }): Promise<GreySketch | undefined> {
    const { engine } = await engines.start();
    const drawn = await drawnTile(engine, view, at.x / TILE, at.y / TILE);
    if (!drawn) return undefined;
    const width = Math.min(TILE, size().width - at.x);
    const height = Math.min(TILE, size().height - at.y);
    const { grey } = greyOf(drawn);
    const rows = Array.from({ length: height }, (_, y) => grey.subarray(y * TILE, y * TILE + width));
    return { width, height, step: 1, grey: Float32Array.from(rows.flatMap((row) => [...row])) };
  }

  return { drawnSketch, sketchOf, pieceOf };
}

const greyOf = ({ width, height, step, rgba }: DrawnView): GreySketch => ({
  width,
  height,
  step,
  grey: Float32Array.from({ length: width * height }, (_, i) => rgba[i * 4] / 255),
});

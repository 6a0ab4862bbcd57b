import type { GreySketch } from '#core/masks/channelRank.ts';
import { levelCount, levelForScale, type Size } from '#core/raster/size.ts';
import type { View } from '#engine/protocol.ts';
import { type DrawnView, drawnView } from '../../drawing/drawnView.ts';
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
    if (!drawn) return undefined;
    const { width, height, step, rgba } = drawn;
    return { width, height, step, grey: Float32Array.from({ length: width * height }, (_, i) => rgba[i * 4] / 255) };
  }

  return { drawnSketch, sketchOf };
}

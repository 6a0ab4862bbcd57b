import type { Size } from '#core/raster/size.ts';
import { useBench } from '../stores/bench.ts';

/** Looks at the picture at a scale, or at all of it.
 * @param size - Of the scene. */
export function useLoupe(size: () => Size | undefined) {
  const bench = useBench();

  /** About the middle of what is seen, or about a place. */
  function zoomTo(scale: number, at?: { x: number; y: number }): void {
    const { viewport } = bench.state;
    const whole = size();
    if (!whole) return;
    const middle = at ?? (viewport.fit ? { x: whole.width / 2, y: whole.height / 2 } : viewport);
    bench.state.viewport = { fit: false, scale, x: middle.x, y: middle.y };
  }

  function fit(): void {
    bench.state.viewport = { ...bench.state.viewport, fit: true };
  }

  return { zoomTo, fit };
}

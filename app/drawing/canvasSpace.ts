import type { WorkingSpace } from '#core/color/workingSpace.ts';
import { TILE } from '#core/raster/size.ts';
import type { CanvasSpace } from '#engine/protocol.ts';

let widest: CanvasSpace | undefined;

/** The colour space of canvases that show a scene: a wide one where the scene has use for it and the browser has one. */
export function canvasSpaceOf(space: WorkingSpace): CanvasSpace {
  if (space === 'srgb') return 'srgb';
  widest ??= widestSpace();
  return widest;
}

function widestSpace(): CanvasSpace {
  const context = new OffscreenCanvas(1, 1).getContext('2d', { colorSpace: 'display-p3' });
  const had = (context as unknown as CanvasRenderingContext2D | null)?.getContextAttributes?.().colorSpace;
  return had === 'display-p3' ? 'display-p3' : 'srgb';
}

/** A drawn tile for a canvas. */
export const tileImage = (rgba: Uint8ClampedArray<ArrayBuffer>, colorSpace: CanvasSpace): ImageData =>
  new ImageData(rgba, TILE, TILE, { colorSpace });

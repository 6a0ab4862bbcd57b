import { gaussianTaps } from '../../kernels/gaussian.ts';
import { rememberFew } from '../../raster/rememberFew.ts';
import { TILE } from '../../raster/size.ts';
import { type Area, placeIn } from './neighbourhood.ts';
import type { RenderContext, Spot } from './renderContext.ts';

/** All tiles of a picture ask for the same. */
const tapsOf = rememberFew(64, gaussianTaps);

/** Blurs what a tile shows of an area, and nothing else of it: as much around it as {@link blurMargin} says has to be there.
 * @param plane - The area's.
 * @param spares - Two planes of undefined content, as long.
 * @param sigmaPx - Standard deviation in pixels of the area, above 0.
 * @param unit - What 1 becomes.
 * @param outs - The tile's rows from above, as many as they hold; overwritten. */
export function blurTile(
  plane: Float32Array,
  spares: readonly [Float32Array, Float32Array],
  { area, spot, sigmaPx, unit = 1 }: { area: Area; spot: Spot; sigmaPx: number; unit?: number },
  outs: readonly Float32Array[],
  { kernels, scratch }: RenderContext,
): void {
  const { step, x, y } = placeIn(area, spot);
  const taps = tapsOf(sigmaPx);
  const around = { taps: scratch.within(taps), reach: taps.length - 1, unit };
  const [between, blurred] = spares;
  // One more on each side, to read between.
  const inside = TILE / step;
  const part = { x: x - 1, y: y - 1, width: 4 * Math.ceil((inside + 2) / 4), height: inside + 2 };
  kernels.weighAround(around, plane, area.side, part, between, blurred);
  let row = 1;
  for (const out of outs) {
    kernels.enlarge(blurred, part.width, 1, row, step, out);
    row += out.length / TILE / step;
  }
}

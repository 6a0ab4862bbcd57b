import type { NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { type Area, placeIn } from '../tiles/neighbourhood.ts';
import { keepBriefly, planeOf, type RenderContext, reserveOrFail, type Spot } from '../tiles/renderContext.ts';

/** Lines over an area, by which tones become something else: `slope x tone + offset`, all in 0..1. */
interface Lines {
  slope: Float32Array;
  offset: Float32Array;
}

/** Makes a tile, one plane, of tones by lines that were found over an area, perhaps of a coarser level (He and Sun 2015, "Fast guided
 * filter").
 * @param tones - Their tile, one plane. */
export function publishByLines(
  { slope, offset }: Lines,
  area: Area,
  tones: PinnedTile,
  spot: Spot,
  key: NodeKey,
  context: RenderContext,
): PinnedTile {
  const { kernels, scratch } = context;
  const { step, x, y } = placeIn(area, spot);
  return scratch.lend(2, (fineSlope, fineOffset) => {
    kernels.enlarge(slope, area.side, x, y, step, fineSlope);
    kernels.enlarge(offset, area.side, x, y, step, fineOffset);
    const plane = planeOf(tones, 0, context);
    return publishPlane(spot, key, context, (out) => kernels.codesByLines(fineSlope, fineOffset, plane, out));
  });
}

/** Makes a tile that is the same all over.
 * @param value - 0..1. */
export const publishEven = (value: number, spot: Spot, key: NodeKey, context: RenderContext): PinnedTile =>
  publishPlane(spot, key, context, (out) => out.fill(Math.round(value * 65535)));

function publishPlane(spot: Spot, key: NodeKey, context: RenderContext, write: (out: Uint16Array) => void): PinnedTile {
  const slots = reserveOrFail(context, 1);
  write(context.table.slab.plane(slots[0]));
  return keepBriefly(context, key, spot, { form: 'planes', slots });
}

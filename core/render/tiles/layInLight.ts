import type { RgbFloats } from '../../kernels/planes.ts';
import { modeNumber } from '../../modes/list.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { type LaidPicture, type PictureForm, readLight, writeLight, writeLightRounded } from './pictureTile.ts';
import { planeOf, type RenderContext } from './renderContext.ts';

/** Light of a picture's tile as modes take it: 0..65535, white being the last.
 * @param out - Overwritten. */
export function readScaledLight(tile: PinnedTile, out: RgbFloats, context: RenderContext): void {
  readLight(tile, out, context);
  scale(out, 65535, context);
}

/** Writes light 0..65535 into a tile's slots, as encoded floats. */
export function writeScaledLight(planes: RgbFloats, slots: readonly number[], context: RenderContext): void {
  scale(planes, 1 / 65535, context);
  writeLight(planes, slots, context);
}

/** Lays pictures over one, mixing light instead of encoded values, and writes what comes out into slots, rounded if the form says so. */
export function layInLight(
  base: PinnedTile,
  laid: readonly LaidPicture[],
  context: RenderContext,
  { form, slots }: { form: PictureForm; slots: readonly number[] },
): void {
  context.scratch.lend(6, (...planes) => {
    const [r, g, b, ...upper] = planes;
    const now: RgbFloats = [r, g, b];
    const above: RgbFloats = [upper[0], upper[1], upper[2]];
    readScaledLight(base, now, context);
    for (const { tile, mask, opacity, mode } of laid) {
      readScaledLight(tile, above, context);
      context.kernels.blendOver(modeNumber(mode), now, above, planeOf(mask, 0, context), opacity, null, now);
    }
    if (form === 'floats') return writeScaledLight(now, slots, context);
    scale(now, 1 / 65535, context);
    writeLightRounded(now, slots, context);
  });
}

function scale(planes: RgbFloats, by: number, { kernels }: RenderContext): void {
  for (const plane of planes) kernels.scaleFloats(plane, by, plane);
}

import { ENCODING, type EncodedRun } from '../../color/encodedSteps.ts';
import type { Surroundings } from '../../color/surroundings.ts';
import { ALONE, type Through } from '../../kernels/encodedSteps.ts';
import type { RgbFloats } from '../../kernels/planes.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { CHANNELS, floatsOf, HALF, type Half, halfMask, halfOf, halvesIn, writeLight } from './pictureTile.ts';
import type { Overlaid, RenderContext } from './renderContext.ts';

/** Tiles of pictures that change others, laid over those while they are made: nobody looks at them by themselves, and to keep them and read them
 * again takes as long as to make them. */

const throughOf = (over: Overlaid | undefined, which: Half, context: RenderContext): Through =>
  over ? { mask: halfMask(over, which, context), opacity: over.opacity } : ALONE;

/** Writes planes of linear light into a tile's slots, as encoded floats.
 * @param over - What they are laid over; nothing, if it is not told. */
export function layLight(
  light: RgbFloats,
  over: Overlaid | undefined,
  slots: readonly number[],
  context: RenderContext,
): void {
  if (!over) {
    writeLight(light, slots, context);
    return;
  }
  const { kernels, scratch } = context;
  const table = scratch.within(ENCODING);
  const reading = { unit: 1, least: Number.NEGATIVE_INFINITY };
  for (const which of halvesIn(slots)) {
    const out = halfOf({ slots }, which, context);
    const below = floatsOf(over.below, which, out, context);
    const through = throughOf(over, which, context);
    for (const channel of CHANNELS)
      kernels.mixMapped(table, reading, light[channel], below[channel], through, out[channel], which * HALF);
  }
}

/** Writes what steps make of a picture's tile into slots, as encoded floats.
 * @param around - What they look at besides, by half.
 * @param over - What it is laid over; nothing, if it is not told. */
export function layEncoded(
  run: EncodedRun,
  tile: PinnedTile,
  around: (which: Half) => Surroundings,
  over: Overlaid | undefined,
  slots: readonly number[],
  context: RenderContext,
): void {
  const { kernels, scratch } = context;
  const tools = { kernels, within: (table: Float32Array) => scratch.within(table) };
  scratch.lendHalves(6, (planes) => {
    const [r, g, b, ...rest] = planes;
    for (const which of halvesIn(slots)) {
      const values = floatsOf(tile, which, [r, g, b], context);
      const below = over ? floatsOf(over.below, which, [rest[0], rest[1], rest[2]], context) : values;
      run(values, below, around(which), throughOf(over, which, context), halfOf({ slots }, which, context), tools);
    }
  });
}

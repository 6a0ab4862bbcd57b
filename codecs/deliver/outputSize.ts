import { z } from 'zod';
import type { Size } from '#core/raster/size.ts';

/** How large a picture is written. */
export const OutputSize = z.strictObject({
  by: z.enum(['full', 'long', 'megapixels', 'percent']),
  /** Pixels of the long side, megapixels, or per cent. */
  value: z.number().positive().max(1e6),
  /** It may become larger than it is. */
  enlarge: z.boolean(),
});
export type OutputSize = z.infer<typeof OutputSize>;

export const FULL_SIZE: OutputSize = { by: 'full', value: 100, enlarge: false };

/** The size in which a picture is written, at least one pixel each way, in its own ratio. */
export function outputSize({ width, height }: Size, { by, value, enlarge }: OutputSize): Size {
  const factor = {
    full: 1,
    long: value / Math.max(width, height),
    megapixels: Math.sqrt((value * 1e6) / (width * height)),
    percent: value / 100,
  }[by];
  const taken = enlarge ? factor : Math.min(1, factor);
  return { width: Math.max(1, Math.round(width * taken)), height: Math.max(1, Math.round(height * taken)) };
}

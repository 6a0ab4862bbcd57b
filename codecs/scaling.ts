import type Vips from 'wasm-vips';
import type { Size } from '#core/raster/size.ts';
import { DecodeError } from './decodeError.ts';
import type { Keep } from './vipsModule.ts';

/** Proportions that may differ for a picture to be scaled: of what cameras write, a row or two more or less. */
const SAME_PROPORTIONS = 0.01;

/** A picture brought to the size that it is to be read with (Lanczos, three lobes).
 * @param to - Null for its own.
 * @throws {DecodeError} `size-differs` when it would be squashed. */
export function scaled(image: Vips.Image, to: Size | null, keep: Keep): Vips.Image {
  if (!to || (to.width === image.width && to.height === image.height)) return image;
  assertProportions(image, to);
  return keep(image.resize(to.width / image.width, { vscale: to.height / image.height, kernel: 'lanczos3' }));
}

/** @throws {DecodeError} `size-differs` when a picture of one size would be squashed to another. */
export function assertProportions({ width, height }: Size, to: Size): void {
  if (Math.abs(to.width / width / (to.height / height) - 1) > SAME_PROPORTIONS)
    throw new DecodeError('size-differs', `${width} x ${height} has other proportions`);
}

import type { OutputSpace } from '#core/color/workingSpace.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues } from '#core/scene/frame.ts';
import { joinBytes } from '../joinBytes.ts';
import type { VipsModule } from '../vipsModule.ts';
import type { FileSettings } from './formats/list.ts';
import { feedOf, type WriteOptions, writePicture } from './writePicture.ts';

/** A picture that lies in memory as a file that does, as it is.
 * @param image - Interleaved RGB, 16 bits, encoded with the curve of sRGB.
 * @param exif - How it was taken. */
export function encodeWhole(
  vips: VipsModule,
  image: Uint16Array,
  size: Size,
  { file, space = 'srgb', exif }: { file: FileSettings; space?: OutputSpace; exif?: ExifValues },
): Uint8Array<ArrayBuffer> {
  const tells = { camera: true, place: false, space };
  const options: WriteOptions = {
    file,
    size,
    space,
    exif: exif && { values: exif, tells },
    sharpening: { for: 'screen', amount: 0 },
    dither: false,
  };
  return encodeBy(vips, image, size, options);
}

/** The same, scaled, sharpened and converted as it is told.
 * @param size - Of the picture that lies in memory. */
export function encodeBy(
  vips: VipsModule,
  image: Uint16Array,
  size: Size,
  options: WriteOptions,
): Uint8Array<ArrayBuffer> {
  const pieces: Uint8Array<ArrayBuffer>[] = [];
  const written = writePicture(vips, feedOf(image, size, 3), options, (bytes) => pieces.push(bytes));
  if (written && 'header' in written) pieces[0] = written.header;
  return joinBytes(pieces);
}

import type { ReadingWish } from '#core/reading.ts';
import { recogniseFormat } from './format.ts';
import type { Libraries } from './libraries.ts';
import type { OpenPicture } from './picture.ts';
import { openRaw } from './rawPicture.ts';
import { openHeic, openVips } from './vipsPicture.ts';

/** Looks into a file.
 * @param bytes - The whole file.
 * @throws {DecodeError} */
export async function openPicture(libraries: Libraries, bytes: Uint8Array, reading: ReadingWish): Promise<OpenPicture> {
  const format = recogniseFormat(bytes);
  if (format === 'raw' || format === 'dng')
    return openRaw(await libraries.raw(), bytes, format, reading, libraries.vips);
  if (format === 'heic') return openHeic(await libraries.vips(), await libraries.heif(), bytes, reading);
  const vips = await (format === 'avif' || format === 'jxl' ? libraries.vipsMore() : libraries.vips());
  return openVips(vips, bytes, format, reading);
}

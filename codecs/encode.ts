import type { OutputSpace } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import type { ExifValues } from '#core/scene/frame.ts';
import { buildExifBlock } from './exifBlock.ts';
import { addExifToTiff } from './tiffExif.ts';
import { profilePath, type VipsModule } from './vipsModule.ts';

export type OutputFormat = 'tiff' | 'png' | 'jpeg';

export interface EncodeOptions {
  format: OutputFormat;
  /** JPEG quality, 1 to 100. */
  quality: number;
  /** The space that the picture is in, whose profile is written with it. */
  space: OutputSpace;
}

/** Encodes a picture with its profile and EXIF. TIFF and PNG keep 16 bits; JPEG rounds to 8.
 * @param image - Interleaved RGB, 16 bits, encoded with the sRGB curve.
 * @param onProgress - Told the share that is done, 0..1, every few per cent.
 * @returns The whole file. */
export function encodeImage(
  vips: VipsModule,
  image: Uint16Array,
  size: { width: number; height: number },
  options: EncodeOptions,
  exif: ExifValues,
  onProgress: (share: number) => void = () => undefined,
): Uint8Array {
  const exifBlock = buildExifBlock(exif);
  const profile = options.space === 'srgb' ? 'srgb' : profilePath(vips, options.space, writeProfile);
  const shallow = options.format === 'jpeg';
  const raw = shallow ? toEightBits(image) : image;
  const plain = vips.Image.newFromMemory(
    raw,
    size.width,
    size.height,
    3,
    shallow ? vips.BandFormat.uchar : vips.BandFormat.ushort,
  );
  const marked = plain.copy({ interpretation: shallow ? 'srgb' : 'rgb16' });
  let told = 0;
  marked.onProgress = (percent) => {
    if (percent < told + 2) return;
    told = percent;
    onProgress(Math.min(1, percent / 100));
  };
  try {
    if (options.format === 'tiff') {
      return addExifToTiff(
        marked.tiffsaveBuffer({ compression: 'deflate', predictor: 'horizontal', profile }),
        exifBlock,
      );
    }
    marked.setBlob('exif-data', withMarker(exifBlock));
    if (options.format === 'png') return marked.pngsaveBuffer({ compression: 6, filter: 'all', profile });
    return marked.jpegsaveBuffer({
      Q: options.quality,
      optimize_coding: true,
      subsample_mode: options.quality >= 90 ? 'off' : 'auto',
      profile,
    });
  } finally {
    marked.delete();
    plain.delete();
  }
}

function toEightBits(image: Uint16Array): Uint8Array {
  const out = new Uint8Array(image.length);
  for (let i = 0; i < image.length; i++) out[i] = (image[i] + 128) / 257;
  return out;
}

function withMarker(block: Uint8Array): Uint8Array {
  const out = new Uint8Array(block.length + 6);
  out.set([0x45, 0x78, 0x69, 0x66, 0, 0]); // "Exif", two zeros
  out.set(block, 6);
  return out;
}

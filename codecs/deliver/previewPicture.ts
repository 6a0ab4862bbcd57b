import type Vips from 'wasm-vips';
import type { Size } from '#core/raster/size.ts';
import { type Keep, keeper, type VipsModule } from '../vipsModule.ts';
import { encodeBy, encodeWhole } from './encodeWhole.ts';
import { formatOf, restOf } from './formats/list.ts';
import type { WriteOptions } from './writePicture.ts';

/** A piece of a picture as a file will hold it. */
export interface Preview {
  size: Size;
  /** Bytes of the piece as a file of its own. */
  bytes: number;
  /** Bytes of the smallest file of that kind: its headers, texts and profile. */
  least: number;
  /** RGBA in sRGB: scaled and sharpened, but not yet in the file; and read back from it. Nothing where only bytes are asked for. */
  plain?: Uint8ClampedArray<ArrayBuffer>;
  written?: Uint8ClampedArray<ArrayBuffer>;
}

/** Writes a piece of a picture as its file will be, and reads it back.
 * @param image - Interleaved RGB, 16 bits, encoded with the curve of sRGB.
 * @param isShown - Whether it is to be looked at, or only weighed.
 * @throws {DecodeError} as `writePicture` does. */
export function previewPicture(
  vips: VipsModule,
  image: Uint16Array,
  size: Size,
  options: WriteOptions,
  isShown: boolean,
): Preview {
  const file = encodeBy(vips, image, size, options);
  const least = leastOf(vips, options);
  if (!isShown) return { size: options.size, bytes: file.length, least };
  const isLossy = formatOf(options.file.format).isLossy(options.file);
  const lossless = isLossy
    ? encodeBy(vips, image, size, { ...options, file: { ...restOf('png'), bits: 8, effort: 1 } })
    : file;
  return {
    size: options.size,
    bytes: file.length,
    least,
    plain: shownOf(vips, lossless),
    written: isLossy ? shownOf(vips, file) : undefined,
  };
}

const SPECK = { width: 8, height: 8 };

const leastOf = (vips: VipsModule, { file, space, exif }: WriteOptions): number =>
  encodeWhole(vips, new Uint16Array(SPECK.width * SPECK.height * 3), SPECK, { file, space, exif: exif?.values }).length;

/** RGBA in sRGB of a file. */
function shownOf(vips: VipsModule, file: Uint8Array): Uint8ClampedArray<ArrayBuffer> {
  const { keep, close } = keeper();
  try {
    const image = keep(vips.Image.newFromBuffer(file));
    const shown = inEightBits(image, keep);
    const opaque = keep(shown.bandjoin(255));
    return new Uint8ClampedArray(opaque.writeToMemory());
  } finally {
    close();
  }
}

function inEightBits(image: Vips.Image, keep: Keep): Vips.Image {
  const hasProfile = image.getTypeof('icc-profile-data') !== 0;
  const shown = hasProfile
    ? keep(image.iccTransform('srgb', { embedded: true, depth: 8, black_point_compensation: true }))
    : keep(image.colourspace('srgb'));
  return shown.format === 'uchar' ? shown : keep(shown.cast('uchar'));
}

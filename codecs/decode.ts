import type Vips from 'wasm-vips';
import { DecodeError } from './decodeError.ts';
import { type FileFormat, recogniseFormat } from './format.ts';
import { type VipsModule, vipsMessage } from './vipsModule.ts';

export interface DecodedSize {
  format: FileFormat;
  width: number;
  height: number;
  bits: 8 | 16;
}

export interface DecodeSteps {
  /** Told before any pixel is decoded; may throw to refuse, or answer that the pixels are not wanted. Told again when the
   * file has to be read anew from its top. */
  onSize: (size: DecodedSize) => 'wanted' | 'known';
  /** The picture's bytes in order: interleaved RGB, sRGB, one byte a sample or two (low byte first), cut anywhere. The
   * array is not the callee's to keep. */
  onBytes: (bytes: Uint8Array) => void;
  /** Asked now and then. */
  isCancelled: () => boolean;
}

/** Rows that are decoded at a time. */
const STRIP_ROWS = 128;

/** Largest picture that is decoded: 300 megapixels, beyond any camera of the trade. */
const MAX_PIXELS = 300e6;

/** Decodes a file from top to bottom, upright, as sRGB.
 * @param bytes - The whole file.
 * @throws {DecodeError} */
export function decodeFrame(vips: VipsModule, bytes: Uint8Array, steps: DecodeSteps): DecodedSize {
  const format = recogniseFormat(bytes);
  try {
    return decodeBy(readStrips, vips, bytes, format, steps);
  } catch (error) {
    if (error instanceof Error && !(error instanceof UnfitForStrips)) throw error;
  }
  try {
    return decodeBy(readStream, vips, bytes, format, steps);
  } catch (error) {
    if (error instanceof Error) throw error;
    throw new DecodeError('damaged', vipsMessage(error));
  }
}

/** Hands all bytes of a picture to the steps. */
type Read = (vips: VipsModule, image: Vips.Image, size: DecodedSize, steps: DecodeSteps) => void;

function decodeBy(
  read: Read,
  vips: VipsModule,
  bytes: Uint8Array,
  format: FileFormat,
  steps: DecodeSteps,
): DecodedSize {
  const kept: { delete(): void }[] = [];
  const keep = <T extends { delete(): void }>(object: T): T => {
    kept.push(object);
    return object;
  };
  try {
    const image = openUpright(vips, bytes, keep);
    const size = checkedSize(image, format);
    if (steps.onSize(size) === 'wanted') read(vips, toRgb(image, size, keep), size, steps);
    return size;
  } finally {
    for (const object of kept.reverse()) object.delete();
  }
}

/** The library could not go on strip by strip, whatever the reason. */
class UnfitForStrips extends Error {}

/** Reads strip by strip, in half the time that the library takes to write a picture out. It forgets what it has decoded
 * after each strip, which some layouts of files do not allow: then all has to be read anew in one go. */
function readStrips(_vips: VipsModule, image: Vips.Image, size: DecodedSize, steps: DecodeSteps): void {
  for (let y = 0; y < size.height; y += STRIP_ROWS) {
    if (steps.isCancelled()) throw new DecodeError('cancelled', `after ${y} of ${size.height} rows`);
    const strip = image.crop(0, y, image.width, Math.min(STRIP_ROWS, size.height - y));
    let memory: ArrayBufferView;
    try {
      memory = strip.writeToMemory();
    } catch (error) {
      throw new UnfitForStrips(vipsMessage(error));
    } finally {
      strip.delete();
    }
    steps.onBytes(new Uint8Array(memory.buffer as ArrayBuffer, memory.byteOffset, memory.byteLength));
  }
}

/** Reads in one go, as the library writes the picture out row by row. */
function readStream(vips: VipsModule, image: Vips.Image, size: DecodedSize, steps: DecodeSteps): void {
  const expected = size.width * size.height * 3 * (size.bits / 8);
  const target = new vips.TargetCustom();
  let refusal: unknown;
  let taken = 0;
  target.onWrite = (data) => {
    try {
      if (steps.isCancelled()) throw new DecodeError('cancelled', `after ${taken} of ${expected} bytes`);
      taken += data.length;
      steps.onBytes(data);
      return data.length;
    } catch (error) {
      refusal = error; // errors may not cross the library: remember, and make it stop
      return -1;
    }
  };
  try {
    image.rawsaveTarget(target);
  } catch (error) {
    throw refusal ?? error;
  } finally {
    target.delete();
  }
  if (refusal) throw refusal;
  if (taken !== expected) throw new DecodeError('damaged', `${taken} of ${expected} bytes`);
}

type Keep = <T extends { delete(): void }>(object: T) => T;

function openUpright(vips: VipsModule, bytes: Uint8Array, keep: Keep): Vips.Image {
  const open = (access: 'sequential' | 'random') => {
    let at = 0;
    const source = keep(new vips.SourceCustom());
    source.onRead = (length) => {
      const piece = bytes.subarray(at, at + length);
      at += piece.length;
      return piece;
    };
    source.onSeek = (offset, whence) => {
      at = whence === 0 ? offset : whence === 1 ? at + offset : bytes.length + offset;
      return at;
    };
    return keep(vips.Image.newFromSource(source, '', { access, fail_on: 'error' }));
  };
  const image = open('sequential');
  const turned = image.getTypeof('orientation') !== 0 && image.getInt('orientation') > 1;
  return turned ? keep(open('random').autorot()) : image;
}

function checkedSize(image: Vips.Image, format: FileFormat): DecodedSize {
  const { width, height } = image;
  if (width * height > MAX_PIXELS) throw new DecodeError('too-large', `${width} x ${height} pixels`);
  if (image.format !== 'uchar' && image.format !== 'ushort')
    throw new DecodeError('unsupported', `samples of type ${image.format}`);
  if (image.interpretation === 'cmyk' || image.interpretation === 'lab')
    throw new DecodeError('unsupported', `${image.interpretation} colours`);
  return { format, width, height, bits: image.format === 'uchar' ? 8 : 16 };
}

/** Three bands in sRGB. A profile that is not sRGB itself is converted; alpha is dropped, grey becomes equal bands. */
function toRgb(image: Vips.Image, { bits }: DecodedSize, keep: Keep): Vips.Image {
  let rgb = image;
  if (image.getTypeof('icc-profile-data') !== 0 && !isSrgbProfile(image.getBlob('icc-profile-data'))) {
    rgb = keep(
      image.iccTransform('srgb', { embedded: true, depth: bits, intent: 'relative', black_point_compensation: true }),
    );
  }
  if (rgb.bands >= 3) return rgb.bands === 3 ? rgb : keep(rgb.extractBand(0, { n: 3 }));
  const grey = rgb.bands === 1 ? rgb : keep(rgb.extractBand(0));
  return keep(grey.bandjoin([grey, grey]));
}

/** Whether a profile names itself sRGB, in either of the encodings that profiles use for their description. */
function isSrgbProfile(profile: Uint8Array): boolean {
  const text = String.fromCharCode(...profile.subarray(0, 2048)).replaceAll('\0', '');
  return /sRGB/.test(text);
}

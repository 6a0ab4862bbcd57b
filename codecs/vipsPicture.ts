import type Vips from 'wasm-vips';
import { type IccProfile, readIccProfile } from '#core/color/iccProfile.ts';
import type { ReadingWish } from '#core/reading.ts';
import { DecodeError } from './decodeError.ts';
import type { FileFormat } from './format.ts';
import { type HeifModule, readHeic } from './heicPicture.ts';
import { isoProfile } from './isoColour.ts';
import { assertSize, type DecodeSteps, type OpenPicture, STRIP_ROWS } from './picture.ts';
import { planRows, type RowPlan } from './rowPlan.ts';
import { scaled } from './scaling.ts';
import { type Keep, keeper, type VipsModule, vipsMessage } from './vipsModule.ts';

/** Looks into a file with the general decoder library.
 * @throws {DecodeError} */
export function openVips(vips: VipsModule, bytes: Uint8Array, format: FileFormat, reading: ReadingWish): OpenPicture {
  const { keep, close } = keeper();
  const open = () => openUpright(vips, bytes, format, keep);
  const coded = format === 'avif' ? isoProfile(bytes) : undefined;
  return openImages(vips, { format, open, coded, keep, close }, reading);
}

/** Looks into a HEIC file, whose pixels a library of its own decodes at once.
 * @throws {DecodeError} */
export async function openHeic(
  vips: VipsModule,
  heif: HeifModule,
  bytes: Uint8Array,
  reading: ReadingWish,
): Promise<OpenPicture> {
  const { keep, close } = keeper();
  try {
    const image = await readHeic(heif, vips, bytes, keep);
    return openImages(vips, { format: 'heic', open: () => image, coded: isoProfile(bytes), keep, close }, reading);
  } catch (error) {
    close();
    throw asDecodeError(error);
  }
}

/** Where pixels come from. */
interface ImageSource {
  format: FileFormat;
  /** Opens the picture for one pass: one that is read from its top has to be opened anew for every pass. */
  open: () => Vips.Image;
  /** The profile that the file has besides what the library knows of it. */
  coded: IccProfile | undefined;
  keep: Keep;
  close: () => void;
}

function openImages(
  vips: VipsModule,
  { format, open: openWhole, coded, keep, close }: ImageSource,
  reading: ReadingWish,
): OpenPicture {
  const open = () => scaled(openWhole(), reading.scaleTo, keep);
  try {
    const image = open();
    assertSize(image.width, image.height);
    const profile = profileOf(image) ?? coded;
    const plan = planRows(vips, image, open, profile, reading, keep);
    return {
      format,
      width: image.width,
      height: image.height,
      fileBits: fileBitsOf(image),
      bits: plan.bits,
      profile: profile?.name ?? null,
      headroom: plan.headroom,
      space: plan.space,
      exif: exifOf(image),
      shot: {},
      decode: (steps) => decode(vips, plan, steps),
      close,
    };
  } catch (error) {
    close();
    throw asDecodeError(error);
  }
}

const asDecodeError = (error: unknown) =>
  error instanceof Error ? error : new DecodeError('damaged', vipsMessage(error));

function fileBitsOf(image: Vips.Image): 8 | 16 | 32 {
  if (image.format === 'float' || image.format === 'double') return 32;
  return image.format === 'uchar' ? 8 : 16;
}

function profileOf(image: Vips.Image): IccProfile | undefined {
  if (image.getTypeof('icc-profile-data') === 0) return undefined;
  return readIccProfile(new Uint8Array(image.getBlob('icc-profile-data')));
}

function exifOf(image: Vips.Image): Uint8Array<ArrayBuffer> | null {
  return image.getTypeof('exif-data') === 0 ? null : new Uint8Array(image.getBlob('exif-data')).slice(6);
}

/** Formats that the library can only read as a whole turn pictures upright by themselves. */
const UPRIGHT_BY_ITSELF: readonly FileFormat[] = ['avif', 'jxl'];

function openUpright(vips: VipsModule, bytes: Uint8Array, format: FileFormat, keep: Keep): Vips.Image {
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
  if (turned && !UPRIGHT_BY_ITSELF.includes(format)) {
    assertSize(image.width, image.height); // turning takes the whole picture into memory
    return keep(open('random').autorot());
  }
  return image.coding === 'rad' ? keep(image.rad2float()) : image;
}

/** The library could not go on strip by strip, whatever the reason. */
class UnfitForStrips extends Error {}

function decode(vips: VipsModule, plan: RowPlan, steps: DecodeSteps): void {
  try {
    readStrips(plan, steps);
    return;
  } catch (error) {
    if (!(error instanceof UnfitForStrips)) throw asDecodeError(error);
  }
  try {
    readStream(vips, plan, steps);
  } catch (error) {
    throw asDecodeError(error);
  }
}

/** Reads strip by strip, in half the time that the library takes to write a picture out. It forgets what it has decoded
 * after each strip, which some layouts of files do not allow: then all has to be read anew in one go. */
function readStrips({ open, convert }: RowPlan, steps: DecodeSteps): void {
  const image = open();
  steps.onStart();
  for (let y = 0; y < image.height; y += STRIP_ROWS) {
    if (steps.isCancelled()) throw new DecodeError('cancelled', `after ${y} of ${image.height} rows`);
    const strip = image.crop(0, y, image.width, Math.min(STRIP_ROWS, image.height - y));
    let memory: ArrayBufferView;
    try {
      memory = strip.writeToMemory();
    } catch (error) {
      throw new UnfitForStrips(vipsMessage(error));
    } finally {
      strip.delete();
    }
    steps.onBytes(convert(new Uint8Array(memory.buffer as ArrayBuffer, memory.byteOffset, memory.byteLength)));
  }
}

/** Reads in one go, as the library writes the picture out row by row. */
function readStream(vips: VipsModule, { open, convert, pixelBytes }: RowPlan, steps: DecodeSteps): void {
  const image = open();
  const expected = image.width * image.height * pixelBytes;
  const target = new vips.TargetCustom();
  let refusal: unknown;
  let taken = 0;
  const inPixels = wholePixels(pixelBytes, (pixels) => steps.onBytes(convert(pixels)));
  steps.onStart();
  target.onWrite = (data) => {
    try {
      if (steps.isCancelled()) throw new DecodeError('cancelled', `after ${taken} of ${expected} bytes`);
      taken += data.length;
      inPixels(data);
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

/** Cuts a stream of bytes between pixels. */
function wholePixels(pixelBytes: number, take: (pixels: Uint8Array) => void): (bytes: Uint8Array) => void {
  let rest = new Uint8Array(0);
  return (bytes) => {
    const joined = new Uint8Array(rest.length + bytes.length);
    joined.set(rest);
    joined.set(bytes, rest.length);
    const whole = joined.length - (joined.length % pixelBytes);
    rest = joined.slice(whole);
    if (whole > 0) take(joined.subarray(0, whole));
  };
}

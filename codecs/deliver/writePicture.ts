import type Vips from 'wasm-vips';
import type { OutputSpace } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues } from '#core/scene/frame.ts';
import { DecodeError } from '../decodeError.ts';
import { buildExifBlock, type ExifContents } from '../exifBlock.ts';
import { type Keep, keeper, profilePath, type VipsModule, vipsMessage } from '../vipsModule.ts';
import type { FormatDefinition } from './defineFormat.ts';
import { type FileSettings, formatOf } from './formats/list.ts';
import { jxlHead } from './jxlBoxes.ts';
import { openTarget, PieceStore, wholeFile } from './memoryTarget.ts';
import { preparePicture, type SHARPENINGS } from './preparePicture.ts';
import { openRows, type RowFeed, sampleBytes } from './rowSource.ts';
import type { Directory } from './tiffFile.ts';
import { type Written, writeTiff } from './writeTiff.ts';

/** How a picture is written. */
export interface WriteOptions {
  file: FileSettings;
  /** As it is written. */
  size: Size;
  sharpening: { for: keyof typeof SHARPENINGS; amount: number };
  /** The space that the picture comes in. */
  space: OutputSpace;
  /** A profile of the user's that it is converted to. */
  own?: { profile: Uint8Array; intent: 'relative' | 'perceptual'; blackPoint: boolean };
  dither: boolean;
  /** Shot data, and what of it is told. */
  exif?: { values: ExifValues; tells: ExifContents };
  /** An XMP packet. */
  xmp?: Uint8Array;
  /** Fields that its page gets besides, when it is a TIFF. */
  page?: Directory;
  /** Its pieces are handed on while they are written, however large it is; if it is not told, those of large ones are. */
  inPieces?: boolean;
  /** It becomes a page of a file that is put together elsewhere: pixels are handed on as they are, and its directory is returned. */
  isPart?: boolean;
}

/** Writes a picture to a file as its rows come. What it takes in memory is some rows, and the file as it is compressed unless that is large; of
 * AVIF, JPEG XL and WebP the picture as a whole.
 * @param onBytes - Takes the pieces of the file in order; each is its own.
 * @throws {DecodeError} `unsupported` for what the format cannot hold, or whatever the rows threw.
 * @throws {Error} when its writer fails. */
export function writePicture(
  vips: VipsModule,
  feed: RowFeed,
  options: WriteOptions,
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): Written {
  const format = formatOf(options.file.format);
  assertFits(options);
  const { keep, close } = keeper();
  let refusal: unknown;
  const exif = options.exif && buildExifBlock(options.exif.values, options.exif.tells);
  try {
    const samples = format.samples(options.file);
    const rows = openRows(vips, feed, keep, (error) => {
      refusal = error;
    });
    const own = options.own && {
      ...options.own,
      path: ownProfile(vips, options.own.profile),
      from: profilePath(vips, options.space, writeProfile),
    };
    const prepared = preparePicture(vips, rows, feed.kind, { ...options, own, samples }, keep);
    const isGrey = feed.channels === 1;
    const marked = keep(prepared.copy());
    if (marked.getTypeof('icc-profile-data') !== 0) marked.remove('icc-profile-data');
    const { format: name } = options.file;
    if (name !== 'tiff' && name !== 'jxl' && exif) marked.setBlob('exif-data', withMarker(exif));
    if (name !== 'jxl' && options.xmp) marked.setBlob('xmp-data', options.xmp);
    const profile = isGrey ? 'none' : (own?.path ?? profileOf(vips, options.space, samples === 'light'));
    // Left to itself the library would encode light first.
    const coded = format.saver === 'radsave' ? keep(marked.float2rad()) : marked;
    const pixels = Math.max(feed.width * feed.height, options.size.width * options.size.height);
    const { inPieces = pixels * feed.channels * sampleBytes(feed.kind) > LARGE_BYTES } = options;
    const settings = format.options(options.file, profile);
    if (name === 'tiff') {
      const { page, isPart } = options;
      return writeTiff(vips, coded, { settings, exif, page, inPieces, isPart }, onBytes, () => {
        if (refusal) throw refusal;
      });
    }
    const file = write(vips, coded, format, settings, inPieces, keep, onBytes);
    if (refusal) throw refusal;
    if (file) finishOther(file, name === 'jxl' ? { exif, xmp: options.xmp } : undefined, onBytes);
    return undefined;
  } catch (error) {
    throw refusal ?? (error instanceof Error ? error : new Error(vipsMessage(error)));
  } finally {
    close();
  }
}

/** Pictures of more bytes than this are handed on while they are written: a file in the library's memory doubles its room whenever it grows, and of
 * two gigabytes several of them leave no hole for the next. */
const LARGE_BYTES = 300e6;

/** A file that was written, but for what this program adds. */
type WrittenFile = Pick<PieceStore, 'length' | 'at' | 'take'>;

/** Has the library write.
 * @returns The file; undefined when its pieces were handed on already. */
function write(
  vips: VipsModule,
  image: Vips.Image,
  { saver, jumps }: FormatDefinition,
  options: Record<string, string | number | boolean>,
  inPieces: boolean,
  keep: Keep,
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): WrittenFile | undefined {
  const writers = image as unknown as Record<string, (...of: unknown[]) => Uint8Array<ArrayBuffer>>;
  // Handing on costs half as much again: encoders write thousands of small pieces, each from another thread.
  if (!inPieces) return wholeFile(writers[`${saver}Buffer`].call(image, options));
  const store = jumps ? new PieceStore() : undefined;
  writers[`${saver}Target`].call(image, keep(openTarget(vips, store, onBytes)), options);
  return store;
}

function assertFits({ file, size }: WriteOptions): void {
  const { mostSide, mostPixels, format } = formatOf(file.format);
  const longest = Math.max(size.width, size.height);
  if (mostSide !== undefined && longest > mostSide)
    throw new DecodeError('unsupported', `${format} holds at most ${mostSide} pixels a side`);
  const most = mostPixels?.(file);
  if (most !== undefined && size.width * size.height > most)
    throw new DecodeError('unsupported', `${format} of these bits is written up to ${most / 1e6} megapixels`);
}

const profileOf = (vips: VipsModule, space: OutputSpace, isLinear: boolean): string =>
  isLinear
    ? profilePath(vips, `${space}-linear`, () => writeProfile(space, true))
    : space === 'srgb'
      ? 'srgb'
      : profilePath(vips, space, writeProfile);

const OWN_PATH = '/own.icc';

function ownProfile(vips: VipsModule, profile: Uint8Array): string {
  vips.FS.writeFile(OWN_PATH, profile);
  return OWN_PATH;
}

function finishOther(
  file: WrittenFile,
  texts: { exif?: Uint8Array; xmp?: Uint8Array } | undefined,
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): void {
  const { head, from } = texts ? jxlHead(file.at(0, 32), file.length, texts) : { head: undefined, from: 0 };
  if (head) onBytes(head);
  let skip = from;
  for (const piece of file.take()) {
    onBytes(skip > 0 ? piece.slice(skip) : piece);
    skip = 0;
  }
}

function withMarker(block: Uint8Array): Uint8Array {
  const out = new Uint8Array(block.length + 6);
  out.set([0x45, 0x78, 0x69, 0x66, 0, 0]); // "Exif", two zeros
  out.set(block, 6);
  return out;
}

/** A feed of a picture that lies in memory. */
export function feedOf(samples: Uint16Array | Float32Array, { width, height }: Size, channels: number): RowFeed {
  const kind = samples instanceof Uint16Array ? 'codes' : 'light';
  return { width, height, channels, kind, next: () => samples };
}

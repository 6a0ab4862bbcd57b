import type { OutputSpace } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues } from '#core/scene/frame.ts';
import { DecodeError } from '../decodeError.ts';
import { buildExifBlock, type ExifContents } from '../exifBlock.ts';
import { keeper, profilePath, type VipsModule, vipsMessage } from '../vipsModule.ts';
import { exifDirectory } from './exifDirectory.ts';
import { type FileSettings, formatOf } from './formats/list.ts';
import { jxlHead } from './jxlBoxes.ts';
import { preparePicture, type SHARPENINGS } from './preparePicture.ts';
import { openRows, type RowFeed } from './rowSource.ts';
import { type Directory, firstDirectory, HEADER_BYTES, layOutPages, moved } from './tiffFile.ts';

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
  /** It becomes a page of a file that is put together elsewhere: pixels are handed on as they are, and its directory is returned. */
  isPart?: boolean;
}

/** What becomes of a picture that is a page of a file: the fields of its directory, as if its bytes began the file. */
export interface WrittenPart {
  bytes: number;
  page: Directory;
}

/** Writes a picture to a file as its rows come. What it takes in memory is some rows, and the file as it is compressed; of AVIF, JPEG XL and WebP
 * the picture as a whole. (Handing each piece on at once costs half as much again: encoders write thousands of them.)
 * @param onBytes - Takes the pieces of the file in order; each is its own.
 * @throws {DecodeError} `unsupported` for what the format cannot hold, or whatever the rows threw.
 * @throws {Error} when its writer fails. */
export function writePicture(
  vips: VipsModule,
  feed: RowFeed,
  options: WriteOptions,
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): WrittenPart | undefined {
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
    const file = format.save(marked, options.file, profile);
    if (refusal) throw refusal;
    if (name === 'tiff') return finishTiff(file, { ...options, exif }, onBytes);
    const { head, from } = name === 'jxl' ? jxlHead(file, file.length, { exif, xmp: options.xmp }) : NO_HEAD;
    if (head) onBytes(head);
    handOver(file.subarray(from), onBytes);
    return undefined;
  } catch (error) {
    throw refusal ?? (error instanceof Error ? error : new Error(vipsMessage(error)));
  } finally {
    close();
  }
}

function assertFits({ file, size }: WriteOptions): void {
  const { mostSide, mostPixels, format } = formatOf(file.format);
  const longest = Math.max(size.width, size.height);
  if (mostSide !== undefined && longest > mostSide)
    throw new DecodeError('unsupported', `${format} holds at most ${mostSide} pixels a side`);
  if (mostPixels !== undefined && size.width * size.height > mostPixels)
    throw new DecodeError('unsupported', `${format} is written up to ${mostPixels / 1e6} megapixels`);
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

/** Puts the directory of the only page behind its pixels, with what the library does not write. */
function finishTiff(
  file: Uint8Array,
  { exif, page, isPart }: Pick<WriteOptions, 'page' | 'isPart'> & { exif: Uint8Array | undefined },
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): WrittenPart | undefined {
  const fields = firstDirectory((at, length) => file.slice(at, at + length));
  const extra = exif && exifDirectory(exif);
  const known = new Set([...fields, ...(page?.fields ?? [])].map(({ tag }) => tag));
  const more = (extra?.fields ?? []).filter(({ tag }) => !known.has(tag));
  const given = new Set((page?.fields ?? []).map(({ tag }) => tag));
  const all = [...fields.filter(({ tag }) => !given.has(tag)), ...(page?.fields ?? []), ...more];
  const padding = file.length % 2;
  const bytes = file.length + padding;
  const pad = () => padding && onBytes(new Uint8Array(1));
  if (isPart) {
    handOver(file, onBytes);
    pad();
    return { bytes, page: { fields: all, inner: extra?.inner } };
  }
  const { header, tail } = layOutPages(
    [{ fields: moved(all, HEADER_BYTES), inner: extra?.inner }],
    HEADER_BYTES + bytes,
  );
  onBytes(header);
  handOver(file, onBytes);
  pad();
  onBytes(tail);
  return undefined;
}

/** Bytes that are handed over at once. */
const PIECE = 2 ** 22;
const NO_HEAD = { head: undefined, from: 0 };

/** Hands a file over in pieces of its own, out of the library's memory. */
function handOver(file: Uint8Array, onBytes: (bytes: Uint8Array<ArrayBuffer>) => void): void {
  for (let at = 0; at < file.length; at += PIECE) onBytes(new Uint8Array(file.subarray(at, at + PIECE)));
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

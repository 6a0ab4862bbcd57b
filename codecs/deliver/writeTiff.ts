import type Vips from 'wasm-vips';
import type { VipsModule } from '../vipsModule.ts';
import { exifDirectory } from './exifDirectory.ts';
import { wholeFile } from './memoryTarget.ts';
import {
  type Directory,
  type Field,
  firstDirectory,
  HEADER_BYTES,
  headerBytes,
  layOutPages,
  moved,
} from './tiffFile.ts';
import { TiffTap } from './tiffTap.ts';

/** What becomes of a picture that is a page of a file: the fields of its directory, as if its bytes began the file. */
export interface WrittenPart {
  bytes: number;
  page: Directory;
}

/** What is to be written over the first bytes of a file at last: where it leads to is known only then. */
export interface LateHeader {
  header: Uint8Array<ArrayBuffer>;
}

/** What is told of a file besides its bytes. */
export type Written = WrittenPart | LateHeader | undefined;

export interface TiffOptions {
  /** What the library is told. */
  settings: Record<string, string | number | boolean>;
  exif?: Uint8Array;
  /** Fields that its page gets besides. */
  page?: Directory;
  /** Its pieces are handed on while they are written. */
  inPieces: boolean;
  /** It becomes a page of a file that is put together elsewhere: pixels are handed on as they are, and its directory is returned. */
  isPart?: boolean;
}

/** Has the library write a TIFF, and lays its directory out anew with what the library does not write. What comes to lie past four gigabytes makes it
 * a BigTIFF.
 * @param isRight - Throws if what was read for it is not to be written. */
export function writeTiff(
  vips: VipsModule,
  image: Vips.Image,
  { settings, exif, page, inPieces, isPart }: TiffOptions,
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
  isRight: () => void,
): Written {
  // Where the header will be, once it is known where it leads to.
  if (inPieces && !isPart) onBytes(new Uint8Array(HEADER_BYTES));
  const { fields, length, rest } = inPieces ? tapped(vips, image, settings, onBytes) : whole(image, settings);
  isRight();
  const described = describe(fields, page, exif);
  const padding = length % 2;
  const bytes = length + padding;
  const own = { ...described, fields: moved(described.fields, HEADER_BYTES) };
  const { header, tail } = layOutPages([own], HEADER_BYTES + bytes);
  if (!inPieces && !isPart) onBytes(header);
  for (const piece of rest) onBytes(piece);
  if (padding) onBytes(new Uint8Array(1));
  if (isPart) return { bytes, page: described };
  onBytes(tail);
  return inPieces ? { header } : undefined;
}

/** A file as the library writes it but for its header: its directory, how long it is, and what of it is not handed on yet. */
interface Raw {
  fields: Field[];
  length: number;
  rest: Iterable<Uint8Array<ArrayBuffer>>;
}

function whole(image: Vips.Image, settings: TiffOptions['settings']): Raw {
  const file = image.tiffsaveBuffer(settings) as Uint8Array<ArrayBuffer>;
  const header = headerBytes(file);
  const fields = moved(firstDirectory(wholeFile(file).at), -header);
  const body = wholeFile(file.subarray(header));
  return { fields, length: body.length, rest: body.take() };
}

function tapped(
  vips: VipsModule,
  image: Vips.Image,
  settings: TiffOptions['settings'],
  onBytes: (bytes: Uint8Array<ArrayBuffer>) => void,
): Raw {
  const tap = new TiffTap(vips, onBytes);
  try {
    image.tiffsaveTarget(tap.target, settings);
    return { ...tap.finish(), rest: [] };
  } finally {
    tap.target.delete();
  }
}

/** A directory with the shot data and the fields that it gets besides. */
function describe(fields: readonly Field[], page: Directory | undefined, exif: Uint8Array | undefined): Directory {
  const extra = exif && exifDirectory(exif);
  const given = new Set((page?.fields ?? []).map(({ tag }) => tag));
  const known = new Set([...fields.map(({ tag }) => tag), ...given]);
  const more = (extra?.fields ?? []).filter(({ tag }) => !known.has(tag));
  const all = [...fields.filter(({ tag }) => !given.has(tag)), ...(page?.fields ?? []), ...more];
  return { fields: all, inner: extra?.inner };
}

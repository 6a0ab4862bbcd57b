import { openTiff, readDirectory, type TiffField, TYPE_BYTES, writeDirectory } from './tiffDirectory.ts';

/** Exif 2.32 (CIPA DC-008), section 4.6.3: tag of the pointer to the Exif IFD. */
const EXIF_POINTER = 0x8769;

/** Adds the Exif IFD of an EXIF block to a TIFF file, which its writer leaves out. Pixels stay where they are: the
 * directories are appended and the header points to the new first one.
 * @param tiff - A classic TIFF file of one page.
 * @param exifBlock - TIFF data as {@link buildExifBlock} makes it.
 * @throws {RangeError} when `tiff` is no classic TIFF. */
export function addExifToTiff(tiff: Uint8Array, exifBlock: Uint8Array): Uint8Array {
  const file = openTiff(tiff);
  const block = openTiff(exifBlock);
  const main = readDirectory(file, file.view.getUint32(4, file.little));
  const blockMain = readDirectory(block, block.view.getUint32(4, block.little));
  const pointer = blockMain.fields.find(({ tag }) => tag === EXIF_POINTER);
  if (!pointer) return tiff;
  const exifAt = new DataView(pointer.bytes.buffer, pointer.bytes.byteOffset).getUint32(0, block.little);
  const exif = readDirectory(block, exifAt).fields.map((field) => reorder(field, block.little, file.little));
  const known = new Set(main.fields.map(({ tag }) => tag));
  const texts = blockMain.fields.filter(({ tag, type }) => type === 2 && !known.has(tag));
  const start = tiff.length + (tiff.length & 1);
  const exifDirectory = writeDirectory(exif, start, 0, file.little);
  const link = new Uint8Array(4);
  new DataView(link.buffer).setUint32(0, start, file.little);
  const fields = [...main.fields, ...texts, { tag: EXIF_POINTER, type: 4, count: 1, bytes: link }].sort(
    (a, b) => a.tag - b.tag,
  );
  const mainAt = start + exifDirectory.length;
  const mainDirectory = writeDirectory(fields, mainAt, main.next, file.little);
  const out = new Uint8Array(mainAt + mainDirectory.length);
  out.set(tiff);
  out.set(exifDirectory, start);
  out.set(mainDirectory, mainAt);
  new DataView(out.buffer).setUint32(4, mainAt, file.little);
  return out;
}

/** A field's value in the other byte order, where that differs. */
function reorder(field: TiffField, from: boolean, to: boolean): TiffField {
  const word = field.type === 5 || field.type === 10 ? 4 : TYPE_BYTES[field.type];
  if (from === to || word === 1 || field.type === 7) return field;
  const bytes = field.bytes.slice();
  for (let at = 0; at < bytes.length; at += word) bytes.subarray(at, at + word).reverse();
  return { ...field, bytes };
}

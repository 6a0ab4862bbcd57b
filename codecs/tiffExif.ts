/** TIFF 6.0 (Adobe 1992), section 2: sizes of the field types 1 to 12. */
const TYPE_BYTES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8];
/** Exif 2.32 (CIPA DC-008), section 4.6.3: tag of the pointer to the Exif IFD. */
const EXIF_POINTER = 0x8769;

interface Field {
  tag: number;
  type: number;
  count: number;
  /** The value itself, as the file's own byte order has it. */
  bytes: Uint8Array;
}

interface TiffView {
  bytes: Uint8Array;
  view: DataView;
  little: boolean;
}

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

function openTiff(bytes: Uint8Array): TiffView {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = bytes[0] === 0x49;
  if (bytes.length < 8 || view.getUint16(2, little) !== 42) throw new RangeError('Not a classic TIFF file');
  return { bytes, view, little };
}

function readDirectory({ bytes, view, little }: TiffView, at: number): { fields: Field[]; next: number } {
  const count = view.getUint16(at, little);
  const fields: Field[] = [];
  for (let i = 0; i < count; i++) {
    const entry = at + 2 + 12 * i;
    const type = view.getUint16(entry + 2, little);
    const values = view.getUint32(entry + 4, little);
    const length = TYPE_BYTES[type] * values;
    const from = length <= 4 ? entry + 8 : view.getUint32(entry + 8, little);
    fields.push({ tag: view.getUint16(entry, little), type, count: values, bytes: bytes.slice(from, from + length) });
  }
  // The last directory of an EXIF block may do without the link to a next one.
  const link = at + 2 + 12 * count;
  return { fields, next: link + 4 <= bytes.length ? view.getUint32(link, little) : 0 };
}

/** Lays out a directory and, behind it, the values that do not fit in its entries. */
function writeDirectory(fields: readonly Field[], at: number, next: number, little: boolean): Uint8Array {
  const head = 2 + 12 * fields.length + 4;
  const extra = fields.reduce((sum, { bytes }) => sum + (bytes.length > 4 ? bytes.length + (bytes.length & 1) : 0), 0);
  const out = new Uint8Array(head + extra);
  const view = new DataView(out.buffer);
  view.setUint16(0, fields.length, little);
  let free = head;
  fields.forEach(({ tag, type, count, bytes }, i) => {
    const entry = 2 + 12 * i;
    view.setUint16(entry, tag, little);
    view.setUint16(entry + 2, type, little);
    view.setUint32(entry + 4, count, little);
    if (bytes.length <= 4) {
      out.set(bytes, entry + 8);
      return;
    }
    view.setUint32(entry + 8, at + free, little);
    out.set(bytes, free);
    free += bytes.length + (bytes.length & 1);
  });
  view.setUint32(head - 4, next, little);
  return out;
}

/** A field's value in the other byte order, where that differs. */
function reorder(field: Field, from: boolean, to: boolean): Field {
  const word = field.type === 5 || field.type === 10 ? 4 : TYPE_BYTES[field.type];
  if (from === to || word === 1 || field.type === 7) return field;
  const bytes = field.bytes.slice();
  for (let at = 0; at < bytes.length; at += word) bytes.subarray(at, at + word).reverse();
  return { ...field, bytes };
}

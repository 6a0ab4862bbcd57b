/** TIFF 6.0 (Adobe 1992), section 2: sizes of the field types 1 to 12. */
export const TYPE_BYTES = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8];
export interface TiffField {
  tag: number;
  type: number;
  count: number;
  /** The value itself, as the file's own byte order has it. */
  bytes: Uint8Array;
}

export interface TiffView {
  bytes: Uint8Array;
  view: DataView;
  little: boolean;
}

/** @throws {RangeError} when the bytes are no classic TIFF. */
export function openTiff(bytes: Uint8Array): TiffView {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const little = bytes[0] === 0x49;
  if (bytes.length < 8 || view.getUint16(2, little) !== 42) throw new RangeError('Not a classic TIFF file');
  return { bytes, view, little };
}

/** The fields of a directory, and where the next one is.
 * @throws {RangeError} when it does not lie within the file. */
export function readDirectory({ bytes, view, little }: TiffView, at: number): { fields: TiffField[]; next: number } {
  const count = view.getUint16(at, little);
  const fields: TiffField[] = [];
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
export function writeDirectory(fields: readonly TiffField[], at: number, next: number, little: boolean): Uint8Array {
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

import { joinBytes } from '../joinBytes.ts';

/** TIFF 6.0 (Adobe 1992), section 2, and BigTIFF (the same with offsets of eight bytes; libtiff, "BigTIFF Design", 2008). */

/** A field of a directory; values little-endian. */
export interface Field {
  tag: number;
  type: number;
  count: number;
  bytes: Uint8Array;
}

/** A directory with those that its fields point to. */
export interface Directory {
  fields: readonly Field[];
  /** Directories by the tag of the field that points to each. */
  inner?: ReadonlyMap<number, Directory>;
}

const BYTES_OF: Record<number, number> = {
  1: 1,
  2: 1,
  3: 2,
  4: 4,
  5: 8,
  6: 1,
  7: 1,
  8: 2,
  9: 4,
  10: 8,
  11: 4,
  12: 8,
  16: 8,
  17: 8,
  18: 8,
};
/** What says which of both a file is. */
const CLASSIC = 42;
const BIG = 43;
const SHORT = 3;
const LONG = 4;
const LONG8 = 16;
const ASCII = 2;
/** StripOffsets and TileOffsets, with StripByteCounts and TileByteCounts. */
const COUNTS_OF: Record<number, number> = { 273: 279, 324: 325 };
/** Where a classic file can no longer point to. */
export const CLASSIC_END = 2 ** 32 - 1;

/** Bytes at the start of every file that is put together here: enough for either header. */
export const HEADER_BYTES = 16;

/** How long the header of a file is that starts with these four bytes. */
export const headerBytes = (start: Uint8Array): number => (start[2] === BIG ? 16 : 8);

/** The first directory of a little-endian file, classic or BigTIFF: what the library writes.
 * @param read - Bytes of the file.
 * @throws {RangeError} when it is none. */
export function firstDirectory(read: (at: number, length: number) => Uint8Array): Field[] {
  const head = viewOf(read(0, HEADER_BYTES));
  const version = head.getUint16(2, true);
  if (head.getUint16(0, true) !== 0x4949 || (version !== CLASSIC && version !== BIG))
    throw new RangeError('not a TIFF');
  const isBig = version === BIG;
  const { countBytes, entryBytes, valueBytes } = formOf(isBig);
  const numberAt = (view: DataView, place: number) =>
    isBig ? Number(view.getBigUint64(place, true)) : view.getUint32(place, true);
  const at = numberAt(head, isBig ? 8 : 4);
  const start = viewOf(read(at, countBytes));
  const count = isBig ? numberAt(start, 0) : start.getUint16(0, true);
  const entries = viewOf(read(at + countBytes, count * entryBytes));
  return Array.from({ length: count }, (_, i) => {
    const entry = i * entryBytes;
    const type = entries.getUint16(entry + 2, true);
    const values = numberAt(entries, entry + 4);
    const length = (BYTES_OF[type] ?? 1) * values;
    const value = entry + entryBytes - valueBytes;
    const from = length <= valueBytes ? at + countBytes + value : numberAt(entries, value);
    const field = { tag: entries.getUint16(entry, true), type, count: values, bytes: read(from, length) };
    // Only a BigTIFF knows numbers of eight bytes, and what is laid out anew need not become one.
    return type === LONG8 ? numbersField(field.tag, numbersOf(field)) : field;
  });
}

/** Bytes of the count of a directory, of an entry of it, and of a value or place in that. */
const formOf = (isBig: boolean) =>
  isBig ? { countBytes: 8, entryBytes: 20, valueBytes: 8 } : { countBytes: 2, entryBytes: 12, valueBytes: 4 };

const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Fields whose pixels have come to lie further on. */
export const moved = (fields: readonly Field[], by: number): Field[] => placedAt(fields, (at) => at + by);

/** Fields whose pixels lie elsewhere.
 * @param where - Where a strip or tile lies, by where the fields say, and its bytes; asked for each in its order. */
export function placedAt(fields: readonly Field[], where: (at: number, bytes: number) => number): Field[] {
  return fields.map((field) => {
    const counts = fields.find(({ tag }) => tag === COUNTS_OF[field.tag]);
    if (!counts) return field;
    const bytes = numbersOf(counts);
    return numbersField(
      field.tag,
      numbersOf(field).map((at, i) => where(at, bytes[i])),
    );
  });
}

function numbersOf({ type, count, bytes }: Field): number[] {
  const view = viewOf(bytes);
  return Array.from({ length: count }, (_, i) =>
    type === SHORT
      ? view.getUint16(2 * i, true)
      : type === LONG8
        ? Number(view.getBigUint64(8 * i, true))
        : view.getUint32(4 * i, true),
  );
}

/** Whole numbers, as long as the largest of them needs. */
export function numbersField(tag: number, values: readonly number[]): Field {
  const isLong = values.some((value) => value > CLASSIC_END);
  const bytes = new Uint8Array(values.length * (isLong ? 8 : 4));
  const view = viewOf(bytes);
  values.forEach((value, i) => {
    if (isLong) view.setBigUint64(8 * i, BigInt(value), true);
    else view.setUint32(4 * i, value, true);
  });
  return { tag, type: isLong ? LONG8 : LONG, count: values.length, bytes };
}

/** Text, UTF-8 with a zero at its end, as programs write it there. */
export function textField(tag: number, text: string): Field {
  const bytes = new TextEncoder().encode(`${text.replaceAll('\0', '')}\0`);
  return { tag, type: ASCII, count: bytes.length, bytes };
}

/** Short whole numbers. */
export function shortsField(tag: number, values: readonly number[]): Field {
  const bytes = new Uint8Array(values.length * 2);
  const view = viewOf(bytes);
  for (const [i, value] of values.entries()) view.setUint16(2 * i, value, true);
  return { tag, type: SHORT, count: values.length, bytes };
}

/** The directories of a file's pages, to be laid behind its pixels, and the header that leads to them.
 * @param at - Where they will lie, an even place. */
export function layOutPages(
  pages: readonly Directory[],
  at: number,
  most = CLASSIC_END,
): { header: Uint8Array<ArrayBuffer>; tail: Uint8Array<ArrayBuffer> } {
  const room = pages.reduce((sum, page) => sum + roomOf(page), 0);
  const isBig = at + room > most;
  const out: Uint8Array[] = [];
  let place = at;
  const header = new Uint8Array(HEADER_BYTES);
  const head = viewOf(header);
  head.setUint16(0, 0x4949, true);
  head.setUint16(2, isBig ? BIG : CLASSIC, true);
  if (isBig) {
    head.setUint16(4, 8, true);
    head.setBigUint64(8, BigInt(at), true);
  } else {
    head.setUint32(4, at, true);
  }
  pages.forEach((page, index) => {
    const bytes = layOut(page, place, isBig, index < pages.length - 1);
    out.push(bytes);
    place += bytes.length;
  });
  return { header, tail: joinBytes(out) };
}

/** More than a directory takes in either form. */
const roomOf = ({ fields, inner }: Directory): number =>
  fields.reduce((sum, { bytes }) => sum + 20 + 2 * bytes.length + 8, 40) +
  [...(inner?.values() ?? [])].reduce((sum, directory) => sum + roomOf(directory) + 40, 0);

/** One directory, the values that do not fit into it, and the directories that it points to. */
function layOut({ fields, inner }: Directory, at: number, isBig: boolean, hasNext: boolean): Uint8Array<ArrayBuffer> {
  const pointers = [...(inner?.keys() ?? [])].map((tag) => numbersField(tag, [0]));
  const all = [...fields.filter(({ tag }) => !inner?.has(tag)), ...pointers].sort((a, b) => a.tag - b.tag);
  // The place of the next directory is as long as a value.
  const { countBytes, entryBytes, valueBytes } = formOf(isBig);
  const head = new Uint8Array(countBytes + entryBytes * all.length + valueBytes);
  const view = viewOf(head);
  const set = (place: number, value: number) =>
    isBig ? view.setBigUint64(place, BigInt(value), true) : view.setUint32(place, value, true);
  if (isBig) view.setBigUint64(0, BigInt(all.length), true);
  else view.setUint16(0, all.length, true);
  const rest: Uint8Array[] = [];
  let free = at + head.length;
  const put = (bytes: Uint8Array) => {
    const place = free;
    rest.push(bytes);
    if (bytes.length % 2 === 1) rest.push(new Uint8Array(1));
    free += bytes.length + (bytes.length % 2);
    return place;
  };
  all.forEach(({ tag, type, count, bytes }, i) => {
    const entry = countBytes + entryBytes * i;
    const pointed = inner?.get(tag);
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, pointed && isBig ? LONG8 : type, true);
    set(entry + 4, count);
    const value = entry + (isBig ? 12 : 8);
    if (pointed) set(value, put(layOut(pointed, free, isBig, false)));
    else if (bytes.length <= valueBytes) head.set(bytes, value);
    else set(value, put(bytes));
  });
  set(head.length - valueBytes, hasNext ? free : 0);
  return joinBytes([head, ...rest]);
}

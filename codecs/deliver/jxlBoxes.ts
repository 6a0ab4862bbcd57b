import { joinBytes } from '../joinBytes.ts';

/** Boxes of a JPEG XL file (ISO/IEC 18181-2:2024, section 9). */

const SIGNATURE = [0, 0, 0, 12, 0x4a, 0x58, 0x4c, 0x20, 0x0d, 0x0a, 0x87, 0x0a];
const FILE_TYPE = [0, 0, 0, 20, ...letters('ftyp'), ...letters('jxl '), 0, 0, 0, 0, ...letters('jxl ')];
const HEAD = SIGNATURE.length + FILE_TYPE.length;

function letters(text: string): number[] {
  return Array.from(text, (letter) => letter.charCodeAt(0));
}

function box(type: string, length: number, content: readonly number[] = []): number[] {
  const size = 8 + content.length + length;
  return [size >>> 24, (size >> 16) & 255, (size >> 8) & 255, size & 255, ...letters(type), ...content];
}

/** What stands before a file's picture, for shot data and texts to be plain to read: the library would compress them, which few
 * programs undo.
 * @param start - The file's first 32 bytes: of a container, or of a bare picture.
 * @param length - Bytes of the file.
 * @returns What the file begins with now, and from where on the rest of it follows. */
export function jxlHead(
  start: Uint8Array,
  length: number,
  { exif, xmp }: { exif?: Uint8Array; xmp?: Uint8Array },
): { head: Uint8Array<ArrayBuffer>; from: number } {
  const isContainer = SIGNATURE.every((byte, i) => start[i] === byte);
  const texts: Uint8Array[] = [];
  // Four bytes tell where in the box the data begin.
  if (exif) texts.push(Uint8Array.from(box('Exif', exif.length, [0, 0, 0, 0])), exif);
  if (xmp) texts.push(Uint8Array.from(box('xml ', xmp.length)), xmp);
  const opening = isContainer ? [] : box('jxlc', length);
  const pieces = [Uint8Array.from([...SIGNATURE, ...FILE_TYPE]), ...texts, Uint8Array.from(opening)];
  return { head: joinBytes(pieces), from: isContainer ? HEAD : 0 };
}

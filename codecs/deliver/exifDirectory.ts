import { openTiff, readDirectory, type TiffField, type TiffView, TYPE_BYTES } from '../tiffDirectory.ts';
import type { Directory, Field } from './tiffFile.ts';

/** Exif 2.32 (CIPA DC-008), section 4.6.3: tags of the pointers to the Exif and the GPS directory. */
const POINTERS = [0x8769, 0x8825];

/** An EXIF block as a directory of a little-endian file, with those that it points to.
 * @param block - TIFF data as `buildExifBlock` makes it. */
export function exifDirectory(block: Uint8Array): Directory {
  const file = openTiff(block);
  const { fields } = readDirectory(file, file.view.getUint32(4, file.little));
  const inner = new Map<number, Directory>();
  for (const { tag, bytes } of fields) {
    if (!POINTERS.includes(tag)) continue;
    const at = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, file.little);
    inner.set(tag, { fields: littleFields(file, readDirectory(file, at).fields) });
  }
  return {
    fields: littleFields(
      file,
      fields.filter(({ tag }) => !POINTERS.includes(tag)),
    ),
    inner,
  };
}

const littleFields = ({ little }: TiffView, fields: readonly TiffField[]): Field[] =>
  fields.map((field) => (little ? field : { ...field, bytes: turned(field) }));

function turned({ type, bytes }: TiffField): Uint8Array {
  const word = type === 5 || type === 10 ? 4 : TYPE_BYTES[type];
  if (word === 1 || type === 7) return bytes;
  const out = bytes.slice();
  for (let at = 0; at < out.length; at += word) out.subarray(at, at + word).reverse();
  return out;
}

import { DecodeError } from './decodeError.ts';
import { openTiff, readDirectory, type TiffField, type TiffView } from './tiffDirectory.ts';

export type FileFormat = 'jpeg' | 'tiff' | 'png' | 'webp' | 'avif' | 'heic' | 'jxl' | 'radiance' | 'dng' | 'raw';

const startsWith = (bytes: Uint8Array, ...head: number[]): boolean => head.every((byte, i) => bytes[i] === byte);
const textAt = (bytes: Uint8Array, at: number, length: number) =>
  String.fromCharCode(...bytes.subarray(at, at + length));

/** Beginnings of camera raw files that are not laid out as plain TIFF. */
const RAW_HEADS = ['FUJIFILMCCD-RAW', 'IIRO', 'IIRS', 'MMOR', 'IIU\0', 'FOVb', '\0MRM'];

/** Recognises a file by its first bytes; its name does not count.
 * @throws {DecodeError} `empty` or `unknown-format`. */
export function recogniseFormat(bytes: Uint8Array): FileFormat {
  if (bytes.length === 0) throw new DecodeError('empty', 'the file has no bytes');
  if (startsWith(bytes, 0xff, 0xd8, 0xff)) return 'jpeg';
  if (startsWith(bytes, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png';
  if (startsWith(bytes, 0x49, 0x49, 0x2a, 0) || startsWith(bytes, 0x4d, 0x4d, 0, 0x2a))
    return sensorFormat(bytes) ?? 'tiff';
  if (startsWith(bytes, 0x49, 0x49, 0x2b, 0) || startsWith(bytes, 0x4d, 0x4d, 0, 0x2b)) return 'tiff';
  if (textAt(bytes, 0, 4) === 'RIFF' && textAt(bytes, 8, 4) === 'WEBP') return 'webp';
  if (startsWith(bytes, 0xff, 0x0a) || textAt(bytes, 4, 4) === 'JXL ') return 'jxl';
  if (/^#\?(RADIANCE|RGBE)/.test(textAt(bytes, 0, 10))) return 'radiance';
  if (RAW_HEADS.some((head) => textAt(bytes, 0, head.length) === head)) return 'raw';
  if (textAt(bytes, 4, 4) === 'ftyp') return boxedFormat(bytes);
  throw new DecodeError('unknown-format', 'its first bytes are of no format of pictures that Lusket reads');
}

/** The format of a file in boxes, by its brands (ISO/IEC 14496-12, section 4.3). */
function boxedFormat(bytes: Uint8Array): FileFormat {
  const length = Math.min(256, new DataView(bytes.buffer, bytes.byteOffset).getUint32(0));
  const brands = Array.from({ length: Math.max(0, Math.floor(length / 4) - 2) }, (_, i) => textAt(bytes, 8 + 4 * i, 4));
  if (brands.includes('crx ')) return 'raw';
  if (brands.some((brand) => brand === 'avif' || brand === 'avis')) return 'avif';
  if (brands.some((brand) => /^(hei[cxms]|hev[cxms]|mif1|msf1)$/.test(brand))) return 'heic';
  throw new DecodeError('unknown-format', `a container of another kind (${brands[0]?.trim()})`);
}

/** Tags of TIFF and DNG: photometric interpretation, further directories, version of DNG. */
const [PHOTOMETRIC, SUB_DIRECTORIES, DNG_VERSION] = [262, 330, 50706];
/** Sensor mosaic, and linear sensor values. */
const SENSOR_VALUES = [32803, 34892];
const MOST_DIRECTORIES = 16;

/** The format of a TIFF that holds what a sensor saw rather than a picture. */
function sensorFormat(bytes: Uint8Array): 'dng' | 'raw' | undefined {
  if (textAt(bytes, 8, 2) === 'CR') return 'raw';
  try {
    const file = openTiff(bytes);
    const waiting = [file.view.getUint32(4, file.little)];
    for (let seen = 0; waiting.length > 0 && seen < MOST_DIRECTORIES; seen++) {
      const { fields, next } = readDirectory(file, waiting.shift() ?? 0);
      const values = (tag: number) => numbersOf(file, fields, tag);
      if (fields.some(({ tag }) => tag === DNG_VERSION)) return 'dng';
      if (values(PHOTOMETRIC).some((value) => SENSOR_VALUES.includes(value))) return 'raw';
      waiting.push(...values(SUB_DIRECTORIES), ...(next ? [next] : []));
    }
  } catch (error) {
    if (!(error instanceof RangeError)) throw error; // cut short: whoever decodes it will say so
  }
  return undefined;
}

function numbersOf({ little }: TiffView, fields: readonly TiffField[], wanted: number): number[] {
  const field = fields.find(({ tag }) => tag === wanted);
  if (!field) return [];
  const view = new DataView(field.bytes.buffer, field.bytes.byteOffset, field.bytes.byteLength);
  const count = Math.min(field.count, MOST_DIRECTORIES);
  return Array.from({ length: count }, (_, i) =>
    field.type === 3 ? view.getUint16(2 * i, little) : view.getUint32(4 * i, little),
  );
}

import { DecodeError } from './decodeError.ts';

export type FileFormat = 'jpeg' | 'tiff' | 'png';

const startsWith = (bytes: Uint8Array, ...head: number[]): boolean => head.every((byte, i) => bytes[i] === byte);

/** Recognises a file by its first bytes; its name does not count.
 * @throws {DecodeError} `empty` or `unknown-format`. */
export function recogniseFormat(bytes: Uint8Array): FileFormat {
  if (bytes.length === 0) throw new DecodeError('empty', 'the file has no bytes');
  if (startsWith(bytes, 0xff, 0xd8, 0xff)) return 'jpeg';
  if (startsWith(bytes, 0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'png';
  if (startsWith(bytes, 0x49, 0x49, 0x2a, 0) || startsWith(bytes, 0x4d, 0x4d, 0, 0x2a)) return 'tiff';
  if (startsWith(bytes, 0x49, 0x49, 0x2b, 0) || startsWith(bytes, 0x4d, 0x4d, 0, 0x2b)) return 'tiff';
  throw new DecodeError('unknown-format', 'neither JPEG, TIFF nor PNG');
}

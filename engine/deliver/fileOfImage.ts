import { DecodeError } from '#codecs/decodeError.ts';
import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import type { Size } from '#core/raster/size.ts';
import { createBandRing, markReady } from '../bandRing.ts';
import type { Codec } from '../codec.ts';

/** Writes a small picture that lies in memory to a file that does.
 * @param image - Interleaved, 16 bits, encoded with the curve of sRGB.
 * @returns The file's pieces.
 * @throws {DecodeError} why it could not be written. */
export async function fileOfImage(
  codec: Codec,
  image: Uint16Array,
  { width, height }: Size,
  channels: 1 | 3 | 4,
  options: WriteOptions,
): Promise<Uint8Array<ArrayBuffer>[]> {
  const [writer] = codec.writers(1);
  if (!writer) throw new DecodeError('stuck', 'all threads that write are busy');
  const ring = createBandRing([{ x: 0, y: 0, width, height }], channels, 'codes');
  new Uint16Array(ring.slots[0]).set(image);
  markReady(ring, 0);
  const pieces: Uint8Array<ArrayBuffer>[] = [];
  await writer.save(ring, options, { onPiece: (piece) => void pieces.push(piece), onTaken: () => undefined });
  return pieces;
}

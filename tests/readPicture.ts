import type { Libraries } from '#codecs/libraries.ts';
import { openPicture } from '#codecs/openPicture.ts';
import type { OpenPicture } from '#codecs/picture.ts';
import { PLAIN_READING, type ReadingWish } from '#core/reading.ts';

/** A file read from top to bottom: what it is, and its samples. */
export async function readPicture(
  libraries: Libraries,
  bytes: Uint8Array,
  reading: ReadingWish = PLAIN_READING,
  isCancelled = () => false,
): Promise<OpenPicture & { samples: Uint8Array | Uint16Array }> {
  const opened = await openPicture(libraries, bytes, reading);
  const pieces: Buffer[] = [];
  try {
    await opened.decode({
      onStart: () => pieces.splice(0), // told again when the file is read anew
      onBytes: (piece) => void pieces.push(Buffer.from(piece)),
      isCancelled,
    });
  } finally {
    opened.close();
  }
  const whole = Uint8Array.from(Buffer.concat(pieces));
  return { ...opened, samples: opened.bits === 16 ? new Uint16Array(whole.buffer) : whole };
}

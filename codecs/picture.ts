import type { WorkingSpace } from '#core/color/workingSpace.ts';
import type { Shot } from '#core/scene/frame.ts';
import { DecodeError } from './decodeError.ts';
import type { FileFormat } from './format.ts';

/** A file that has been looked into; no pixel is decoded yet. Close it when done. */
export interface OpenPicture {
  format: FileFormat;
  /** Upright. */
  width: number;
  height: number;
  /** Bits of a sample in the file; 32 are floats. */
  fileBits: 8 | 16 | 32;
  /** Bits of a sample as it is handed out. */
  bits: 8 | 16;
  /** Name of the colour profile in the file, null without one. */
  profile: string | null;
  /** Stops by which the picture was darkened so that its range above white fits; 0 for most files. */
  headroom: number;
  /** The space that its samples are handed out in. */
  space: WorkingSpace;
  /** An EXIF block that the format hides from readers of EXIF, as TIFF data. */
  exif: Uint8Array<ArrayBuffer> | null;
  /** Shot data that the decoder itself knows. */
  shot: Partial<Shot>;
  decode: (steps: DecodeSteps) => void | Promise<void>;
  close: () => void;
}

export interface DecodeSteps {
  /** Told before the first pixel, and again when the file has to be read anew from its top. */
  onStart: () => void;
  /** The picture's bytes in order: interleaved RGB in its space, one byte a sample or two (low byte first), cut anywhere. The
   * array is not the callee's to keep. */
  onBytes: (bytes: Uint8Array) => void;
  /** Asked now and then. */
  isCancelled: () => boolean;
}

/** Rows that are decoded and handed out at a time. */
export const STRIP_ROWS = 128;

/** Largest picture that is decoded: 300 megapixels, beyond any camera of the trade. */
const MAX_PIXELS = 300e6;

/** Refuses sizes that no picture has, before memory is taken for it.
 * @throws {DecodeError} `damaged` or `too-large`. */
export function assertSize(width: number, height: number): void {
  if (!(width > 0 && height > 0)) throw new DecodeError('damaged', `${width} x ${height} pixels`);
  if (width * height > MAX_PIXELS) throw new DecodeError('too-large', `${width} x ${height} pixels`);
}

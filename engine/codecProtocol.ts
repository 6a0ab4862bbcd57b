import type { EncodeOptions } from '#codecs/encode.ts';
import type { Proof, ProofOptions } from '#codecs/proof.ts';
import type { Size } from '#core/raster/size.ts';
import type { ReadingWish } from '#core/reading.ts';
import type { ExifValues, Frame } from '#core/scene/frame.ts';

/** A file to read: as a browser has it, or its bytes, which are handed over. */
export type FileBytes = Blob | ArrayBuffer;

/** A file, and how to read it. */
export interface FileToRead {
  file: FileBytes;
  name: string;
  reading: ReadingWish;
}

/** What tells the pixels of a frame from all others. */
export type PixelsOf = Pick<Frame, 'file' | 'reading' | 'width' | 'height'>;

/** What is asked of a background thread about files. */
export type ToCodec =
  | ({ type: 'load'; ticket: number; current: number; expect: Size | undefined } & FileToRead)
  | ({ type: 'inspect'; ticket: number } & FileToRead)
  | { type: 'encode'; ticket: number; image: SharedArrayBuffer; size: Size; options: EncodeOptions; exif: ExifValues }
  | { type: 'proof'; ticket: number; image: SharedArrayBuffer; size: Size; options: ProofOptions }
  | { type: 'drop'; ticket: number; frame: PixelsOf };

/** What it answers. */
export type FromCodec =
  | { type: 'loaded'; ticket: number; frame: Frame }
  | { type: 'inspected'; ticket: number; frame: Frame }
  | { type: 'encoded'; ticket: number; bytes: Uint8Array<ArrayBuffer> }
  | { type: 'proofed'; ticket: number; proof: Proof }
  | { type: 'dropped'; ticket: number };

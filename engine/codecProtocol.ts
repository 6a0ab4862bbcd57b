import type { EncodeOptions } from '#codecs/encode.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues, Frame } from '#core/scene/scene.ts';
import type { ThreadStart } from './kernelModule.ts';

/** A file to read: as a browser has it, or its bytes, which are handed over. */
export type FileBytes = Blob | ArrayBuffer;

/** What the engine asks of the codec thread. */
export type ToCodec =
  | ({ type: 'start' } & ThreadStart)
  | { type: 'load'; ticket: number; current: number; file: FileBytes; name: string; expect: Size | undefined }
  | { type: 'encode'; ticket: number; image: SharedArrayBuffer; size: Size; options: EncodeOptions; exif: ExifValues }
  | { type: 'drop'; ticket: number; sha256: string; size: Size };

/** What the codec thread answers. */
export type FromCodec =
  | { type: 'progress'; ticket: number; share: number }
  | { type: 'loaded'; ticket: number; frame: Frame }
  | { type: 'encoded'; ticket: number; bytes: Uint8Array<ArrayBuffer> }
  | { type: 'dropped'; ticket: number }
  | { type: 'failed'; ticket: number; code: string; detail: string };

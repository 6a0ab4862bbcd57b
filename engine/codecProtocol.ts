import type { Preview } from '#codecs/deliver/previewPicture.ts';
import type { SplitLayer } from '#codecs/deliver/splitLayer.ts';
import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import type { Written } from '#codecs/deliver/writeTiff.ts';
import type { DrawnProof, ProofOptions } from '#codecs/proof.ts';
import type { Size } from '#core/raster/size.ts';
import type { ReadingWish } from '#core/reading.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { BandRing } from './bandRing.ts';
import type { CanvasSpace } from './protocol.ts';

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
  | { type: 'save'; ticket: number; bands: BandRing; options: WriteOptions }
  | { type: 'split'; ticket: number; bytes: ArrayBuffer | undefined; canvas: Size; at: { x: number; y: number } }
  | { type: 'preview'; ticket: number; image: SharedArrayBuffer; size: Size; options: WriteOptions; isShown: boolean }
  | {
      type: 'proof';
      ticket: number;
      image: SharedArrayBuffer;
      size: Size;
      options: ProofOptions;
      canvasSpace: CanvasSpace;
    }
  | { type: 'drop'; ticket: number; frame: PixelsOf };

/** What it answers. */
export type FromCodec =
  | { type: 'loaded'; ticket: number; frame: Frame }
  | { type: 'inspected'; ticket: number; frame: Frame }
  /** A piece of a file, in order. */
  | { type: 'piece'; ticket: number; bytes: Uint8Array<ArrayBuffer> }
  /** A band of rows is no longer needed. */
  | { type: 'taken'; ticket: number; band: number }
  | { type: 'saved'; ticket: number; written: Written }
  | { type: 'layer'; ticket: number; layer: SplitLayer }
  | { type: 'previewed'; ticket: number; preview: Preview }
  | { type: 'proofed'; ticket: number; proof: DrawnProof }
  | { type: 'dropped'; ticket: number };

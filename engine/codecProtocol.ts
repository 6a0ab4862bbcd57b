import type { EncodeOptions } from '#codecs/encode.ts';
import type { Alignment } from '#core/align/alignment.ts';
import type { LocalGrid } from '#core/align/localFit.ts';
import type { PointPair } from '#core/align/pointPairs.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues, Frame, ReadingWish } from '#core/scene/frame.ts';
import type { ThreadStart } from './kernelModule.ts';

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

/** A frame to be placed on another, and what helps. */
export interface AlignRequest {
  base: PixelsToPlace;
  frame: PixelsToPlace;
  /** Other frames of the scene, through which it may be placed. */
  between: readonly PixelsToPlace[];
  /** Where to look, 0..255, over the whole base. */
  wanted: { width: number; height: number; levels: Uint8Array } | null;
}

export type PixelsToPlace = PixelsOf & { ev: number | null };

/** A placed frame to be fitted further from place to place. */
export interface LocalFitRequest {
  base: PixelsToPlace;
  frame: PixelsToPlace;
  /** Frame pixels to base pixels. */
  placement: readonly number[];
  /** Farthest that a place may be moved, in pixels. */
  limit: number;
}

/** A pair of points to be put exactly where both pictures look alike. */
export interface SnapRequest {
  base: PixelsToPlace;
  frame: PixelsToPlace;
  pair: PointPair;
}

/** What the engine asks of the codec thread. */
export type ToCodec =
  | ({ type: 'start' } & ThreadStart)
  | ({ type: 'load'; ticket: number; current: number; expect: Size | undefined } & FileToRead)
  | ({ type: 'inspect'; ticket: number } & FileToRead)
  | { type: 'encode'; ticket: number; image: SharedArrayBuffer; size: Size; options: EncodeOptions; exif: ExifValues }
  | { type: 'drop'; ticket: number; frame: PixelsOf }
  | ({ type: 'align'; ticket: number; current: number } & AlignRequest)
  | ({ type: 'fit'; ticket: number; current: number } & LocalFitRequest)
  | ({ type: 'snap'; ticket: number } & SnapRequest);

/** What the codec thread answers. */
export type FromCodec =
  | { type: 'ready'; ticket?: undefined }
  | { type: 'progress'; ticket: number; share: number }
  | { type: 'loaded'; ticket: number; frame: Frame }
  | { type: 'inspected'; ticket: number; frame: Frame }
  | { type: 'encoded'; ticket: number; bytes: Uint8Array<ArrayBuffer> }
  | { type: 'dropped'; ticket: number }
  | { type: 'aligned'; ticket: number; alignment: Alignment }
  | { type: 'fitted'; ticket: number; local: LocalGrid }
  | { type: 'snapped'; ticket: number; pair: PointPair | undefined }
  | { type: 'failed'; ticket: number; code: string; detail: string };

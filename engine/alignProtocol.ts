import type { Alignment } from '#core/align/alignment.ts';
import type { ChannelsApart } from '#core/align/findApart.ts';
import type { LocalGrid } from '#core/align/localFit.ts';
import type { PointPair } from '#core/align/pointPairs.ts';
import type { PairDistance } from '#core/checks/pairDistance.ts';
import type { Sketch } from '#core/checks/sketch.ts';
import type { OutputSpace } from '#core/color/workingSpace.ts';
import type { Dust, DustFrame } from '#core/finish/findDust.ts';
import type { FoundLevel } from '#core/finish/findLevel.ts';
import type { PixelsOf } from './codecProtocol.ts';

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

/** A frame whose red and blue are to be laid on green. */
export interface ApartRequest {
  frame: PixelsOf;
}

/** Two frames whose distance is measured where they meet. */
export interface DistanceRequest {
  own: Sketch;
  /** The first as it was taken; itself, if it is not told. */
  taken?: Sketch;
  other: Sketch;
  /** What of the first shows, as greys; nothing is told before there is a mask. */
  mask?: Sketch;
  /** That they are drawn in. */
  space: OutputSpace;
}

/** Frames as they were taken, in which dust is looked for. */
export interface DustRequest {
  frames: readonly DustFrame[];
  /** Pixels of a frame for one of its sketch. */
  step: number;
}

/** A picture whose horizon or uprights are looked for. */
export interface LevelRequest {
  sketch: Sketch;
}

/** What is asked of a background thread about how frames lie. */
export type ToAligner =
  | ({ type: 'align'; ticket: number; current: number } & AlignRequest)
  | ({ type: 'fit'; ticket: number; current: number } & LocalFitRequest)
  | ({ type: 'apart'; ticket: number; current: number } & ApartRequest)
  | ({ type: 'distance'; ticket: number } & DistanceRequest)
  | ({ type: 'dust'; ticket: number; current: number } & DustRequest)
  | ({ type: 'level'; ticket: number } & LevelRequest)
  | ({ type: 'snap'; ticket: number } & SnapRequest);

/** What it answers. */
export type FromAligner =
  | { type: 'aligned'; ticket: number; alignment: Alignment }
  | { type: 'fitted'; ticket: number; local: LocalGrid }
  | { type: 'apart'; ticket: number; apart: ChannelsApart | undefined }
  | { type: 'distance'; ticket: number; distance: PairDistance | undefined }
  | { type: 'dust'; ticket: number; dust: readonly Dust[] }
  | { type: 'level'; ticket: number; level: FoundLevel | undefined }
  | { type: 'snapped'; ticket: number; pair: PointPair | undefined };

import type { FrameId, ItemId, LayerId } from '../../ids.ts';
import type { Source } from '../../masks/source.ts';
import type { Mask } from '../../scene/mask.ts';
import type { Trial } from '../../scene/trials.ts';

/** A picture of a scene: three planes. */
export type PictureRequest =
  /** The whole picture, finished, but neither turned nor cut. */
  | { what: 'result' }
  /** The blend without the steps that finish it. */
  | { what: 'blend' }
  /** The blend as retouched, as grey detail of strong contrast: spots stand out. */
  | { what: 'relief' }
  /** What an adjustment lays over the picture below it, by itself: a blurred copy, detail on grey. */
  | { what: 'inner'; at: ItemId }
  /** Where channels of a picture lie at an end of the range, each in its colour: on black what is white, on white what is black. */
  | { what: 'clipped'; end: 'black' | 'white'; at: ItemId }
  /** The blend but for an item. */
  | { what: 'without'; at: ItemId }
  /** A frame as it is placed and developed, or as it was taken, darkened by some stops. */
  | { what: 'frame'; at: FrameId; stops?: number; taken?: boolean }
  /** Likewise, laid over another frame as strongly as `share` says, 0..1. */
  | { what: 'halves'; at: FrameId; stops: number; against: FrameId; share: number }
  /** What a layer shows, by itself. */
  | { what: 'content'; at: LayerId }
  /** What lies below a layer or an adjustment, as it would be if that covered all of it. */
  | { what: 'covering'; at: ItemId }
  /** The whole blend, as if an item were otherwise. */
  | { what: 'tried'; at: ItemId; as: Trial }
  /** The whole blend of the scene that this one is compared with, as whoever renders was told it. */
  | { what: 'other' }
  /** What a source names, as seen from an item. */
  | { what: 'source'; source: Source; at: ItemId };

/** One plane of a scene. */
export type PlaneRequest =
  /** A mask of an item, or `effect`: how much of it counts in the picture, by its mask within its guard, where its frame is, by its
   * opacity, and by the groups that it lies in. */
  | { what: 'mask' | 'guard' | 'stencil' | 'effect'; at: ItemId }
  /** Likewise, but by its own mask, guard, window and frame alone, whatever its opacity and its groups. */
  | { what: 'covers'; at: ItemId }
  /** Where a layer's tone window lets it show. */
  | { what: 'window'; at: LayerId }
  /** Where filling the inside of a mask acted: what it covers more than it would without. */
  | { what: 'filled'; of: 'mask' | 'guard' | 'stencil'; at: ItemId }
  /** A mask that the scene need not have, as seen from an item. */
  | { what: 'recipe'; recipe: Mask; at: ItemId }
  /** Where a placed frame is; everywhere for one that covers the scene. */
  | { what: 'inside'; at: FrameId }
  /** How a frame, darkened by some stops, lies on another. */
  | { what: 'compared'; how: 'difference' | 'edges'; at: FrameId; stops: number; against: FrameId };

/** How what is named lies: turned and cut as the picture is delivered, or turned on the table that it is cut on; as the scene, if nothing is said. */
export interface Turned {
  turned?: 'finished' | 'table';
}

/** Names anything of a scene that can be drawn, written, counted or checked. */
export type RenderRequest = (PictureRequest | PlaneRequest) & Turned;

const PICTURES: ReadonlySet<RenderRequest['what']> = new Set([
  'result',
  'blend',
  'relief',
  'inner',
  'clipped',
  'without',
  'frame',
  'halves',
  'content',
  'covering',
  'tried',
  'other',
  'source',
]);

export const isPicture = (request: RenderRequest): request is PictureRequest & Turned => PICTURES.has(request.what);

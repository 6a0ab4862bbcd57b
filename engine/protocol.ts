import type { OutputSpace } from '#core/color/workingSpace.ts';
import type { TileSpot } from '#core/raster/region.ts';
import type { Region } from '#core/raster/size.ts';
import type { Histogram } from '#core/render/plan/readings.ts';
import type { FrameId, LayerId, StrokeId } from '#core/scene/ids.ts';
import type { Mask } from '#core/scene/mask.ts';
import type { Patch } from '#core/scene/patch.ts';
import type { MaskPlace } from '#core/scene/places.ts';
import type { Source } from '#core/scene/source.ts';
import type { ThreadStart } from './kernelModule.ts';

/** Coverage that can be looked at: a mask of the scene, or how all of them let a layer show, or a recipe that the scene need not
 * have, as seen from the layer. */
export type CoverageRequest = { layerId: LayerId } & ({ of: MaskPlace['of'] | 'shown' } | { recipe: Mask });

/** A colour in 8-bit sRGB. */
export type Tint = readonly [number, number, number];

/** A frame as it is placed, darkened by as many stops as it is brighter than another. */
export interface MatchedFrame {
  frameId: FrameId;
  stops: number;
}

/** What a canvas shows. */
export type View =
  | { kind: 'picture'; without?: LayerId }
  | { kind: 'frame'; frameId: FrameId }
  | ({ kind: 'grey' } & CoverageRequest)
  | ({ kind: 'overlay'; colour: Tint; strength: number } & CoverageRequest)
  | ({ kind: 'contours'; colour: Tint } & CoverageRequest)
  | ({ kind: 'matched' } & MatchedFrame)
  | ({ kind: 'halves'; against: FrameId; share: number } & MatchedFrame)
  | ({ kind: 'compared'; how: 'difference' | 'edges'; against: FrameId } & MatchedFrame)
  | { kind: 'tones'; layerId: LayerId; source: Source };

/** Spaces that canvases can have. */
export type CanvasSpace = 'srgb' | 'display-p3';

/** Names a request and tells when it has become stale: when its lane has gone on from `current`. */
export interface Ticket {
  ticket: number;
  lane: number;
  current: number;
}

/** How threads share out the tiles of a request: each takes its own first, then what others have not come to. */
export interface Share {
  /** A word for each tile, set by the thread that takes it. */
  taken: SharedArrayBuffer;
  thread: number;
  threads: number;
}

export interface WantedTile extends TileSpot {
  /** Key of what the asker has of this tile; the same key is not drawn again. */
  known?: string;
}

export interface DrawnTile extends TileSpot {
  key: string;
  /** 128 x 128 RGBA, or nothing when the asker has it already. */
  rgba?: Uint8ClampedArray<ArrayBuffer>;
}

/** Values of one scene pixel, 16 bits. */
export interface ProbeReading {
  x: number;
  y: number;
  frames: { frameId: FrameId; rgb: number[] }[];
  mask: number | null;
  stencil: number | null;
  result: number[];
}

/** What the engine asks of a render thread. */
export type ToRenderer =
  | ({ type: 'start' } & ThreadStart)
  /** What changes the scene that the thread was told last. */
  | { type: 'scene'; patch: Patch | undefined; selected: LayerId | undefined; canvasSpace: CanvasSpace }
  | { type: 'stroke'; id: StrokeId; points: Float32Array }
  | ({ type: 'draw'; view: View; level: number; tiles: readonly WantedTile[]; share: Share } & Ticket)
  | ({ type: 'histogram'; view: View; level: number } & Ticket)
  | ({ type: 'probe'; x: number; y: number; layerId: LayerId | null } & Ticket)
  | ({
      type: 'write';
      space: OutputSpace;
      region: Region;
      image: SharedArrayBuffer;
      tiles: readonly TileSpot[];
      share: Share;
    } & Ticket);

/** What a render thread answers. `done` ends a request. */
export type FromRenderer =
  | { type: 'ready' }
  /** It works on something that takes long. */
  | { type: 'alive'; ticket: number; done: false }
  | { type: 'drawn'; ticket: number; tiles: DrawnTile[]; done: boolean }
  | { type: 'histogram'; ticket: number; histogram: Histogram | undefined; done: true }
  | { type: 'probed'; ticket: number; reading: ProbeReading; done: true }
  | { type: 'wrote'; ticket: number; tiles: number; done: boolean }
  | { type: 'failed'; ticket: number; code: string; detail: string; done: true };

/** A thread's end of a channel, in a browser or in Node. */
export interface Port<In, Out> {
  post(message: Out, transfer?: ArrayBuffer[]): void;
  onMessage(take: (message: In) => void): void;
  /** Names who is told when the other end fails: throws what nobody catches, or ends by itself. */
  onFailure(take: (detail: string) => void): void;
  /** Ends the other end; resolves when it surely runs no more. */
  close(): Promise<void>;
}

/** The end of a channel that a thread has itself. */
export type InnerPort<In, Out> = Pick<Port<In, Out>, 'post' | 'onMessage'>;

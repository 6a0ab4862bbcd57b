import type { ItemId, StrokeId } from '#core/ids.ts';
import type { TileSpot } from '#core/raster/region.ts';
import type { Region } from '#core/raster/size.ts';
import type { CheckScope } from '#core/render/plan/blendLook.ts';
import type { JobFound } from '#core/render/plan/checking.ts';
import type { Ends } from '#core/render/plan/findEnds.ts';
import type { Histogram } from '#core/render/plan/readings.ts';
import type { PlaneRequest, RenderRequest } from '#core/render/plan/request.ts';
import type { WrittenForm } from '#core/render/plan/writing.ts';
import type { Patch } from '#core/scene/patch.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { ThreadStart } from './kernelModule.ts';

/** A colour in 8-bit sRGB. */
export type Tint = readonly [number, number, number];

/** What a canvas shows: a picture, or a plane as grey; over a picture a plane as a tint, or as lines where it passes. */
export interface View {
  show: RenderRequest;
  over?: { plane: PlaneRequest; colour: Tint } & ({ as: 'tint'; strength: number } | { as: 'contours' });
}

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
  /** 128 x 128 RGBA, or nothing when the asker has it already. Its memory is drawn into again once the asker has been told. */
  rgba?: Uint8ClampedArray<ArrayBuffer>;
}

/** A part of the checks' work, by its number in `jobsOf` of the picture's size. */
export interface WantedJob {
  job: number;
  /** Key of what the asker has of it; the same key is not measured again. */
  known?: string;
}

export interface CheckedJob {
  job: number;
  key: string;
  /** Nothing when the asker has it already. */
  outcome?: JobFound;
}

/** The 16-bit samples of what requests name at one scene pixel: three of a picture, one of a plane, null of what is not there. */
export type Samples = (readonly number[] | null)[];

/** What the engine asks of a render thread. */
export type ToRenderer =
  | ({ type: 'start' } & ThreadStart)
  /** What changes the scene that the thread was told last. */
  | { type: 'scene'; patch: Patch | undefined; selected: ItemId | undefined; canvasSpace: CanvasSpace }
  /** The scene that it is compared with, if any. */
  | { type: 'other'; scene: Scene | undefined }
  /** A scene that is kept to be written, whatever becomes of the one at hand; without one it is let go. */
  | { type: 'hold'; id: number; scene: Scene | undefined }
  | { type: 'stroke'; id: StrokeId; points: Float32Array }
  | ({
      type: 'draw';
      view: View;
      level: number;
      tiles: readonly WantedTile[];
      /** Memory of tiles that were drawn before. */
      spent: readonly ArrayBuffer[];
      share: Share;
    } & Ticket)
  | ({ type: 'histogram'; of: RenderRequest; level: number } & Ticket)
  | ({ type: 'ends'; of: RenderRequest; level: number; share: number } & Ticket)
  | ({ type: 'check'; jobs: readonly WantedJob[]; scope: CheckScope; share: Share } & Ticket)
  | ({ type: 'probe'; of: readonly RenderRequest[]; x: number; y: number } & Ticket)
  | ({
      type: 'write';
      of: RenderRequest;
      /** What covers it, as a fourth channel. */
      covers: RenderRequest | undefined;
      /** The held scene that it is of; the one at hand, if none is told. */
      held: number | undefined;
      /** Forms that it is written in, made from the same tiles. */
      forms: readonly WrittenForm[];
      region: Region;
      level: number;
      tiles: readonly TileSpot[];
      share: Share;
    } & Ticket);

/** What a render thread answers. `done` ends a request. */
export type FromRenderer =
  | { type: 'ready' }
  /** It works on something that takes long. */
  | { type: 'alive'; ticket: number; done: false }
  | {
      type: 'drawn';
      ticket: number;
      tiles: DrawnTile[];
      /** Memory that was not drawn into. */
      spent: readonly ArrayBuffer[];
      done: boolean;
    }
  | { type: 'histogram'; ticket: number; histogram: Histogram | undefined; done: true }
  | { type: 'ends'; ticket: number; ends: Ends | undefined; done: true }
  | { type: 'checked'; ticket: number; jobs: CheckedJob[]; done: boolean }
  | { type: 'probed'; ticket: number; samples: Samples; done: true }
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

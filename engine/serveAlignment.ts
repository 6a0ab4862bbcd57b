import { DecodeError } from '#codecs/decodeError.ts';
import type { Alignment } from '#core/align/alignment.ts';
import { AlignCancelled } from '#core/align/cancelled.ts';
import { alignThrough } from '#core/align/chain.ts';
import { findApart } from '#core/align/findApart.ts';
import { fitLocally } from '#core/align/localFit.ts';
import type { Point } from '#core/align/placement.ts';
import { snapPair } from '#core/align/pointPairs.ts';
import { TileSource } from '#core/align/tileSource.ts';
import { pairDistance } from '#core/checks/pairDistance.ts';
import { findDust } from '#core/finish/findDust.ts';
import { findLevel } from '#core/finish/findLevel.ts';
import type { Size } from '#core/raster/size.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import type { FrameLoader } from '#core/render/tiles/loadFrame.ts';
import type { AlignRequest, PixelsToPlace, ToAligner } from './alignProtocol.ts';
import type { Answering } from './backgroundProtocol.ts';
import type { PixelsOf } from './codecProtocol.ts';
import { Lane } from './lanes.ts';

/** Finds what a message asks about how frames lie.
 * @throws {DecodeError} `cancelled` */
export function answerAlignment(loader: FrameLoader, port: Answering, message: ToAligner): void {
  const { ticket } = message;
  if (message.type === 'align') {
    port.post({ type: 'aligned', ticket, alignment: align(loader, port, message) });
  } else if (message.type === 'fit') {
    const { base, frame, placement, limit } = message;
    const local = stoppable(loader, port, message, (watch) =>
      fitLocally(sourceOf(loader, base), sourceOf(loader, frame), placement, { limit, ...watch }),
    );
    port.post({ type: 'fitted', ticket, local });
  } else if (message.type === 'apart') {
    const apart = stoppable(loader, port, message, (watch) => findApart(sourceOf(loader, message.frame), watch));
    port.post({ type: 'apart', ticket, apart });
  } else if (message.type === 'distance') {
    const { own, taken = own, other, mask, space } = message;
    const shares = mask && Float32Array.from({ length: mask.width * mask.height }, (_, i) => mask.rgba[4 * i] / 255);
    port.post({ type: 'distance', ticket, distance: pairDistance(own, taken, other, shares, space) });
  } else if (message.type === 'dust') {
    const dust = stoppable(loader, port, message, (watch) => findDust(message.frames, message.step, watch), Lane.Dust);
    port.post({ type: 'dust', ticket, dust });
  } else if (message.type === 'level') {
    port.post({ type: 'level', ticket, level: findLevel(message.sketch) });
  } else {
    const pictures = { base: sourceOf(loader, message.base), frame: sourceOf(loader, message.frame) };
    port.post({ type: 'snapped', ticket, pair: snapPair(message.pair, pictures) });
  }
}

const sourceOf = (loader: FrameLoader, { file, reading, width, height }: PixelsOf) =>
  new TileSource(loader.table, frameKey(file.sha256, reading), { width, height });

/** Places a frame whose pixels are in the table.
 * @throws {DecodeError} `cancelled` */
function align(loader: FrameLoader, port: Answering, message: ToAligner & { type: 'align' }): Alignment {
  const { base, frame, between, wanted } = message;
  const source = (frame: PixelsToPlace) => ({ source: sourceOf(loader, frame), ev: frame.ev });
  return stoppable(loader, port, message, (watch) =>
    alignThrough(source(base), source(frame), between.map(source), {
      ...watch,
      wanted: wanted ? (at) => levelAt(wanted, at, base) : undefined,
    }),
  );
}

interface Watch {
  isCancelled: () => boolean;
  onProgress: (share: number) => void;
}

/** Work on placements that tells how far it has come and ends when its lane goes on.
 * @throws {DecodeError} `cancelled` */
function stoppable<T>(
  loader: FrameLoader,
  port: Answering,
  { ticket, current }: { ticket: number; current: number },
  work: (watch: Watch) => T,
  lane: Lane = Lane.Align,
): T {
  let told = 0;
  try {
    return work({
      isCancelled: () => loader.table.slab.lane(lane) !== current,
      onProgress: (share) => {
        if (share < told + 0.02) return;
        told = share;
        port.post({ type: 'progress', ticket, share });
      },
    });
  } catch (error) {
    if (error instanceof AlignCancelled) throw new DecodeError('cancelled', 'before it was placed');
    throw error;
  }
}

/** Coverage of a small picture at a place of a large one, 0..1. */
function levelAt({ width, height, levels }: NonNullable<AlignRequest['wanted']>, at: Point, whole: Size): number {
  const column = Math.min(width - 1, Math.max(0, Math.floor(((at.x + 0.5) / whole.width) * width)));
  const row = Math.min(height - 1, Math.max(0, Math.floor(((at.y + 0.5) / whole.height) * height)));
  return levels[row * width + column] / 255;
}

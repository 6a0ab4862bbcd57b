import { DecodeError } from '#codecs/decodeError.ts';
import { encodeImage } from '#codecs/encode.ts';
import { keepLibraries, type Libraries } from '#codecs/libraries.ts';
import { vipsMessage } from '#codecs/vipsModule.ts';
import type { Alignment } from '#core/align/alignment.ts';
import { AlignCancelled } from '#core/align/cancelled.ts';
import { alignThrough } from '#core/align/chain.ts';
import { fitLocally } from '#core/align/localFit.ts';
import type { Point } from '#core/align/placement.ts';
import { snapPair } from '#core/align/pointPairs.ts';
import { TileSource } from '#core/align/tileSource.ts';
import type { Size } from '#core/raster/size.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import { createFrameLoader, dropFrame, type FrameLoader } from '#core/render/tiles/loadFrame.ts';
import type { AlignRequest, FileBytes, FromCodec, PixelsToPlace, ToCodec } from './codecProtocol.ts';
import { openResources } from './kernelModule.ts';
import { Lane } from './lanes.ts';
import { inspectBytes, loadFrameBytes } from './loadFrameBytes.ts';
import type { InnerPort } from './protocol.ts';

/** Serves a codec thread's channel: reads files into the pixel memory and writes pictures, one after the other.
 * @param start - Starts the decoder libraries. */
export function serveCodec(port: InnerPort<ToCodec, FromCodec>, start: Libraries): void {
  const libraries = keepLibraries(start);
  let loader: FrameLoader | undefined;
  let queue: Promise<void> = Promise.resolve();
  port.onMessage((message) => {
    if (message.type === 'start') {
      const { table, kernels, arena } = openResources(message);
      loader = createFrameLoader(table, kernels, arena);
      port.post({ type: 'ready' });
      return;
    }
    queue = queue.then(async () => {
      try {
        await answer(libraries, loader as FrameLoader, port, message);
      } catch (error) {
        // A library that fell over is of no use any more; whatever file it fell over is damaged.
        const fell = error instanceof WebAssembly.RuntimeError;
        if (fell) libraries.forget();
        const isKnown = error instanceof DecodeError;
        const code = isKnown ? error.code : fell ? 'damaged' : 'internal';
        port.post({
          type: 'failed',
          ticket: message.ticket,
          code,
          detail: isKnown ? error.detail : vipsMessage(error),
        });
      }
    });
  });
}

async function answer(
  libraries: Libraries,
  loader: FrameLoader,
  port: InnerPort<ToCodec, FromCodec>,
  message: Exclude<ToCodec, { type: 'start' }>,
): Promise<void> {
  const { ticket } = message;
  if (message.type === 'load') {
    const { current, file, name, reading, expect } = message;
    const isCancelled = () => loader.table.slab.lane(Lane.Load) !== current;
    if (isCancelled()) throw new DecodeError('cancelled', 'before it was read');
    const onProgress = (share: number) => port.post({ type: 'progress', ticket, share });
    const options = { name, reading, expect, onProgress, isCancelled };
    port.post({ type: 'loaded', ticket, frame: await loadFrameBytes(libraries, loader, await bytesOf(file), options) });
  } else if (message.type === 'inspect') {
    port.post({
      type: 'inspected',
      ticket,
      frame: await inspectBytes(libraries, await bytesOf(message.file), message),
    });
  } else if (message.type === 'encode') {
    const { image, size, options, exif } = message;
    const onProgress = (share: number) => port.post({ type: 'progress', ticket, share });
    const encoded = encodeImage(await libraries.vips(), new Uint16Array(image), size, options, exif, onProgress);
    const own = new Uint8Array(encoded); // out of the library's memory, so that it can be handed over
    port.post({ type: 'encoded', ticket, bytes: own }, [own.buffer]);
  } else if (message.type === 'align') {
    port.post({ type: 'aligned', ticket, alignment: align(loader, port, message) });
  } else if (message.type === 'fit') {
    const { base, frame, placement, limit } = message;
    const local = stoppable(loader, port, message, (watch) =>
      fitLocally(sourceOf(loader, base), sourceOf(loader, frame), placement, { limit, ...watch }),
    );
    port.post({ type: 'fitted', ticket, local });
  } else if (message.type === 'snap') {
    const pictures = { base: sourceOf(loader, message.base), frame: sourceOf(loader, message.frame) };
    port.post({ type: 'snapped', ticket, pair: snapPair(message.pair, pictures) });
  } else {
    const { file, reading, ...size } = message.frame;
    dropFrame(loader.table, frameKey(file.sha256, reading), size);
    port.post({ type: 'dropped', ticket });
  }
}

const sourceOf = (loader: FrameLoader, { file, reading, width, height }: PixelsToPlace) =>
  new TileSource(loader.table, frameKey(file.sha256, reading), { width, height });

/** Places a frame whose pixels are in the table.
 * @throws {DecodeError} `cancelled` */
function align(
  loader: FrameLoader,
  port: InnerPort<ToCodec, FromCodec>,
  message: ToCodec & { type: 'align' },
): Alignment {
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
  port: InnerPort<ToCodec, FromCodec>,
  { ticket, current }: { ticket: number; current: number },
  work: (watch: Watch) => T,
): T {
  let told = 0;
  try {
    return work({
      isCancelled: () => loader.table.slab.lane(Lane.Align) !== current,
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

const bytesOf = async (file: FileBytes) =>
  new Uint8Array(file instanceof ArrayBuffer ? file : await file.arrayBuffer());

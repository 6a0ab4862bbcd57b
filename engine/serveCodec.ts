import { DecodeError } from '#codecs/decodeError.ts';
import { encodeImage } from '#codecs/encode.ts';
import { keepLibraries, type Libraries } from '#codecs/libraries.ts';
import { vipsMessage } from '#codecs/vipsModule.ts';
import { frameKey } from '#core/render/frameNode.ts';
import { createLoadingDesk, dropFrame, type LoadingDesk } from '#core/render/loadFrame.ts';
import type { FileBytes, FromCodec, ToCodec } from './codecProtocol.ts';
import { openWorkplace } from './kernelModule.ts';
import { Lane } from './lanes.ts';
import { inspectBytes, loadFrameBytes } from './loadFrameBytes.ts';
import type { Port } from './protocol.ts';

/** Serves a codec thread's channel: reads files into the pixel memory and writes pictures, one after the other.
 * @param start - Starts the decoder libraries. */
export function serveCodec(port: Port<ToCodec, FromCodec>, start: Libraries): void {
  const libraries = keepLibraries(start);
  let desk: LoadingDesk | undefined;
  let queue: Promise<void> = Promise.resolve();
  port.onMessage((message) => {
    if (message.type === 'start') {
      const { table, kernels, arena } = openWorkplace(message);
      desk = createLoadingDesk(table, kernels, arena);
      return;
    }
    queue = queue.then(async () => {
      try {
        await answer(libraries, desk as LoadingDesk, port, message);
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
  desk: LoadingDesk,
  port: Port<ToCodec, FromCodec>,
  message: Exclude<ToCodec, { type: 'start' }>,
): Promise<void> {
  const { ticket } = message;
  if (message.type === 'load') {
    const { current, file, name, reading, expect } = message;
    const isCancelled = () => desk.table.slab.lane(Lane.Load) !== current;
    if (isCancelled()) throw new DecodeError('cancelled', 'before it was read');
    const onProgress = (share: number) => port.post({ type: 'progress', ticket, share });
    const options = { name, reading, expect, onProgress, isCancelled };
    port.post({ type: 'loaded', ticket, frame: await loadFrameBytes(libraries, desk, await bytesOf(file), options) });
  } else if (message.type === 'inspect') {
    port.post({
      type: 'inspected',
      ticket,
      frame: await inspectBytes(libraries, await bytesOf(message.file), message),
    });
  } else if (message.type === 'encode') {
    const { image, size, options, exif } = message;
    const encoded = encodeImage(await libraries.vips(), new Uint16Array(image), size, options, exif);
    const own = new Uint8Array(encoded); // out of the library's memory, so that it can be handed over
    port.post({ type: 'encoded', ticket, bytes: own }, [own.buffer]);
  } else {
    const { file, reading, ...size } = message.frame;
    dropFrame(desk.table, frameKey(file.sha256, reading), size);
    port.post({ type: 'dropped', ticket });
  }
}

const bytesOf = async (file: FileBytes) =>
  new Uint8Array(file instanceof ArrayBuffer ? file : await file.arrayBuffer());

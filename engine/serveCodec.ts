import { DecodeError } from '#codecs/decodeError.ts';
import { encodeImage } from '#codecs/encode.ts';
import { type VipsModule, vipsMessage } from '#codecs/vipsModule.ts';
import { frameKey } from '#core/render/frameNode.ts';
import { createLoadingDesk, dropFrame, type LoadingDesk } from '#core/render/loadFrame.ts';
import type { FromCodec, ToCodec } from './codecProtocol.ts';
import { openWorkplace } from './kernelModule.ts';
import { Lane } from './lanes.ts';
import { loadFrameBytes } from './loadFrameBytes.ts';
import type { Port } from './protocol.ts';

/** Serves a codec thread's channel: reads files into the pixel memory and writes pictures, one after the other.
 * @param startVips - Starts the decoder library. */
export function serveCodec(port: Port<ToCodec, FromCodec>, startVips: () => Promise<VipsModule>): void {
  const vips = startVips();
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
        await answer(await vips, desk as LoadingDesk, port, message);
      } catch (error) {
        const isKnown = error instanceof DecodeError;
        const [code, detail] = isKnown ? [error.code, error.detail] : ['internal', vipsMessage(error)];
        port.post({ type: 'failed', ticket: message.ticket, code, detail });
      }
    });
  });
}

async function answer(
  vips: VipsModule,
  desk: LoadingDesk,
  port: Port<ToCodec, FromCodec>,
  message: Exclude<ToCodec, { type: 'start' }>,
): Promise<void> {
  const { ticket } = message;
  if (message.type === 'load') {
    const { current, file, name, expect } = message;
    const isCancelled = () => desk.table.slab.lane(Lane.Load) !== current;
    if (isCancelled()) throw new DecodeError('cancelled', 'before it was read');
    const bytes = new Uint8Array(file instanceof ArrayBuffer ? file : await file.arrayBuffer());
    const onProgress = (share: number) => port.post({ type: 'progress', ticket, share });
    const frame = await loadFrameBytes(vips, desk, bytes, { name, expect, onProgress, isCancelled });
    port.post({ type: 'loaded', ticket, frame });
  } else if (message.type === 'encode') {
    const encoded = encodeImage(vips, new Uint16Array(message.image), message.size, message.options, message.exif);
    const own = new Uint8Array(encoded); // out of the library's memory, so that it can be handed over
    port.post({ type: 'encoded', ticket, bytes: own }, [own.buffer]);
  } else {
    dropFrame(desk.table, frameKey(message.sha256), message.size);
    port.post({ type: 'dropped', ticket });
  }
}

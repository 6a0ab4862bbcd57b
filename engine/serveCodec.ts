import { DecodeError } from '#codecs/decodeError.ts';
import { encodeImage } from '#codecs/encode.ts';
import type { Libraries } from '#codecs/libraries.ts';
import { proofImage } from '#codecs/proof.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import { dropFrame, type FrameLoader } from '#core/render/tiles/loadFrame.ts';
import type { Answering } from './backgroundProtocol.ts';
import type { FileBytes, ToCodec } from './codecProtocol.ts';
import { Lane } from './lanes.ts';
import { inspectBytes, loadFrameBytes } from './loadFrameBytes.ts';

/** Reads, writes or forgets what a message asks for.
 * @throws {DecodeError} */
export async function answerCodec(
  libraries: Libraries,
  loader: FrameLoader,
  port: Answering,
  message: ToCodec,
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
  } else if (message.type === 'proof') {
    const { image, size, options } = message;
    const proof = proofImage(await libraries.vips(), new Uint16Array(image), size, options);
    port.post({ type: 'proofed', ticket, proof });
  } else {
    const { file, reading, ...size } = message.frame;
    dropFrame(loader.table, frameKey(file.sha256, reading), size);
    port.post({ type: 'dropped', ticket });
  }
}

const bytesOf = async (file: FileBytes) =>
  new Uint8Array(file instanceof ArrayBuffer ? file : await file.arrayBuffer());

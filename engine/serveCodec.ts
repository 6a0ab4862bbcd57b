import { DecodeError } from '#codecs/decodeError.ts';
import { formatOf } from '#codecs/deliver/formats/list.ts';
import { previewPicture } from '#codecs/deliver/previewPicture.ts';
import { splitLayer } from '#codecs/deliver/splitLayer.ts';
import { isStored, writeStoredPng } from '#codecs/deliver/storedPng.ts';
import { writePicture } from '#codecs/deliver/writePicture.ts';
import type { Libraries } from '#codecs/libraries.ts';
import { canvasBytes, proofImage } from '#codecs/proof.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import { dropFrame, type FrameLoader } from '#core/render/tiles/loadFrame.ts';
import type { Answering } from './backgroundProtocol.ts';
import { feedOfRing } from './bandRing.ts';
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
  } else if (message.type === 'save') {
    const { bands, options } = message;
    const isLate = formatOf(options.file.format).isLate;
    const vips = await (isLate ? libraries.vipsMore() : libraries.vips());
    const feed = feedOfRing(bands, {
      onTaken: (band) => port.post({ type: 'taken', ticket, band }),
      // It gives a sign while it waits for rows.
      onWaiting: () => port.post({ type: 'progress', ticket, share: 0 }),
    });
    const onBytes = (bytes: Uint8Array<ArrayBuffer>) => port.post({ type: 'piece', ticket, bytes }, [bytes.buffer]);
    const written = isStored(feed, options)
      ? await writeStoredPng(vips, feed, options, onBytes)
      : writePicture(vips, feed, options, onBytes);
    port.post({ type: 'saved', ticket, written });
  } else if (message.type === 'split') {
    const { bytes, canvas, at } = message;
    const layer = splitLayer(await libraries.vips(), bytes && new Uint8Array(bytes), canvas, at);
    port.post({ type: 'layer', ticket, layer }, [layer.colour.buffer, ...(layer.covers ? [layer.covers.buffer] : [])]);
  } else if (message.type === 'preview') {
    const { image, size, options, isShown } = message;
    const isLate = formatOf(options.file.format).isLate;
    const vips = await (isLate ? libraries.vipsMore() : libraries.vips());
    const preview = previewPicture(vips, new Uint16Array(image), size, options, isShown);
    port.post({ type: 'previewed', ticket, preview });
  } else if (message.type === 'proof') {
    const { image, size, options, canvasSpace } = message;
    const { image: shown, outside } = proofImage(await libraries.vips(), new Uint16Array(image), size, options);
    const rgba = canvasBytes(shown, options.from, canvasSpace);
    port.post({ type: 'proofed', ticket, proof: { rgba, outside } }, [rgba.buffer, outside.buffer]);
  } else {
    const { file, reading, ...size } = message.frame;
    dropFrame(loader.table, frameKey(file.sha256, reading), size);
    port.post({ type: 'dropped', ticket });
  }
}

const bytesOf = async (file: FileBytes) =>
  new Uint8Array(file instanceof ArrayBuffer ? file : await file.arrayBuffer());

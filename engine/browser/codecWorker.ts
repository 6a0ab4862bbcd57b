import Vips from 'wasm-vips';
import vipsWasmUrl from 'wasm-vips/vips.wasm?url';
import { DecodeError } from '#codecs/decodeError.ts';
import { encodeImage } from '#codecs/encode.ts';
import { type VipsModule, vipsMessage } from '#codecs/vipsModule.ts';
import { frameKey } from '#core/render/frameNode.ts';
import { createLoadingDesk, dropFrame, type LoadingDesk } from '#core/render/loadFrame.ts';
import type { FromCodec, ToCodec } from '../codecProtocol.ts';
import { openWorkplace } from '../kernelModule.ts';
import { Lane } from '../lanes.ts';
import { loadFrameBytes } from '../loadFrameBytes.ts';

const post = (message: FromCodec, transfer: Transferable[] = []) => self.postMessage(message, { transfer });

const started: Promise<VipsModule> = Vips({
  dynamicLibraries: [],
  // What the library has to say comes back as errors; its own lines would only alarm in the console.
  print: () => undefined,
  printErr: () => undefined,
  locateFile: (name) => (name.endsWith('.wasm') ? vipsWasmUrl : name),
}).then((vips) => {
  vips.Cache.max(0);
  return vips;
});

let desk: LoadingDesk | undefined;
/** Files are read one after the other: each takes all the memory bandwidth there is. */
let queue: Promise<void> = Promise.resolve();

self.addEventListener('message', ({ data }: MessageEvent<ToCodec>) => {
  if (data.type === 'start') {
    const { table, kernels, arena } = openWorkplace(data);
    desk = createLoadingDesk(table, kernels, arena);
    started.then(() => post({ type: 'ready' }));
    return;
  }
  queue = queue.then(() => answer(data).catch((error) => fail(data.ticket, error)));
});

async function answer(message: Exclude<ToCodec, { type: 'start' }>): Promise<void> {
  const vips = await started;
  const own = desk as LoadingDesk;
  if (message.type === 'load') {
    const { ticket, current, file, name, expect } = message;
    const isCancelled = () => own.table.slab.lane(Lane.Load) !== current;
    if (isCancelled()) throw new DecodeError('cancelled', 'before it was read');
    const bytes = new Uint8Array(await file.arrayBuffer());
    const onProgress = (share: number) => post({ type: 'progress', ticket, share });
    post({
      type: 'loaded',
      ticket,
      frame: await loadFrameBytes(vips, own, bytes, { name, expect, onProgress, isCancelled }),
    });
  } else if (message.type === 'encode') {
    const bytes = encodeImage(vips, new Uint16Array(message.image), message.size, message.options, message.exif);
    const own = new Uint8Array(bytes); // out of the library's memory, so that it can be handed over
    post({ type: 'encoded', ticket: message.ticket, bytes: own }, [own.buffer]);
  } else {
    dropFrame(own.table, frameKey(message.sha256), message.size);
    post({ type: 'dropped', ticket: message.ticket });
  }
}

function fail(ticket: number, error: unknown): void {
  const code = error instanceof DecodeError ? error.code : 'internal';
  const detail = error instanceof DecodeError ? error.detail : vipsMessage(error);
  post({ type: 'failed', ticket, code, detail });
}

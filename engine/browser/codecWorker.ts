import Vips from 'wasm-vips';
import vipsWasmUrl from 'wasm-vips/vips.wasm?url';
import type { ToCodec } from '../codecProtocol.ts';
import { serveCodec } from '../serveCodec.ts';

const startVips = async () => {
  const vips = await Vips({
    dynamicLibraries: [],
    // What the library has to say comes back as errors; its own lines would only alarm in the console.
    print: () => undefined,
    printErr: () => undefined,
    locateFile: (name) => (name.endsWith('.wasm') ? vipsWasmUrl : name),
  });
  vips.Cache.max(0);
  return vips;
};

serveCodec(
  {
    post: (message, transfer) => self.postMessage(message, { transfer: transfer ?? [] }),
    onMessage: (take) => self.addEventListener('message', (event: MessageEvent<ToCodec>) => take(event.data)),
    close: () => self.close(),
  },
  startVips,
);

import type { ToCodec } from '../codecProtocol.ts';
import { serveCodec } from '../serveCodec.ts';
import { browserLibraries } from './libraries.ts';

serveCodec(
  {
    post: (message, transfer) => self.postMessage(message, { transfer: transfer ?? [] }),
    onMessage: (take) => self.addEventListener('message', (event: MessageEvent<ToCodec>) => take(event.data)),
  },
  browserLibraries,
);

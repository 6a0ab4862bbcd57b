import type { ToBackground } from '../backgroundProtocol.ts';
import { serveBackground } from '../serveBackground.ts';
import { browserLibraries } from './libraries.ts';

serveBackground(
  {
    post: (message, transfer) => self.postMessage(message, { transfer: transfer ?? [] }),
    onMessage: (take) => self.addEventListener('message', (event: MessageEvent<ToBackground>) => take(event.data)),
  },
  browserLibraries,
);

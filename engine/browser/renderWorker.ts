import type { ToRenderer } from '../protocol.ts';
import { serveRenderer } from '../renderer.ts';

serveRenderer({
  post: (message, transfer) => self.postMessage(message, { transfer: transfer ?? [] }),
  onMessage: (take) => self.addEventListener('message', (event: MessageEvent<ToRenderer>) => take(event.data)),
});

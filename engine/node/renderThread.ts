import { parentPort } from 'node:worker_threads';
import type { FromRenderer, ToRenderer } from '../protocol.ts';
import { serveRenderer } from '../renderer.ts';

if (!parentPort) throw new Error('This runs as a worker thread only');
const parent = parentPort;

serveRenderer({
  post: (message: FromRenderer, transfer) => parent.postMessage(message, transfer ?? []),
  onMessage: (take) => parent.on('message', (message: ToRenderer) => take(message)),
});

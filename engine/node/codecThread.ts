import { parentPort } from 'node:worker_threads';
import type { ToCodec } from '../codecProtocol.ts';
import { serveCodec } from '../serveCodec.ts';
import { nodeLibraries } from './libraries.ts';

if (!parentPort) throw new Error('This runs as a worker thread only');
const parent = parentPort;

serveCodec(
  {
    post: (message, transfer) => parent.postMessage(message, transfer ?? []),
    onMessage: (take) => parent.on('message', (message: ToCodec) => take(message)),
  },
  nodeLibraries,
);

import { parentPort } from 'node:worker_threads';
import type { ToBackground } from '../backgroundProtocol.ts';
import { serveBackground } from '../serveBackground.ts';
import { nodeLibraries } from './libraries.ts';

if (!parentPort) throw new Error('This runs as a worker thread only');
const parent = parentPort;

serveBackground(
  {
    post: (message, transfer) => parent.postMessage(message, transfer ?? []),
    onMessage: (take) => parent.on('message', (message: ToBackground) => take(message)),
  },
  nodeLibraries,
);

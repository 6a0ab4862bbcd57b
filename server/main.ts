import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { parseArgs } from 'node:util';
import { createApp } from './app.ts';

/** A browser keeps scenes by address, so the server comes back to the same one whenever it can. */
const PREFERRED_PORTS = [4870, 4871, 4872, 4873, 0];

const { values } = parseArgs({
  options: {
    app: { type: 'string', default: 'dist/app' },
    demo: { type: 'string', default: 'demo/frames' },
    port: { type: 'string' },
    'card-speed': { type: 'string' },
  },
});

/** Megabytes a second. */
const cardSpeed = values['card-speed'] ? Number(values['card-speed']) * 1e6 : undefined;
const handler = createApp({ app: values.app, demo: values.demo, cardSpeed }).callback();

function listen(port: number): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer(handler);
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve(server));
  });
}

async function listenOnFreePort(): Promise<Server> {
  for (const port of values.port ? [Number(values.port)] : PREFERRED_PORTS) {
    try {
      return await listen(port);
    } catch (error) {
      if ((error as { code?: string }).code !== 'EADDRINUSE' || values.port) throw error;
    }
  }
  throw new Error('No free port');
}

const server = await listenOnFreePort();
console.log(`Lusket is at http://localhost:${(server.address() as AddressInfo).port}/`);
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    server.close();
    server.closeAllConnections();
  });
}

import { availableParallelism, totalmem } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { TileTable } from '#core/raster/tileTable.ts';
import { Engine } from '../engine.ts';
import { createPixelMemory } from '../memory.ts';
import type { FromRenderer, Port, ToRenderer } from '../protocol.ts';
import { threadCount } from '../threadCount.ts';

/** Starts an engine on Node's worker threads.
 * @param thread - The built `renderThread` module. */
export async function startEngine(thread: URL): Promise<{ engine: Engine; table: TileTable }> {
  const { memory, table } = createPixelMemory(totalmem() / 2);
  const ports = Array.from({ length: threadCount(availableParallelism()) }, () => portOf(new Worker(thread)));
  return { engine: await Engine.start(ports, memory, table), table };
}

function portOf(worker: Worker): Port<FromRenderer, ToRenderer> {
  return {
    post: (message, transfer) => worker.postMessage(message, transfer ?? []),
    onMessage: (take) => {
      worker.removeAllListeners('message');
      worker.on('message', take);
    },
    close: () => void worker.terminate(),
  };
}

import { availableParallelism, totalmem } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Arena } from '#core/raster/arena.ts';
import { createLoadingDesk, type LoadingDesk } from '#core/render/loadFrame.ts';
import { Engine } from '../engine.ts';
import { openWorkplace } from '../kernelModule.ts';
import { createPixelMemory } from '../memory.ts';
import type { FromRenderer, Port, ToRenderer } from '../protocol.ts';
import { threadCount } from '../threadCount.ts';
import { loadKernels } from './loadKernels.ts';

/** An engine, and what frames are loaded with beside it, in the calling thread. */
export interface NodeEngine {
  engine: Engine;
  desk: LoadingDesk;
  arena: Arena;
  close: () => void;
}

/** Starts an engine on Node's worker threads; frames are loaded in the calling thread.
 * @param built - The folder of the built modules.
 * @param budgetBytes - Most that pixels may take in memory. */
export async function startEngine(built: URL, budgetBytes = totalmem() / 2): Promise<NodeEngine> {
  const threads = threadCount(availableParallelism());
  const { memory, table } = createPixelMemory(budgetBytes, threads + 1);
  const kernels = loadKernels(new URL('kernels.wasm', built));
  const keeper = await startKeeper(new URL('overflowThread.mjs', built), memory);
  const ports = Array.from({ length: threads }, () => portOf(new Worker(new URL('renderThread.mjs', built))));
  const engine = await Engine.start(ports, memory, kernels, table);
  const own = openWorkplace({ memory, kernels, arena: threads });
  const close = () => {
    engine.close();
    void keeper.terminate();
  };
  return { engine, desk: createLoadingDesk(own.table, own.kernels, own.arena), arena: own.arena, close };
}

/** Starts the thread that keeps the overflow; it never comes back, so nobody waits for it to end. */
function startKeeper(module: URL, memory: WebAssembly.Memory): Promise<Worker> {
  const keeper = new Worker(module, { workerData: memory });
  return new Promise((resolve, reject) => {
    keeper.once('error', reject);
    keeper.once('message', () => {
      keeper.unref();
      resolve(keeper);
    });
  });
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

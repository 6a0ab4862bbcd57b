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

/** Starts an engine on Node's worker threads; frames are loaded in the calling thread.
 * @param built - The folder of the built modules. */
export async function startEngine(built: URL): Promise<{ engine: Engine; desk: LoadingDesk; arena: Arena }> {
  const threads = threadCount(availableParallelism());
  const { memory, table } = createPixelMemory(totalmem() / 2, threads + 1);
  const kernels = loadKernels(new URL('kernels.wasm', built));
  const ports = Array.from({ length: threads }, () => portOf(new Worker(new URL('renderThread.mjs', built))));
  const engine = await Engine.start(ports, memory, kernels, table);
  const own = openWorkplace({ memory, kernels, arena: threads });
  return { engine, desk: createLoadingDesk(own.table, own.kernels, own.arena), arena: own.arena };
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

import { availableParallelism, totalmem } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Arena } from '#core/raster/arena.ts';
import { createFrameLoader, type FrameLoader } from '#core/render/tiles/loadFrame.ts';
import { Aligner } from '../aligner.ts';
import { BACKGROUND_THREADS, BackgroundThreads } from '../backgroundThreads.ts';
import { Codec } from '../codec.ts';
import { Engine } from '../engine.ts';
import { openResources } from '../kernelModule.ts';
import { createPixelMemory } from '../memory.ts';
import type { FromRenderer, Port, ToRenderer } from '../protocol.ts';
import { threadCount } from '../threadCount.ts';
import { loadKernels } from './loadKernels.ts';

/** An engine, threads that read and write files, and what the calling thread itself works with. */
export interface NodeEngine {
  engine: Engine;
  codec: Codec;
  aligner: Aligner;
  loader: FrameLoader;
  arena: Arena;
  close: () => void;
}

/** How an engine is started where it is not as usual. */
interface StartOptions {
  /** How long a thread may work without a word. */
  patienceMs?: number;
  /** Render threads. */
  threads?: number;
  /** Told of every thread that is started: its name and the worker. */
  onSpawn?: (name: string, worker: Worker) => void;
}

/** Starts an engine on Node's worker threads.
 * @param built - The folder of the built modules.
 * @param budgetBytes - Most that pixels may take in memory. */
export async function startEngine(
  built: URL,
  budgetBytes = totalmem() / 2,
  { patienceMs, threads = threadCount(availableParallelism()), onSpawn }: StartOptions = {},
): Promise<NodeEngine> {
  const { memory, table } = createPixelMemory(budgetBytes, threads + BACKGROUND_THREADS + 1);
  const kernels = loadKernels(new URL('kernels.wasm', built));
  const keeper = await startKeeper(new URL('overflowThread.mjs', built), memory);
  // Without it scenes have to fit into memory.
  keeper.on('exit', () => {
    table.slab.overflowPlaces = 0;
  });
  onSpawn?.('overflow', keeper);
  const open = <In, Out>(name: string) => {
    const worker = new Worker(new URL(`${name}Thread.mjs`, built));
    onSpawn?.(name, worker);
    return portOf<In, Out>(worker);
  };
  const spawn = () => open<FromRenderer, ToRenderer>('render');
  const engine = await Engine.start({ spawn, threads, memory, kernels, table, patienceMs });
  const background = new BackgroundThreads({
    memory,
    kernels,
    spawn: () => open('background'),
    arenas: Array.from({ length: BACKGROUND_THREADS }, (_, index) => threads + index),
    current: (lane) => engine.current(lane),
    patienceMs,
  });
  const own = openResources({ memory, kernels, arena: threads + BACKGROUND_THREADS });
  const close = () => {
    engine.close();
    background.close();
    void keeper.terminate();
  };
  const codec = new Codec(background);
  const aligner = new Aligner(background);
  return {
    engine,
    codec,
    aligner,
    loader: createFrameLoader(own.table, own.kernels, own.arena),
    arena: own.arena,
    close,
  };
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

function portOf<In, Out>(worker: Worker): Port<In, Out> {
  return {
    post: (message, transfer) => worker.postMessage(message, transfer ?? []),
    onMessage: (take) => worker.on('message', take),
    onFailure: (take) => {
      worker.on('error', (error) => take(error.message));
      worker.on('messageerror', (error) => take(error.message));
      worker.on('exit', (code) => take(`it ended with ${code}`));
    },
    close: async () => {
      await worker.terminate();
    },
  };
}

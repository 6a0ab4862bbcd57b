import kernelsUrl from '#core/assembly/build/kernels.wasm?url';
import type { TileTable } from '#core/raster/tileTable.ts';
import { Aligner } from '../aligner.ts';
import { BACKGROUND_THREADS, BackgroundThreads } from '../backgroundThreads.ts';
import { Codec } from '../codec.ts';
import { Engine } from '../engine.ts';
import { hasSimd } from '../kernelModule.ts';
import { createPixelMemory } from '../memory.ts';
import type { FromRenderer, Port, ToRenderer } from '../protocol.ts';
import { threadCount } from '../threadCount.ts';

/** What the engine needs of a browser and does not find. */
export class MissingFeature extends Error {
  readonly feature: 'isolation' | 'memory' | 'simd';
  constructor(feature: 'isolation' | 'memory' | 'simd') {
    super(feature);
    this.feature = feature;
  }
}

/** How long a worker that was told to end may still be running: browsers let it finish what it is at, for two seconds at most. */
const LAST_BREATH_MS = 2500;

/** Share of the device's memory that pixels may take. */
const BUDGET_SHARE = 0.5;

export interface BrowserEngine {
  engine: Engine;
  codec: Codec;
  aligner: Aligner;
}

/** Starts render threads and background threads.
 * @throws {MissingFeature} */
export async function startBrowserEngine(): Promise<BrowserEngine> {
  // Without isolation there is no shared memory, and the decoder would wait for ever.
  if (!globalThis.crossOriginIsolated) throw new MissingFeature('isolation');
  const deviceGiB = (navigator as Navigator & { deviceMemory?: number }).deviceMemory ?? 8;
  if (!hasSimd()) throw new MissingFeature('simd');
  const threads = threadCount(navigator.hardwareConcurrency);
  const kernels = await WebAssembly.compileStreaming(fetch(kernelsUrl));
  const { memory, table } = tryMemory(deviceGiB * BUDGET_SHARE * 2 ** 30, threads + BACKGROUND_THREADS);
  await startKeeper(memory, table);
  const spawn = () =>
    portOf<FromRenderer, ToRenderer>(new Worker(new URL('./renderWorker.ts', import.meta.url), { type: 'module' }));
  const engine = await Engine.start({ spawn, threads, memory, kernels, table });
  const background = new BackgroundThreads({
    memory,
    kernels,
    spawn: () => portOf(new Worker(new URL('./backgroundWorker.ts', import.meta.url), { type: 'module' })),
    arenas: Array.from({ length: BACKGROUND_THREADS }, (_, index) => threads + index),
    current: (lane) => engine.current(lane),
  });
  return { engine, codec: new Codec(background), aligner: new Aligner(background) };
}

/** Starts the thread that keeps the overflow, and waits until it knows how much it can take. */
function startKeeper(memory: WebAssembly.Memory, { slab }: TileTable): Promise<void> {
  const keeper = new Worker(new URL('./overflowWorker.ts', import.meta.url), { type: 'module' });
  return new Promise((resolve) => {
    keeper.onmessage = () => resolve();
    keeper.onerror = () => {
      // Scenes have to fit into memory from now on.
      slab.overflowPlaces = 0;
      resolve();
    };
    keeper.postMessage(memory);
  });
}

function tryMemory(budgetBytes: number, threads: number) {
  try {
    return createPixelMemory(budgetBytes, threads);
  } catch {
    throw new MissingFeature('memory');
  }
}

function portOf<In, Out>(worker: Worker): Port<In, Out> {
  return {
    post: (message, transfer) => worker.postMessage(message, transfer ?? []),
    onMessage: (take) => {
      worker.onmessage = (event: MessageEvent<In>) => take(event.data);
    },
    onFailure: (take) => {
      worker.onerror = (event) => {
        event.preventDefault(); // it is told by name where it matters
        take(event.message || 'it could not be loaded');
      };
      worker.onmessageerror = () => take('it said what cannot be understood');
    },
    close: async () => {
      worker.onerror = (event) => event.preventDefault();
      worker.terminate();
      await new Promise((resolve) => setTimeout(resolve, LAST_BREATH_MS));
    },
  };
}

import kernelsUrl from '#core/assembly/build/kernels.wasm?url';
import { CODEC_THREADS, Codec } from '../codec.ts';
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

/** Share of the device's memory that pixels may take. */
const BUDGET_SHARE = 0.5;

export interface BrowserEngine {
  engine: Engine;
  codec: Codec;
}

/** Starts render threads and the codec thread.
 * @throws {MissingFeature} */
export async function startBrowserEngine(): Promise<BrowserEngine> {
  // Without isolation there is no shared memory, and the decoder would wait for ever.
  if (!globalThis.crossOriginIsolated) throw new MissingFeature('isolation');
  const deviceGiB = (navigator as Navigator & { deviceMemory?: number }).deviceMemory ?? 8;
  if (!hasSimd()) throw new MissingFeature('simd');
  const threads = threadCount(navigator.hardwareConcurrency);
  const kernels = await WebAssembly.compileStreaming(fetch(kernelsUrl));
  const { memory, table } = tryMemory(deviceGiB * BUDGET_SHARE * 2 ** 30, threads + CODEC_THREADS);
  await startKeeper(memory);
  const ports = Array.from({ length: threads }, () =>
    portOf<FromRenderer, ToRenderer>(new Worker(new URL('./renderWorker.ts', import.meta.url), { type: 'module' })),
  );
  const engine = await Engine.start(ports, memory, kernels, table);
  const codec = new Codec({
    memory,
    kernels,
    spawn: () => portOf(new Worker(new URL('./codecWorker.ts', import.meta.url), { type: 'module' })),
    arenas: Array.from({ length: CODEC_THREADS }, (_, index) => threads + index),
    current: (lane) => engine.current(lane),
  });
  return { engine, codec };
}

/** Starts the thread that keeps the overflow, and waits until it knows how much it can take. */
function startKeeper(memory: WebAssembly.Memory): Promise<void> {
  const keeper = new Worker(new URL('./overflowWorker.ts', import.meta.url), { type: 'module' });
  return new Promise((resolve) => {
    keeper.onmessage = () => resolve();
    keeper.onerror = () => resolve(); // it will never open one, and scenes have to fit into memory
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
    close: () => worker.terminate(),
  };
}

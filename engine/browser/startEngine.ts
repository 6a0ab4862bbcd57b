import { type DecodeCode, DecodeError } from '#codecs/decodeError.ts';
import type { EncodeOptions } from '#codecs/encode.ts';
import kernelsUrl from '#core/assembly/build/kernels.wasm?url';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues, Frame } from '#core/scene/scene.ts';
import type { FromCodec, ToCodec } from '../codecProtocol.ts';
import { Engine } from '../engine.ts';
import { hasSimd, type ThreadStart } from '../kernelModule.ts';
import { Lane } from '../lanes.ts';
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
  const { memory, table } = tryMemory(deviceGiB * BUDGET_SHARE * 2 ** 30, threads + 1);
  const ports = Array.from({ length: threads }, () =>
    portOf(new Worker(new URL('./renderWorker.ts', import.meta.url), { type: 'module' })),
  );
  const engine = await Engine.start(ports, memory, kernels, table);
  const spawn = () => new Worker(new URL('./codecWorker.ts', import.meta.url), { type: 'module' });
  const codec = new Codec(spawn, { memory, kernels, arena: threads }, () => engine.current(Lane.Load));
  return { engine, codec };
}

function tryMemory(budgetBytes: number, threads: number) {
  try {
    return createPixelMemory(budgetBytes, threads);
  } catch {
    throw new MissingFeature('memory');
  }
}

function portOf(worker: Worker): Port<FromRenderer, ToRenderer> {
  return {
    post: (message, transfer) => worker.postMessage(message, transfer ?? []),
    onMessage: (take) => {
      worker.onmessage = (event: MessageEvent<FromRenderer>) => take(event.data);
    },
    close: () => worker.terminate(),
  };
}

interface Pending {
  resolve: (message: FromCodec) => void;
  reject: (error: Error) => void;
  onProgress?: (share: number) => void;
}

type Request<T> = T extends { ticket: number } ? Omit<T, 'ticket'> : never;

/** Reads and writes files in a thread of its own. */
export class Codec {
  readonly #spawn: () => Worker;
  readonly #start: ThreadStart;
  readonly #pending = new Map<number, Pending>();
  readonly #current: () => number;
  #worker: Worker;
  #tickets = 0;
  #encoding = 0;

  constructor(spawn: () => Worker, start: ThreadStart, current: () => number) {
    this.#spawn = spawn;
    this.#start = start;
    this.#current = current;
    this.#worker = this.#open();
  }

  #open(): Worker {
    const worker = this.#spawn();
    worker.onmessage = (event: MessageEvent<FromCodec>) => this.#take(event.data);
    worker.postMessage({ type: 'start', ...this.#start } satisfies ToCodec);
    return worker;
  }

  /** Gives up encoding: the encoder cannot be asked to stop, so its thread ends and another takes its place. Encoding
   * touches no tiles, so nothing is left half done in the memory that all share. */
  stopEncoding(): void {
    if (this.#encoding === 0) return;
    this.#worker.terminate();
    for (const { reject } of this.#pending.values()) reject(new DecodeError('cancelled', 'while writing'));
    this.#pending.clear();
    this.#worker = this.#open();
  }

  /** Reads a file into the pixel memory.
   * @throws {DecodeError} */
  async load(file: Blob, name: string, expect: Size | undefined, onProgress: (share: number) => void): Promise<Frame> {
    const answer = await this.#ask({ type: 'load', current: this.#current(), file, name, expect }, onProgress);
    return (answer as FromCodec & { type: 'loaded' }).frame;
  }

  /** Encodes a rendered picture.
   * @throws {DecodeError} `internal` when the encoder fails, `cancelled` when it was stopped. */
  async encode(
    image: SharedArrayBuffer,
    size: Size,
    options: EncodeOptions,
    exif: ExifValues,
  ): Promise<Uint8Array<ArrayBuffer>> {
    this.#encoding++;
    try {
      const answer = await this.#ask({ type: 'encode', image, size, options, exif });
      return (answer as FromCodec & { type: 'encoded' }).bytes;
    } finally {
      this.#encoding--;
    }
  }

  /** Frees the pixels of a frame that no scene shows any more. */
  async drop(sha256: string, size: Size): Promise<void> {
    await this.#ask({ type: 'drop', sha256, size });
  }

  #ask(request: Request<ToCodec>, onProgress?: (share: number) => void): Promise<FromCodec> {
    const ticket = ++this.#tickets;
    return new Promise((resolve, reject) => {
      this.#pending.set(ticket, { resolve, reject, onProgress });
      this.#worker.postMessage({ ...request, ticket });
    });
  }

  #take(message: FromCodec): void {
    if (message.type === 'ready') return;
    const pending = this.#pending.get(message.ticket);
    if (!pending) return;
    if (message.type === 'progress') {
      pending.onProgress?.(message.share);
      return;
    }
    this.#pending.delete(message.ticket);
    if (message.type === 'failed') pending.reject(new DecodeError(message.code as DecodeCode, message.detail));
    else pending.resolve(message);
  }
}

import { type DecodeCode, DecodeError } from '#codecs/decodeError.ts';
import type { EncodeOptions } from '#codecs/encode.ts';
import type { Alignment } from '#core/align/alignment.ts';
import type { LocalGrid } from '#core/align/localFit.ts';
import type { PointPair } from '#core/align/pointPairs.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues, Frame } from '#core/scene/scene.ts';
import type {
  AlignRequest,
  FileBytes,
  FileToRead,
  FromCodec,
  LocalFitRequest,
  PixelsOf,
  SnapRequest,
  ToCodec,
} from './codecProtocol.ts';
import type { ThreadStart } from './kernelModule.ts';
import { Lane } from './lanes.ts';
import type { Port } from './protocol.ts';

interface Pending {
  type: ToCodec['type'];
  /** It has told of progress. */
  told: boolean;
  resolve: (message: FromCodec) => void;
  reject: (error: Error) => void;
  onProgress?: (share: number) => void;
}

type Request<T> = T extends { ticket: number } ? Omit<T, 'ticket'> : never;

/** Two read files, since one alone leaves a core idle while it hashes and waits for the disk; a third helps with large ones, of
 * which an odd number would leave a core idle for long at the end; one writes. */
export const CODEC_THREADS = 4;
const ALWAYS_READING = 2;
/** What is worth starting another thread for. */
const LARGE_BYTES = 16 * 2 ** 20;

const bytesIn = (file: FileBytes) => (file instanceof ArrayBuffer ? file.byteLength : file.size);

const handedOver = (file: FileBytes) => (file instanceof ArrayBuffer ? [file] : undefined);

type CodecPort = Port<FromCodec, ToCodec>;

/** How long a thread may work without a word before it counts as stuck: large raw files are developed in one go. */
const PATIENCE_MS = 120_000;

/** How long a thread that reads may go on by itself once nobody wants its file any more. */
const GRACE_MS = 400;

/** One thread that reads and writes files, one after the other. */
class CodecThread {
  readonly #port: CodecPort;
  readonly #pending = new Map<number, Pending>();
  readonly #patienceMs: number;
  #tickets = 0;
  #watch: ReturnType<typeof setTimeout> | undefined;
  hasEnded = false;

  constructor(port: CodecPort, start: ThreadStart, patienceMs: number) {
    this.#port = port;
    this.#patienceMs = patienceMs;
    port.onMessage((message) => this.#take(message));
    port.post({ type: 'start', ...start });
  }

  get waiting(): number {
    return this.#pending.size;
  }

  ask(request: Request<ToCodec>, onProgress?: (share: number) => void, transfer?: ArrayBuffer[]): Promise<FromCodec> {
    const ticket = ++this.#tickets;
    return new Promise((resolve, reject) => {
      this.#pending.set(ticket, { type: request.type, told: false, resolve, reject, onProgress });
      if (this.#pending.size === 1) this.#wait();
      this.#port.post({ ...request, ticket } as ToCodec, transfer);
    });
  }

  /** Waits for the next word of the thread, as long as there is something to wait for. */
  #wait(): void {
    clearTimeout(this.#watch);
    if (this.#pending.size === 0) return;
    const seconds = Math.round(this.#patienceMs / 1000);
    this.#watch = setTimeout(() => this.end(new DecodeError('stuck', `${seconds} s`)), this.#patienceMs);
  }

  /** The last thing asked of it, when it reads nothing but files and has not come to the pixels of the one at hand: in the memory
   * that all share it has touched nothing then. */
  get lastBeforePixels(): number | undefined {
    const isIdle = [...this.#pending.values()].every(({ type, told }) => type === 'load' && !told);
    return isIdle ? [...this.#pending.keys()].at(-1) : undefined;
  }

  /** Ends the thread; what was asked of it is cancelled. */
  end(reason = new DecodeError('cancelled', 'the thread was ended')): void {
    clearTimeout(this.#watch);
    this.hasEnded = true;
    this.#port.close();
    for (const { reject } of this.#pending.values()) reject(reason);
    this.#pending.clear();
  }

  #take(message: FromCodec): void {
    const pending = this.#pending.get(message.ticket);
    if (!pending) return;
    if (message.type !== 'progress') this.#pending.delete(message.ticket);
    this.#wait();
    if (message.type === 'progress') {
      pending.told = true;
      pending.onProgress?.(message.share);
      return;
    }
    if (message.type === 'failed') pending.reject(new DecodeError(message.code as DecodeCode, message.detail));
    else pending.resolve(message);
  }
}

/** What starts a codec thread: its channel, and the arenas that such threads may have, one each. */
export interface CodecStart extends Omit<ThreadStart, 'arena'> {
  spawn: () => CodecPort;
  arenas: readonly number[];
  /** The number that makes requests of a lane current. */
  current: (lane: Lane) => number;
  patienceMs?: number;
}

/** Reads and writes files in threads of their own, several files at once. Threads start when they are needed. */
export class Codec {
  readonly #start: CodecStart;
  /** By the arena that each works in. */
  readonly #readers: CodecThread[] = [];
  #writer: CodecThread | undefined;

  constructor(start: CodecStart) {
    this.#start = start;
  }

  /** How many files are read at once, at most. */
  get lanes(): number {
    return this.#start.arenas.length - 1;
  }

  /** Reads a file into the pixel memory. Bytes are handed over and cannot be used any more.
   * @param expect - The size that it has to have, if any.
   * @throws {DecodeError} */
  async load(file: FileToRead, expect: Size | undefined, onProgress: (share: number) => void): Promise<Frame> {
    const current = this.#start.current(Lane.Load);
    const request = { type: 'load', current, expect, ...file } as const;
    const answer = await this.#reader(file.file).ask(request, onProgress, handedOver(file.file));
    return (answer as FromCodec & { type: 'loaded' }).frame;
  }

  /** Reads a file through without keeping its pixels: the frame that it would become.
   * @throws {DecodeError} */
  async inspect(file: FileToRead): Promise<Frame> {
    const answer = await this.#reader().ask({ type: 'inspect', ...file }, undefined, handedOver(file.file));
    return (answer as FromCodec & { type: 'inspected' }).frame;
  }

  /** Encodes a rendered picture.
   * @throws {DecodeError} `internal` when the encoder fails, `cancelled` when it was stopped. */
  async encode(
    image: SharedArrayBuffer,
    size: Size,
    options: EncodeOptions,
    exif: ExifValues,
  ): Promise<Uint8Array<ArrayBuffer>> {
    this.#writer ??= this.#open(this.lanes);
    const answer = await this.#writer.ask({ type: 'encode', image, size, options, exif });
    return (answer as FromCodec & { type: 'encoded' }).bytes;
  }

  /** Gives up encoding: the encoder cannot be asked to stop, so its thread ends. Encoding touches no tiles, so nothing is
   * left half done in the memory that all share. */
  stopEncoding(): void {
    if (!this.#writer || this.#writer.waiting === 0) return;
    this.#writer.end();
    this.#writer = undefined;
  }

  /** Gives up reading, once its lane has gone on: threads stop between rows, and those that a library keeps busy with a whole
   * file are ended, to be replaced. */
  stopLoading(): void {
    for (const reader of this.#readers) {
      const asked = reader.lastBeforePixels;
      // What is asked of it in the meantime is wanted again.
      if (asked !== undefined) setTimeout(() => reader.lastBeforePixels === asked && reader.end(), GRACE_MS);
    }
  }

  /** Places a frame on another; the pixels of both are in memory.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async align(request: AlignRequest, onProgress: (share: number) => void): Promise<Alignment> {
    const current = this.#start.current(Lane.Align);
    const answer = await this.#reader().ask({ type: 'align', current, ...request }, onProgress);
    return (answer as FromCodec & { type: 'aligned' }).alignment;
  }

  /** Finds how a placed frame still differs from the base from place to place.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async fitLocally(request: LocalFitRequest, onProgress: (share: number) => void): Promise<LocalGrid> {
    const current = this.#start.current(Lane.Align);
    const answer = await this.#reader().ask({ type: 'fit', current, ...request }, onProgress);
    return (answer as FromCodec & { type: 'fitted' }).local;
  }

  /** Puts a pair of points exactly where both pictures look alike; undefined when nothing near it does. */
  async snap(request: SnapRequest): Promise<PointPair | undefined> {
    const answer = await this.#reader().ask({ type: 'snap', ...request });
    return (answer as FromCodec & { type: 'snapped' }).pair;
  }

  /** Frees the pixels of a frame that no scene shows any more. */
  async drop({ file, reading, width, height }: PixelsOf): Promise<void> {
    await this.#reader().ask({ type: 'drop', frame: { file, reading, width, height } });
  }

  /** Ends the threads. */
  close(): void {
    for (const thread of [...this.#readers, this.#writer]) thread?.end();
  }

  #open(lane: number): CodecThread {
    const { spawn, arenas, memory, kernels, patienceMs = PATIENCE_MS } = this.#start;
    return new CodecThread(spawn(), { memory, kernels, arena: arenas[lane] }, patienceMs);
  }

  /** The reader that has least to do, or a new one; one that got stuck has been ended and is replaced. */
  #reader(file?: FileBytes): CodecThread {
    for (const [lane, reader] of this.#readers.entries()) if (reader.hasEnded) this.#readers[lane] = this.#open(lane);
    const idle = this.#readers.find(({ waiting }) => waiting === 0);
    if (idle) return idle;
    const isLarge = file !== undefined && bytesIn(file) >= LARGE_BYTES;
    if (this.#readers.length < (isLarge ? this.lanes : ALWAYS_READING)) {
      const opened = this.#open(this.#readers.length);
      this.#readers.push(opened);
      return opened;
    }
    return this.#readers.reduce((a, b) => (b.waiting < a.waiting ? b : a));
  }
}

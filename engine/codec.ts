import { type DecodeCode, DecodeError } from '#codecs/decodeError.ts';
import type { EncodeOptions } from '#codecs/encode.ts';
import type { Alignment } from '#core/align/alignment.ts';
import type { LocalGrid } from '#core/align/localFit.ts';
import type { PointPair } from '#core/align/pointPairs.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues, Frame } from '#core/scene/frame.ts';
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
import type { EngineError } from './engineError.ts';
import type { ThreadStart } from './kernelModule.ts';
import { Lane } from './lanes.ts';
import type { Port } from './protocol.ts';
import { Thread } from './thread.ts';

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

/** How long a thread may work without a word before it counts as stuck. Most work tells how far it is; large raw files are developed in
 * one go, which takes seconds a megabyte at the most. */
const PATIENCE_MS = 120_000;
const PATIENCE_MS_PER_BYTE = 5000 / 2 ** 20;

/** How long a thread that reads may go on by itself once nobody wants its file any more. */
const GRACE_MS = 400;

/** One thread that reads and writes files, one after the other. */
class CodecThread {
  readonly #thread: Thread<ToCodec, FromCodec>;
  /** What it has been asked for, and whether it has told of progress. */
  readonly #pending = new Map<number, { type: ToCodec['type']; told: boolean }>();
  #tickets = 0;

  constructor(spawn: () => CodecPort, start: ThreadStart) {
    this.#thread = new Thread<ToCodec, FromCodec>({ spawn, start });
  }

  get waiting(): number {
    return this.#pending.size;
  }

  /** @throws {DecodeError} with the thread's own code, or `stuck`, `cancelled` or `thread-failed` when something happened to it. */
  ask(
    request: Request<ToCodec>,
    patienceMs: number,
    onProgress?: (share: number) => void,
    transfer?: ArrayBuffer[],
  ): Promise<FromCodec> {
    const ticket = ++this.#tickets;
    const pending = { type: request.type, told: false };
    this.#pending.set(ticket, pending);
    return new Promise((resolve, reject) => {
      const end = () => {
        this.#pending.delete(ticket);
        this.#thread.done(ticket);
      };
      const take = (message: FromCodec) => {
        if (message.type === 'progress') {
          pending.told = true;
          onProgress?.(message.share);
          return;
        }
        end();
        if (message.type === 'failed') reject(new DecodeError(message.code as DecodeCode, message.detail));
        else resolve(message);
      };
      const fail = ({ code, message }: EngineError) => {
        end();
        reject(new DecodeError(code as DecodeCode, message));
      };
      this.#thread.ask(ticket, { ...request, ticket } as ToCodec, { patienceMs, take, fail }, transfer);
    });
  }

  /** The last thing asked of it, when it reads nothing but files and has not come to the pixels of the one at hand. */
  get lastBeforePixels(): number | undefined {
    const isIdle = [...this.#pending.values()].every(({ type, told }) => type === 'load' && !told);
    return isIdle ? [...this.#pending.keys()].at(-1) : undefined;
  }

  /** Puts another thread in its place; what was asked of it is cancelled. */
  cancel(): void {
    this.#thread.replace('cancelled', 'the thread was ended');
  }

  end(): void {
    this.#thread.end();
  }
}

/** What starts a codec thread: its channel, and the arenas that such threads may have, one each. */
export interface CodecStart extends Omit<ThreadStart, 'arena'> {
  spawn: (arena: number) => CodecPort;
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
    const patience = this.#patience(bytesIn(file.file));
    const answer = await this.#reader(file.file).ask(request, patience, onProgress, handedOver(file.file));
    return (answer as FromCodec & { type: 'loaded' }).frame;
  }

  /** Reads a file through without keeping its pixels: the frame that it would become.
   * @throws {DecodeError} */
  async inspect(file: FileToRead): Promise<Frame> {
    const patience = this.#patience(bytesIn(file.file));
    const answer = await this.#reader().ask({ type: 'inspect', ...file }, patience, undefined, handedOver(file.file));
    return (answer as FromCodec & { type: 'inspected' }).frame;
  }

  /** Encodes a rendered picture.
   * @throws {DecodeError} `internal` when the encoder fails, `cancelled` when it was stopped. */
  async encode(
    image: SharedArrayBuffer,
    size: Size,
    options: EncodeOptions,
    exif: ExifValues,
    onProgress: (share: number) => void = () => undefined,
  ): Promise<Uint8Array<ArrayBuffer>> {
    this.#writer ??= this.#open(this.lanes);
    const request = { type: 'encode', image, size, options, exif } as const;
    const answer = await this.#writer.ask(request, this.#patience(), onProgress);
    return (answer as FromCodec & { type: 'encoded' }).bytes;
  }

  /** Gives up encoding: the encoder cannot be asked to stop, so its thread ends. Encoding touches no tiles, so nothing is
   * left half done in the memory that all share. */
  stopEncoding(): void {
    if (this.#writer && this.#writer.waiting > 0) this.#writer.cancel();
  }

  /** Gives up reading, once its lane has gone on: threads stop between rows, and those that a library keeps busy with a whole
   * file are ended, to be replaced. */
  stopLoading(): void {
    for (const reader of this.#readers) {
      const asked = reader.lastBeforePixels;
      // What is asked of it in the meantime is wanted again.
      if (asked !== undefined) setTimeout(() => reader.lastBeforePixels === asked && reader.cancel(), GRACE_MS);
    }
  }

  /** Places a frame on another; the pixels of both are in memory.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async align(request: AlignRequest, onProgress: (share: number) => void): Promise<Alignment> {
    const current = this.#start.current(Lane.Align);
    const answer = await this.#reader().ask({ type: 'align', current, ...request }, this.#patience(), onProgress);
    return (answer as FromCodec & { type: 'aligned' }).alignment;
  }

  /** Finds how a placed frame still differs from the base from place to place.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async fitLocally(request: LocalFitRequest, onProgress: (share: number) => void): Promise<LocalGrid> {
    const current = this.#start.current(Lane.Align);
    const answer = await this.#reader().ask({ type: 'fit', current, ...request }, this.#patience(), onProgress);
    return (answer as FromCodec & { type: 'fitted' }).local;
  }

  /** Puts a pair of points exactly where both pictures look alike; undefined when nothing near it does. */
  async snap(request: SnapRequest): Promise<PointPair | undefined> {
    const answer = await this.#reader().ask({ type: 'snap', ...request }, this.#patience());
    return (answer as FromCodec & { type: 'snapped' }).pair;
  }

  /** Frees the pixels of a frame that no scene shows any more. */
  async drop({ file, reading, width, height }: PixelsOf): Promise<void> {
    await this.#reader().ask({ type: 'drop', frame: { file, reading, width, height } }, this.#patience());
  }

  /** Ends the threads. */
  close(): void {
    for (const thread of [...this.#readers, this.#writer]) thread?.end();
  }

  #open(lane: number): CodecThread {
    const { spawn, arenas, memory, kernels } = this.#start;
    return new CodecThread(() => spawn(arenas[lane]), { memory, kernels, arena: arenas[lane] });
  }

  /** @param bytes - Of a file that may be read in one go. */
  #patience(bytes = 0): number {
    return this.#start.patienceMs ?? PATIENCE_MS + bytes * PATIENCE_MS_PER_BYTE;
  }

  /** The reader that has least to do, or a new one. */
  #reader(file?: FileBytes): CodecThread {
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

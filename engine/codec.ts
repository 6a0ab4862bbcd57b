import { type DecodeCode, DecodeError } from '#codecs/decodeError.ts';
import type { EncodeOptions } from '#codecs/encode.ts';
import type { Size } from '#core/raster/size.ts';
import type { ExifValues, Frame } from '#core/scene/scene.ts';
import type { FileBytes, FromCodec, ToCodec } from './codecProtocol.ts';
import type { ThreadStart } from './kernelModule.ts';
import type { Port } from './protocol.ts';

interface Pending {
  resolve: (message: FromCodec) => void;
  reject: (error: Error) => void;
  onProgress?: (share: number) => void;
}

type Request<T> = T extends { ticket: number } ? Omit<T, 'ticket'> : never;

/** Two read files, since one alone leaves a core idle while it hashes and waits for the disk; one writes. */
export const CODEC_THREADS = 3;

const handedOver = (file: FileBytes) => (file instanceof ArrayBuffer ? [file] : undefined);

type CodecPort = Port<FromCodec, ToCodec>;

/** One thread that reads and writes files, one after the other. */
class CodecThread {
  readonly #port: CodecPort;
  readonly #pending = new Map<number, Pending>();
  #tickets = 0;

  constructor(port: CodecPort, start: ThreadStart) {
    this.#port = port;
    port.onMessage((message) => this.#take(message));
    port.post({ type: 'start', ...start });
  }

  get waiting(): number {
    return this.#pending.size;
  }

  ask(request: Request<ToCodec>, onProgress?: (share: number) => void, transfer?: ArrayBuffer[]): Promise<FromCodec> {
    const ticket = ++this.#tickets;
    return new Promise((resolve, reject) => {
      this.#pending.set(ticket, { resolve, reject, onProgress });
      this.#port.post({ ...request, ticket } as ToCodec, transfer);
    });
  }

  /** Ends the thread; what was asked of it is cancelled. */
  end(): void {
    this.#port.close();
    for (const { reject } of this.#pending.values()) reject(new DecodeError('cancelled', 'the thread was ended'));
    this.#pending.clear();
  }

  #take(message: FromCodec): void {
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

/** What starts a codec thread: its channel, and the arenas that such threads may have, one each. */
export interface CodecStart extends Omit<ThreadStart, 'arena'> {
  spawn: () => CodecPort;
  arenas: readonly number[];
  /** The number that makes requests to load current. */
  current: () => number;
}

/** Reads and writes files in threads of their own, several files at once. Threads start when they are needed. */
export class Codec {
  readonly #start: CodecStart;
  readonly #readers: CodecThread[] = [];
  #writer: CodecThread | undefined;

  constructor(start: CodecStart) {
    this.#start = start;
  }

  /** How many files are read at once. */
  get lanes(): number {
    return this.#start.arenas.length - 1;
  }

  /** Reads a file into the pixel memory. Bytes are handed over and cannot be used any more.
   * @throws {DecodeError} */
  async load(
    file: FileBytes,
    name: string,
    expect: Size | undefined,
    onProgress: (share: number) => void,
  ): Promise<Frame> {
    const current = this.#start.current();
    const answer = await this.#reader().ask(
      { type: 'load', current, file, name, expect },
      onProgress,
      handedOver(file),
    );
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

  /** Frees the pixels of a frame that no scene shows any more. */
  async drop(sha256: string, size: Size): Promise<void> {
    await this.#reader().ask({ type: 'drop', sha256, size });
  }

  /** Ends the threads. */
  close(): void {
    for (const thread of [...this.#readers, this.#writer]) thread?.end();
  }

  #open(lane: number): CodecThread {
    const { spawn, arenas, memory, kernels } = this.#start;
    return new CodecThread(spawn(), { memory, kernels, arena: arenas[lane] });
  }

  /** The reader that has least to do, or a new one. */
  #reader(): CodecThread {
    const idle = this.#readers.find(({ waiting }) => waiting === 0);
    if (idle) return idle;
    if (this.#readers.length < this.lanes) {
      const opened = this.#open(this.#readers.length);
      this.#readers.push(opened);
      return opened;
    }
    return this.#readers.reduce((a, b) => (b.waiting < a.waiting ? b : a));
  }
}

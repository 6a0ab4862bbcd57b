import { type DecodeCode, DecodeError } from '#codecs/decodeError.ts';
import type { BackgroundWork, FromBackground, ToBackground } from './backgroundProtocol.ts';
import type { FileBytes } from './codecProtocol.ts';
import type { EngineError } from './engineError.ts';
import type { ThreadStart } from './kernelModule.ts';
import type { Lane } from './lanes.ts';
import type { Port } from './protocol.ts';
import { Thread } from './thread.ts';

type Request<T> = T extends { ticket: number } ? Omit<T, 'ticket'> : never;

/** Two read files, since one alone leaves a core idle while it hashes and waits for the disk; a third helps with large ones, of
 * which an odd number would leave a core idle for long at the end; one writes. */
export const BACKGROUND_THREADS = 4;
const ALWAYS_READING = 2;
/** What is worth starting another thread for. */
const LARGE_BYTES = 16 * 2 ** 20;

export const bytesIn = (file: FileBytes) => (file instanceof ArrayBuffer ? file.byteLength : file.size);

type BackgroundPort = Port<FromBackground, ToBackground>;

/** How long a thread may work without a word before it counts as stuck. Most work tells how far it is; large raw files are developed in
 * one go, which takes seconds a megabyte at the most. */
const PATIENCE_MS = 120_000;
const PATIENCE_MS_PER_BYTE = 5000 / 2 ** 20;

/** One thread that does work beside the rendering, one piece after the other. */
export class BackgroundThread {
  readonly #thread: Thread<ToBackground, FromBackground>;
  /** What it has been asked for, and whether it has told of progress. */
  readonly #pending = new Map<number, { type: BackgroundWork['type']; told: boolean }>();
  #tickets = 0;

  constructor(spawn: () => BackgroundPort, start: ThreadStart) {
    this.#thread = new Thread<ToBackground, FromBackground>({ spawn, start });
  }

  get waiting(): number {
    return this.#pending.size;
  }

  /** @throws {DecodeError} with the thread's own code, or `stuck`, `cancelled` or `thread-failed` when something happened to it. */
  ask(
    request: Request<BackgroundWork>,
    patienceMs: number,
    onProgress?: (share: number) => void,
    transfer?: ArrayBuffer[],
    onPart?: (message: FromBackground & { type: 'piece' | 'taken' }) => void,
  ): Promise<FromBackground> {
    const ticket = ++this.#tickets;
    const pending = { type: request.type, told: false };
    this.#pending.set(ticket, pending);
    return new Promise((resolve, reject) => {
      const end = () => {
        this.#pending.delete(ticket);
        this.#thread.done(ticket);
      };
      const take = (message: FromBackground) => {
        if (message.type === 'progress') {
          pending.told = true;
          onProgress?.(message.share);
          return;
        }
        if (message.type === 'piece' || message.type === 'taken') {
          onPart?.(message);
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
      this.#thread.ask(ticket, { ...request, ticket } as ToBackground, { patienceMs, take, fail }, transfer);
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

/** What starts background threads: its channel, and the arenas that such threads may have, one each. */
export interface BackgroundStart extends Omit<ThreadStart, 'arena'> {
  spawn: (arena: number) => BackgroundPort;
  arenas: readonly number[];
  /** The number that makes requests of a lane current. */
  current: (lane: Lane) => number;
  patienceMs?: number;
}

/** Threads that read, write and place beside the rendering, several pieces at once. They start when they are needed. */
export class BackgroundThreads {
  readonly #start: BackgroundStart;
  /** By the arena that each works in; the last is for what is written. */
  readonly #workers: BackgroundThread[] = [];
  #writer: BackgroundThread | undefined;

  constructor(start: BackgroundStart) {
    this.#start = start;
  }

  /** How many pieces of work are done at once, at most, besides writing. */
  get lanes(): number {
    return this.#start.arenas.length - 1;
  }

  get workers(): readonly BackgroundThread[] {
    return this.#workers;
  }

  /** The number that makes requests of a lane current. */
  current(lane: Lane): number {
    return this.#start.current(lane);
  }

  /** How long a thread may work without a word.
   * @param bytes - Of a file that may be read in one go. */
  patience(bytes = 0): number {
    return this.#start.patienceMs ?? PATIENCE_MS + bytes * PATIENCE_MS_PER_BYTE;
  }

  /** The thread that has least to do, or a new one.
   * @param file - That it is to read. */
  next(file?: FileBytes): BackgroundThread {
    const idle = this.#workers.find(({ waiting }) => waiting === 0);
    if (idle) return idle;
    const isLarge = file !== undefined && bytesIn(file) >= LARGE_BYTES;
    if (this.#workers.length < (isLarge ? this.lanes : ALWAYS_READING)) {
      const opened = this.#open(this.#workers.length);
      this.#workers.push(opened);
      return opened;
    }
    return this.#workers.reduce((a, b) => (b.waiting < a.waiting ? b : a));
  }

  /** Threads that have nothing to do and may write, at most so many: one that only writes, then those that read. */
  forWriting(most: number): BackgroundThread[] {
    this.#writer ??= this.#open(this.lanes);
    while (this.#workers.length < Math.min(most - 1, this.lanes)) this.#workers.push(this.#open(this.#workers.length));
    return [this.#writer, ...this.#workers].filter(({ waiting }) => waiting === 0).slice(0, most);
  }

  /** Ends the threads. */
  close(): void {
    for (const thread of [...this.#workers, this.#writer]) thread?.end();
  }

  #open(lane: number): BackgroundThread {
    const { spawn, arenas, memory, kernels } = this.#start;
    return new BackgroundThread(() => spawn(arenas[lane]), { memory, kernels, arena: arenas[lane] });
  }
}

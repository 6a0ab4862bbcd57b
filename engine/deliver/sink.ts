/** Where a file goes, piece by piece. */
export interface Sink {
  /** The name that it got. */
  readonly name: string;
  /** @throws {Error} when there is no room, or the place may no longer be written to. */
  write: (bytes: Uint8Array<ArrayBuffer>) => Promise<void>;
  /** Writes over the first bytes. */
  patch: (bytes: Uint8Array<ArrayBuffer>) => Promise<void>;
  /** The file is whole: from now on it has its name. */
  finish: () => Promise<void>;
  /** Nothing is left of it. */
  discard: () => Promise<void>;
}

/** Opens files by the names that they are to have; what has that name already is not lost. */
export interface Place {
  open: (name: string, mediaType: string) => Promise<Sink>;
}

/** Most bytes that wait for a slow place before rendering waits for it. */
const MOST_WAITING = 64 * 2 ** 20;

/** Pieces on their way to a file, in order. */
export class Outlet {
  readonly sink: Sink;
  #queue: Promise<void> = Promise.resolve();
  #waiting = 0;
  #bytes = 0;
  #error: unknown;
  #onDrained: (() => void)[] = [];

  constructor(sink: Sink) {
    this.sink = sink;
  }

  /** Bytes that it was given. */
  get bytes(): number {
    return this.#bytes;
  }

  put(bytes: Uint8Array<ArrayBuffer>): void {
    this.#bytes += bytes.length;
    this.#waiting += bytes.length;
    this.#queue = this.#queue.then(async () => {
      try {
        if (this.#error === undefined) await this.sink.write(bytes);
      } catch (error) {
        this.#error = error;
      }
      this.#waiting -= bytes.length;
      if (this.#waiting <= MOST_WAITING || this.#error !== undefined) for (const go of this.#onDrained.splice(0)) go();
    });
  }

  /** Resolves when little waits.
   * @throws {Error} whatever the place said, if it takes no more. */
  async room(): Promise<void> {
    if (this.#waiting > MOST_WAITING && this.#error === undefined)
      await new Promise<void>((go) => this.#onDrained.push(go));
    if (this.#error !== undefined) throw this.#error;
  }

  /** Resolves when all is written.
   * @throws {Error} whatever the place said. */
  async flushed(): Promise<void> {
    await this.#queue;
    if (this.#error !== undefined) throw this.#error;
  }

  /** Everything is written and the file has its name.
   * @throws {Error} whatever the place said. */
  async finish(): Promise<void> {
    await this.flushed();
    await this.sink.finish();
  }
}

/** Files in memory, which a browser moves to disk by itself when they are large.
 * @param take - Is given each file that is whole. */
export function memoryPlace(take: (file: Blob, name: string) => void): Place {
  return {
    open: async (name, mediaType) => {
      let parts: BlobPart[] = [];
      return {
        name,
        write: async (bytes) => {
          // A blob of many small pieces is slow; one piece of each is kept by the browser, not by the page.
          parts.push(new Blob([bytes]));
        },
        patch: async (bytes) => {
          const whole = new Blob(parts);
          parts = [bytes, whole.slice(bytes.length)];
        },
        finish: async () => take(new Blob(parts, { type: mediaType }), name),
        discard: async () => {
          parts = [];
        },
      };
    },
  };
}

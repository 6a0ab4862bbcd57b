/** Bytes that lie as many pages apart look alike to a processor that decides whether a read may overtake a write: planes whose
 * lengths are whole pages would wait for each other at every sample (twice the time for most kernels). */
const PAGE = 4096;
const APART = 320;

/** A piece of the shared memory that one thread has to itself, for what kernels work on. Given out once, never back. */
export class Arena {
  readonly #buffer: SharedArrayBuffer | ArrayBuffer;
  readonly #from: number;
  readonly #end: number;
  #at: number;

  /** @param from - First byte, a multiple of 16. */
  constructor(buffer: SharedArrayBuffer | ArrayBuffer, from: number, bytes: number) {
    this.#buffer = buffer;
    this.#from = from;
    this.#at = from;
    this.#end = from + bytes;
  }

  floats(count: number): Float32Array {
    return new Float32Array(this.#buffer, this.#take(count * 4), count);
  }

  doubles(count: number): Float64Array {
    return new Float64Array(this.#buffer, this.#take(count * 8), count);
  }

  words(count: number): Uint32Array {
    return new Uint32Array(this.#buffer, this.#take(count * 4), count);
  }

  samples(count: number): Uint16Array {
    return new Uint16Array(this.#buffer, this.#take(count * 2), count);
  }

  bytes(count: number): Uint8ClampedArray {
    return new Uint8ClampedArray(this.#buffer, this.#take(count), count);
  }

  /** Fills all that was given out with zeros. */
  clear(): void {
    new Uint8Array(this.#buffer, this.#from, this.#at - this.#from).fill(0);
  }

  #take(bytes: number): number {
    const at = this.#at;
    this.#at += Math.ceil(bytes / 64) * 64 + (bytes >= PAGE ? APART : 0);
    if (this.#at > this.#end) throw new RangeError('The arena of this thread is too small');
    return at;
  }
}

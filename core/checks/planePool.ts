/** Planes that are used again: memory that is touched for the first time costs more than what is computed in it. What was taken last is given back
 * first. */
export class PlanePool {
  readonly #planes: Float32Array[] = [];
  #taken = 0;

  /** A plane of undefined content, until {@link within} ends. */
  take(length: number): Float32Array {
    const index = this.#taken++;
    const known = this.#planes[index];
    if (known && known.length >= length) return known.length === length ? known : known.subarray(0, length);
    this.#planes[index] = new Float32Array(length);
    return this.#planes[index];
  }

  /** A plane that is the same throughout. */
  filled(length: number, value: number): Float32Array {
    return this.take(length).fill(value);
  }

  /** Gives all back that was taken within some work. */
  within<T>(work: () => T): T {
    const before = this.#taken;
    try {
      return work();
    } finally {
      this.#taken = before;
    }
  }

  /** Gives all back. */
  clear(): void {
    this.#taken = 0;
  }
}

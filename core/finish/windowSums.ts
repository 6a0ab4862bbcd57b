/** Sums over any square of a plane, by sums from the upper left (Crow 1984). */
export class WindowSums {
  readonly width: number;
  readonly height: number;
  readonly #sums: Float64Array;
  readonly #squares: Float64Array;
  readonly #across: Float64Array;
  readonly #down: Float64Array;

  constructor(width: number, height: number, valueAt: (index: number) => number) {
    this.width = width;
    this.height = height;
    const sumsOf = (termAt: (value: number, x: number, y: number) => number) => {
      const stride = width + 1;
      const sums = new Float64Array(stride * (height + 1));
      for (let y = 0; y < height; y++) {
        let row = 0;
        for (let x = 0, at = (y + 1) * stride + 1; x < width; x++, at++) {
          row += termAt(valueAt(y * width + x), x, y);
          sums[at] = sums[at - stride] + row;
        }
      }
      return sums;
    };
    this.#sums = sumsOf((value) => value);
    this.#squares = sumsOf((value) => value * value);
    this.#across = sumsOf((value, x) => value * x);
    this.#down = sumsOf((value, _, y) => value * y);
  }

  /** Of the square that reaches so many pixels to each side; all of it lies in the plane. */
  sum(x: number, y: number, reach: number): number {
    return this.#over(this.#sums, x, y, reach);
  }

  /** Of the squares of values. */
  squares(x: number, y: number, reach: number): number {
    return this.#over(this.#squares, x, y, reach);
  }

  /** Of values times how far right they lie in the plane. */
  across(x: number, y: number, reach: number): number {
    return this.#over(this.#across, x, y, reach);
  }

  /** Of values times how far down they lie. */
  down(x: number, y: number, reach: number): number {
    return this.#over(this.#down, x, y, reach);
  }

  #over(sums: Float64Array, x: number, y: number, reach: number): number {
    const stride = this.width + 1;
    const upper = (y - reach) * stride + x - reach;
    const lower = upper + (2 * reach + 1) * stride;
    return sums[lower + 2 * reach + 1] - sums[lower] - sums[upper + 2 * reach + 1] + sums[upper];
  }
}

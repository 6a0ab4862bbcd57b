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
    const stride = width + 1;
    const empty = () => new Float64Array(stride * (height + 1));
    const [sums, squares, across, down] = [empty(), empty(), empty(), empty()];
    for (let y = 0; y < height; y++) {
      let [row, rowSquares, rowAcross] = [0, 0, 0];
      for (let x = 0, at = (y + 1) * stride + 1; x < width; x++, at++) {
        const value = valueAt(y * width + x);
        row += value;
        rowSquares += value * value;
        rowAcross += value * x;
        sums[at] = sums[at - stride] + row;
        squares[at] = squares[at - stride] + rowSquares;
        across[at] = across[at - stride] + rowAcross;
        down[at] = down[at - stride] + row * y;
      }
    }
    this.#sums = sums;
    this.#squares = squares;
    this.#across = across;
    this.#down = down;
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

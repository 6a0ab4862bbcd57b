/** Copies rows of samples, all as wide.
 * @param at - The first sample of the first row; likewise `toAt`.
 * @param stride - Samples from one row to the next; likewise `toStride`. */
export function copyRows(
  from: Uint16Array,
  at: number,
  stride: number,
  out: Uint16Array,
  toAt: number,
  toStride: number,
  width: number,
  rows: number,
): void {
  for (let row = 0; row < rows; row++) {
    const first = at + row * stride;
    out.set(from.subarray(first, first + width), toAt + row * toStride);
  }
}

/** Repeats the first and the last sample of what rows hold to their ends.
 * @param at - The first sample of the first row.
 * @param stride - Samples from one row to the next.
 * @param width - Samples of a row.
 * @param from - The first place of a row that holds one.
 * @param to - One past the last. */
export function padRows(
  plane: Uint16Array,
  at: number,
  stride: number,
  width: number,
  rows: number,
  from: number,
  to: number,
): void {
  for (let row = at; row < at + rows * stride; row += stride) {
    plane.fill(plane[row + from], row, row + from);
    plane.fill(plane[row + to - 1], row + to, row + width);
  }
}

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

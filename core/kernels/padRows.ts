import { address, defineKernel } from './defineKernel.ts';

/** Repeats the first and the last sample of what rows hold to their ends.
 * @param at - The first sample of the first row.
 * @param stride - Samples of a row, and from one to the next.
 * @param from - The first place of a row that holds one.
 * @param to - One past the last. */
export function padRows(plane: Uint16Array, at: number, stride: number, rows: number, from: number, to: number): void {
  for (let row = at; row < at + rows * stride; row += stride) {
    plane.fill(plane[row + from], row, row + from);
    plane.fill(plane[row + to - 1], row + to, row + stride);
  }
}

export const padRowsKernel = defineKernel(padRows)({
  compiled: ['padRows'],
  bind:
    ({ wasm }) =>
    (plane, at, stride, rows, from, to) =>
      void wasm.padRows(address(plane) + 2 * at, stride, rows, from, to),
  samples: {
    'repeating edges': (make) => [make.samples(150 * 150), 3 * 150, 150, 120, 21, 118],
    'repeating an edge far out': (make) => [make.samples(150 * 150), 0, 150, 150, 0, 3],
  },
});

import { copyRows } from '../raster/copyRows.ts';
import type { Block } from './convert.ts';
import { address, defineKernel } from './defineKernel.ts';

export const copyRowsKernel = defineKernel(copyRows)({
  compiled: ['copyRows'],
  bind:
    ({ wasm }) =>
    (from, at, stride, out, toAt, toStride, width, rows) =>
      void wasm.copyRows(address(from) + 2 * at, stride, address(out) + 2 * toAt, toStride, width, rows),
  samples: {
    'copying a part of a tile': (make) => [
      make.samples(),
      3 * 128 + 17,
      128,
      make.samples(150 * 150),
      151,
      150,
      97,
      120,
    ],
  },
});

/** Copies a block of floats.
 * @param out - May be the plane itself, where the block lies apart from where it goes. */
export function copyFloatRows(plane: Float32Array, out: Float32Array, block: Block): void {
  const { from, stride, to, outStride, width, rows } = block;
  for (let row = 0; row < rows; row++) {
    const first = from + row * stride;
    out.set(plane.subarray(first, first + width), to + row * outStride);
  }
}

export const copyFloatRowsKernel = defineKernel(copyFloatRows)({
  compiled: ['copyFloatRows'],
  bind:
    ({ wasm }) =>
    (plane, out, { from, stride, to, outStride, width, rows }) =>
      void wasm.copyFloatRows(address(plane) + 4 * from, stride, address(out) + 4 * to, outStride, width, rows),
  samples: {
    'copying a block of floats': (make) => [
      make.floats(),
      make.floats(150 * 150),
      { from: 3 * 128 + 17, stride: 128, to: 151, outStride: 150, width: 97, rows: 120 },
    ],
    'one row again and again': (make) => [
      make.floats(),
      make.floats(),
      { from: 128, stride: 0, to: 640, outStride: 128, width: 128, rows: 20 },
    ],
  },
});

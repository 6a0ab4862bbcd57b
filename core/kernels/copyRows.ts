import { copyRows } from '../raster/copyRows.ts';
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

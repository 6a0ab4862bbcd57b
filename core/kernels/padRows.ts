import { padRows } from '../raster/copyRows.ts';
import { address, defineKernel } from './defineKernel.ts';

export const padRowsKernel = defineKernel(padRows)({
  compiled: ['padRows'],
  bind:
    ({ wasm }) =>
    (plane, at, stride, width, rows, from, to) =>
      void wasm.padRows(address(plane) + 2 * at, stride, width, rows, from, to),
  samples: {
    'repeating edges': (make) => [make.samples(150 * 150), 3 * 150, 150, 150, 120, 21, 118],
    'repeating an edge far out': (make) => [make.samples(150 * 150), 0, 150, 150, 150, 0, 3],
    'repeating edges of a part of rows': (make) => [make.samples(150 * 150), 40, 150, 90, 140, 17, 60],
  },
});

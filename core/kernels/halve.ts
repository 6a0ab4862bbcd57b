import { TILE } from '../raster/size.ts';
import type { Block } from './convert.ts';
import { address, defineKernel } from './defineKernel.ts';

const HALF = TILE / 2;

/** Halves one tile plane into a quarter of the coarser tile's plane: the mean of each 2 x 2 samples, rounded.
 * @param fine - A full tile plane.
 * @param out - The coarser tile's plane; only the quarter at (`quarterX`, `quarterY`), each 0 or 1, is written. */
export function halveTile(fine: Uint16Array, out: Uint16Array, quarterX: number, quarterY: number): void {
  for (let y = 0; y < HALF; y++) {
    let from = 2 * y * TILE;
    let to = (quarterY * HALF + y) * TILE + quarterX * HALF;
    for (let x = 0; x < HALF; x++, from += 2, to++) {
      out[to] = (fine[from] + fine[from + 1] + fine[from + TILE] + fine[from + TILE + 1] + 2) >> 2;
    }
  }
}

/** Repeats the last valid column and row of a tile plane into the rest of it, so that halving and blurring meet no seam.
 * @param width - Valid columns, 1..128.
 * @param height - Valid rows, 1..128. */
export function repeatEdge(plane: Uint16Array, width: number, height: number): void {
  if (width < TILE) {
    for (let y = 0; y < height; y++) plane.fill(plane[y * TILE + width - 1], y * TILE + width, (y + 1) * TILE);
  }
  for (let y = height; y < TILE; y++) plane.copyWithin(y * TILE, (height - 1) * TILE, height * TILE);
}

/** A block whose width and rows are multiples of two, or of four for two halvings. */
interface ShrunkBlock extends Block {
  halvings: number;
}

/** A block of 16-bit samples, widened to 0..1, at half its size or a quarter: each sample the mean of two by two, once or twice. */
export function shrinkRows(
  samples: Uint16Array,
  out: Float32Array,
  { from, stride, to, outStride, width, rows, halvings }: ShrunkBlock,
): void {
  const round = Math.fround;
  const mean = (at: (x: number, y: number) => number, x: number, y: number) =>
    round(
      round(round(at(2 * x, 2 * y) + at(2 * x, 2 * y + 1)) + round(at(2 * x + 1, 2 * y) + at(2 * x + 1, 2 * y + 1))) /
        4,
    );
  const wide = (x: number, y: number) => round(samples[from + y * stride + x] * round(1 / 65535));
  const half = (x: number, y: number) => mean(wide, x, y);
  const made = halvings === 1 ? half : (x: number, y: number) => mean(half, x, y);
  for (let y = 0; y < rows >> halvings; y++)
    for (let x = 0; x < width >> halvings; x++) out[to + y * outStride + x] = made(x, y);
}

export const halveTileKernel = defineKernel(halveTile)({
  compiled: ['halve'],
  bind:
    ({ wasm }) =>
    (fine, out, quarterX, quarterY) =>
      void wasm.halve(address(fine), address(out), quarterX, quarterY),
  samples: { halving: (make) => [make.samples(), make.samples(), 1, 0] },
});

export const shrinkRowsKernel = defineKernel(shrinkRows)({
  compiled: ['shrinkRows'],
  bind:
    ({ wasm }) =>
    (samples, out, { from, stride, to, outStride, width, rows, halvings }) =>
      void wasm.shrinkRows(
        address(samples) + 2 * from,
        2 * stride,
        address(out) + 4 * to,
        4 * outStride,
        width,
        rows,
        halvings,
      ),
  samples: {
    'halving a block': (make) => [
      make.samples(),
      make.floats(),
      { from: 130, stride: 128, to: 3, outStride: 90, width: 122, rows: 100, halvings: 1 },
    ],
    'halving a block twice': (make) => [
      make.samples(),
      make.floats(),
      { from: 5, stride: 128, to: 3, outStride: 90, width: 108, rows: 96, halvings: 2 },
    ],
  },
  floats: 0,
});

import { TILE } from '../raster/size.ts';
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

/** A square plane at half its size: the mean of each two by two.
 * @param side - Even.
 * @param out - Its beginning is overwritten; may be `plane`. */
export function halvePlane(plane: Float32Array, side: number, out: Float32Array): void {
  const half = side / 2;
  for (let y = 0; y < half; y++)
    for (let x = 0; x < half; x++) {
      const at = 2 * y * side + 2 * x;
      out[y * half + x] = (plane[at] + plane[at + 1] + plane[at + side] + plane[at + side + 1]) / 4;
    }
}

export const halveTileKernel = defineKernel(halveTile)({
  compiled: ['halve'],
  bind:
    ({ wasm }) =>
    (fine, out, quarterX, quarterY) =>
      void wasm.halve(address(fine), address(out), quarterX, quarterY),
  samples: { halving: (make) => [make.samples(), make.samples(), 1, 0] },
});

export const halvePlaneKernel = defineKernel(halvePlane)({
  compiled: ['halvePlane'],
  bind:
    ({ wasm }) =>
    (plane, side, out) =>
      void wasm.halvePlane(address(plane), side, address(out)),
  samples: { 'halving a plane': (make) => [make.floats(), 128, make.floats()] },
});

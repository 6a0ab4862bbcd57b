import { TILE } from '../raster/size.ts';
import { address, defineKernel, planeOrValue } from './defineKernel.ts';

/** Squares of a plane's samples. */
export function squares(plane: Float32Array, out: Float32Array): void {
  for (let i = 0; i < plane.length; i++) out[i] = plane[i] * plane[i];
}

/** Lines by which tones become their base: what varies by much is kept, what varies little becomes its mean; see `findBase`.
 * @param mean - Of windows; `square` of their squares.
 * @param limit - Squared variance of which half counts as detail. */
export function baseLines(
  mean: Float32Array,
  square: Float32Array,
  limit: number,
  slope: Float32Array,
  offset: Float32Array,
): void {
  for (let i = 0; i < mean.length; i++) {
    const variance = Math.max(0, square[i] - mean[i] * mean[i]);
    const kept = variance ** 2 / (variance ** 2 + limit);
    slope[i] = kept;
    offset[i] = mean[i] - kept * mean[i];
  }
}

/** Lines that take noise out, in place: of the means of squares come slopes, of means offsets.
 * @param limit - Variance that is noise. */
export function quietLines(slope: Float32Array, offset: Float32Array, limit: number): void {
  for (let i = 0; i < slope.length; i++) {
    const variance = Math.max(1e-12, slope[i] - offset[i] * offset[i]);
    const kept = Math.max(0, variance - limit) / variance;
    slope[i] = kept;
    offset[i] -= kept * offset[i];
  }
}

/** By how much lines change what they lie over, in a tile of an area, in steps of 16 bits.
 * @param side - Samples of a row of the area.
 * @param first - Samples of it before the tile's first. */
export function changeByLines(
  plane: Float32Array,
  slope: Float32Array,
  offset: Float32Array,
  side: number,
  first: number,
  out: Float32Array,
): void {
  for (let row = 0, i = 0; row < TILE; row++)
    for (let at = first + row * side, end = at + TILE; at < end; at++, i++)
      out[i] = 65535 * (slope[at] * plane[at] + offset[at] - plane[at]);
}

/** How far samples lie above others, times a factor, above a value, in place; rounded once. */
export function awayFrom(plane: Float32Array, other: Float32Array, by: number, middle: number): void {
  for (let i = 0; i < plane.length; i++) plane[i] = middle + by * (plane[i] - other[i]);
}

/** What lines make of codes, `slope x code + offset`, rounded to 16 bits.
 * @param offset - 0..1. */
export function codesByLines(
  slope: Float32Array,
  offset: Float32Array,
  codes: Uint16Array | number,
  out: Uint16Array,
): void {
  for (let i = 0; i < out.length; i++) {
    const made = slope[i] * (typeof codes === 'number' ? codes : codes[i]) + offset[i] * 65535;
    out[i] = Math.min(65535, Math.max(0, made + 0.5));
  }
}

const wide = (make: {
  table(count: number, value: (i: number) => number): Float32Array;
  number(a: number, b: number): number;
}) => make.table(160 * 160, () => make.number(0, 0.5));

export const squaresKernel = defineKernel(squares)({
  compiled: ['squares'],
  bind:
    ({ wasm }) =>
    (plane, out) =>
      void wasm.squares(address(plane), address(out), plane.length),
  samples: { squares: (make) => [make.floats(), make.floats()] },
});

export const baseLinesKernel = defineKernel(baseLines)({
  compiled: ['baseLines'],
  bind:
    ({ wasm }) =>
    (mean, square, limit, slope, offset) =>
      void wasm.baseLines(address(mean), address(square), limit, address(slope), address(offset), mean.length),
  samples: {
    'lines of a base': (make) => [wide(make), wide(make), 0.01, wide(make), wide(make)],
  },
});

export const quietLinesKernel = defineKernel(quietLines)({
  compiled: ['quietLines'],
  bind:
    ({ wasm }) =>
    (slope, offset, limit) =>
      void wasm.quietLines(address(slope), address(offset), limit, slope.length),
  samples: {
    'lines without noise': (make) => [
      make.table(160 * 160, () => make.number(0.3, 0.6)),
      make.table(160 * 160, () => make.number(0, 0.5)),
      0.1,
    ],
  },
});

export const changeByLinesKernel = defineKernel(changeByLines)({
  compiled: ['changeByLines'],
  bind:
    ({ wasm }) =>
    (plane, slope, offset, side, first, out) =>
      void wasm.changeByLines(address(plane), address(slope), address(offset), side, first, address(out)),
  samples: { 'change by lines': (make) => [wide(make), wide(make), wide(make), 160, 7 * 160 + 11, make.floats()] },
  // Of 65,535.
  floats: 0.01,
});

export const awayFromKernel = defineKernel(awayFrom)({
  compiled: ['awayFrom'],
  bind:
    ({ wasm }) =>
    (plane, other, by, middle) =>
      void wasm.awayFrom(address(plane), address(other), by, middle, plane.length),
  samples: { 'detail on middle grey': (make) => [make.floats(), make.floats(), 65535 * 1.7, 32767.5] },
  floats: 0,
});

export const codesByLinesKernel = defineKernel(codesByLines)({
  compiled: ['codesByLines'],
  bind:
    ({ wasm }) =>
    (slope, offset, codes, out) =>
      void wasm.codesByLines(address(slope), address(offset), ...planeOrValue(codes), address(out), out.length),
  samples: { 'codes by lines': (make) => [make.floats(), make.floats(), make.samples(), make.samples()] },
  steps: 1,
});

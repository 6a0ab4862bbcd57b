import { address, defineKernel } from './defineKernel.ts';

/** A block of samples in two planes: where it begins, samples from row to row, and its size. */
export interface Block {
  from: number;
  stride: number;
  to: number;
  outStride: number;
  width: number;
  rows: number;
}

/** Widens 16-bit samples to floats 0..1. */
export function widen(samples: Uint16Array, out: Float32Array): void {
  for (let i = 0; i < samples.length; i++) out[i] = samples[i] * (1 / 65535);
}

/** Widens a block of samples. */
export function widenRows(samples: Uint16Array, out: Float32Array, block: Block): void {
  const { from, stride, to, outStride, width, rows } = block;
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < width; x++) out[to + y * outStride + x] = samples[from + y * stride + x] * (1 / 65535);
}

/** Narrows floats to 16-bit samples, rounding to nearest; values outside 0..1 are cut. */
export function narrow(values: Float32Array, out: Uint16Array): void {
  for (let i = 0; i < values.length; i++) {
    out[i] = Math.min(65535, Math.max(0, values[i] * 65535 + 0.5));
  }
}

/** The one value that all samples have, or -1. */
export function uniformValue(samples: Uint16Array): number {
  const first = samples[0];
  for (let i = 1; i < samples.length; i++) if (samples[i] !== first) return -1;
  return first;
}

export const widenKernel = defineKernel(widen)({
  compiled: ['widen'],
  bind:
    ({ wasm }) =>
    (samples, out) =>
      void wasm.widen(address(samples), address(out), samples.length),
  samples: { widening: (make) => [make.samples(), make.floats()] },
});

export const widenRowsKernel = defineKernel(widenRows)({
  compiled: ['widenRows'],
  bind:
    ({ wasm }) =>
    (samples, out, { from, stride, to, outStride, width, rows }) =>
      void wasm.widenRows(address(samples) + 2 * from, 2 * stride, address(out) + 4 * to, 4 * outStride, width, rows),
  samples: {
    'widening a block': (make) => [
      make.samples(),
      make.floats(),
      { from: 3, stride: 128, to: 5, outStride: 128, width: 117, rows: 120 },
    ],
  },
});

/** Narrows floats, and answers the one value that all samples have, or -1. */
function narrowAll(values: Float32Array, out: Uint16Array): number {
  narrow(values, out);
  return uniformValue(out);
}

export const narrowKernel = defineKernel(narrowAll)({
  compiled: ['narrow'],
  bind:
    ({ wasm }) =>
    (values, out) =>
      wasm.narrow(address(values), address(out), values.length),
  samples: { narrowing: (make) => [make.floats(), make.samples()] },
  steps: 1,
});

export const uniformValueKernel = defineKernel(uniformValue)({
  compiled: ['uniform'],
  bind:
    ({ wasm }) =>
    (samples) =>
      wasm.uniform(address(samples), samples.length),
  samples: { 'finding one value': (make) => [make.samples().fill(make.number(0, 65535))] },
});

import { address, defineKernel } from './defineKernel.ts';

/** Octaves below 1 that the encoding curve is tabled for; under them it is a line. */
const OCTAVES = 13;
const KNOTS_PER_OCTAVE = 256;
const SMALLEST = 2 ** -OCTAVES;

/** Linear light of all 65,536 encoded values.
 * @param decode - From encoded 0..1 to linear 0..1. */
export function linearTable(decode: (encoded: number) => number): Float32Array {
  return Float32Array.from({ length: 65536 }, (_, code) => decode(code / 65535));
}

/** Encoded values 0..65535 at even steps within each octave of linear light; between them lie lines. For the curve of sRGB
 * that is within a thirtieth of one step of 65,535.
 * @param encode - From linear 0..1 to encoded 0..1; a line below 2^-13. */
export function encodingKnots(encode: (linear: number) => number): Float32Array {
  return Float32Array.from({ length: OCTAVES * KNOTS_PER_OCTAVE + 1 }, (_, knot) => {
    const octave = Math.floor(knot / KNOTS_PER_OCTAVE);
    const share = (knot % KNOTS_PER_OCTAVE) / KNOTS_PER_OCTAVE;
    return 65535 * encode(SMALLEST * 2 ** octave * (1 + share));
  });
}

/** Encoded samples to linear light.
 * @param table - Of {@link linearTable}. */
export function linearize(table: Float32Array, samples: Uint16Array, out: Float32Array): void {
  for (let i = 0; i < samples.length; i++) out[i] = table[samples[i]];
}

/** Linear light to encoded samples, cut at both ends and rounded.
 * @param knots - Of {@link encodingKnots}. */
export function encodeLinear(knots: Float32Array, values: Float32Array, out: Uint16Array): void {
  for (let i = 0; i < values.length; i++) out[i] = Math.floor(encodedOf(knots, values[i]) + 0.5);
}

function encodedOf(knots: Float32Array, value: number): number {
  if (!(value > SMALLEST)) return (Math.max(0, value) * knots[0]) / SMALLEST;
  if (value >= 1) return 65535;
  const octave = Math.floor(Math.log2(value / SMALLEST));
  const at = (octave + value / SMALLEST / 2 ** octave - 1) * KNOTS_PER_OCTAVE;
  const knot = Math.floor(at);
  return knots[knot] + (knots[knot + 1] - knots[knot]) * (at - knot);
}

export const linearizeKernel = defineKernel(linearize)({
  compiled: ['linearize'],
  bind:
    ({ wasm }) =>
    (table, samples, out) =>
      void wasm.linearize(address(table), address(samples), address(out), samples.length),
  samples: { 'to linear light': (make) => [make.floats(65536), make.samples(), make.floats()] },
});

export const encodeLinearKernel = defineKernel(encodeLinear)({
  compiled: ['encodeLinear'],
  bind:
    ({ wasm }) =>
    (knots, values, out) =>
      void wasm.encodeLinear(address(knots), address(values), address(out), values.length),
  samples: {
    'back from linear light': (make) => [
      make.table(OCTAVES * KNOTS_PER_OCTAVE + 1, (knot) => (65535 * knot) / (OCTAVES * KNOTS_PER_OCTAVE)),
      make.floats(),
      make.samples(),
    ],
  },
  steps: 1,
});

import { address, defineKernel } from './defineKernel.ts';

/** Weighted sum of three 16-bit planes, rounded to 16 bits.
 * @param weights - Of red, green and blue; they add up to 1. */
export function luminance(
  red: Uint16Array,
  green: Uint16Array,
  blue: Uint16Array,
  weights: readonly [number, number, number],
  out: Uint16Array,
): void {
  const [wr, wg, wb] = weights;
  for (let i = 0; i < out.length; i++) out[i] = Math.min(65535, red[i] * wr + green[i] * wg + blue[i] * wb + 0.5);
}

/** Weighted sum of the linear light of three 16-bit planes, 65,535 being white, rounded to 16 bits.
 * @param decoding - Light of all 65,536 values, 0..1.
 * @param weights - Of red, green and blue; they add up to 1. */
export function linearLuminance(
  decoding: Float32Array,
  red: Uint16Array,
  green: Uint16Array,
  blue: Uint16Array,
  weights: readonly [number, number, number],
  out: Uint16Array,
): void {
  const [r, g, b] = weights.map((weight) => weight * 65535);
  for (let i = 0; i < out.length; i++)
    out[i] = r * decoding[red[i]] + g * decoding[green[i]] + b * decoding[blue[i]] + 0.5;
}

export const luminanceKernel = defineKernel(luminance)({
  compiled: ['luminance'],
  bind:
    ({ wasm }) =>
    (red, green, blue, weights, out) =>
      void wasm.luminance(address(red), address(green), address(blue), ...weights, address(out), out.length),
  samples: { luminance: (make) => [...make.rgb(), [0.2, 0.7, 0.1], make.samples()] },
  steps: 1,
});

export const linearLuminanceKernel = defineKernel(linearLuminance)({
  compiled: ['linearLuminance'],
  bind:
    ({ wasm }) =>
    (decoding, red, green, blue, [wr, wg, wb], out) => {
      const planes = [address(red), address(green), address(blue)] as const;
      wasm.linearLuminance(address(decoding), ...planes, wr * 65535, wg * 65535, wb * 65535, address(out), out.length);
    },
  samples: {
    'luminance of light': (make) => [
      make.table(65536, (i) => (i / 65535) ** 2),
      ...make.rgb(),
      [0.2126, 0.7152, 0.0722],
      make.samples(),
    ],
  },
});

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

export const luminanceKernel = defineKernel(luminance)({
  compiled: ['luminance'],
  bind:
    ({ wasm }) =>
    (red, green, blue, weights, out) =>
      void wasm.luminance(address(red), address(green), address(blue), ...weights, address(out), out.length),
  samples: { luminance: (make) => [...make.rgb(), [0.2, 0.7, 0.1], make.samples()] },
  steps: 1,
});

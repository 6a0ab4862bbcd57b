import { address, defineKernel } from './defineKernel.ts';
import type { Rgb16, RgbFloats } from './planes.ts';

/** (r + 2g + b) / 4 of encoded samples, rounded. */
export function brightnessOf([red, green, blue]: Rgb16, out: Uint16Array): void {
  for (let i = 0; i < out.length; i++) out[i] = (red[i] + 2 * green[i] + blue[i] + 2) >> 2;
}

/** (own - green) / 2 of encoded samples, around the middle of the range. */
export function differenceOf(own: Uint16Array, green: Uint16Array, out: Uint16Array): void {
  for (let i = 0; i < out.length; i++) out[i] = (own[i] - green[i] + 65535) >> 1;
}

/** Adds changes of brightness and of the two differences to encoded values, in place: g = y - (u + v) / 2, r = g + 2u, b = g + 2v.
 * @param changes - Of brightness, of (red - green) / 2 and of (blue - green) / 2. */
export function addChannels([brightness, first, second]: RgbFloats, [red, green, blue]: RgbFloats): void {
  for (let i = 0; i < red.length; i++) {
    const [u, v] = [first[i], second[i]];
    const g = brightness[i] - (u + v) / 2;
    red[i] += g + 2 * u;
    green[i] += g;
    blue[i] += g + 2 * v;
  }
}

export const brightnessOfKernel = defineKernel(brightnessOf)({
  compiled: ['brightnessOf'],
  bind:
    ({ wasm }) =>
    ([red, green, blue], out) =>
      void wasm.brightnessOf(address(red), address(green), address(blue), address(out), out.length),
  samples: { brightness: (make) => [make.rgb(), make.samples()] },
});

export const differenceOfKernel = defineKernel(differenceOf)({
  compiled: ['differenceOf'],
  bind:
    ({ wasm }) =>
    (own, green, out) =>
      void wasm.differenceOf(address(own), address(green), address(out), out.length),
  samples: { 'difference of colours': (make) => [make.samples(), make.samples(), make.samples()] },
});

export const addChannelsKernel = defineKernel(addChannels)({
  compiled: ['addChannels'],
  bind:
    ({ wasm }) =>
    (changes, rgb) =>
      void wasm.addChannels(...changes.map(address), ...rgb.map(address), rgb[0].length),
  samples: {
    'adding channels': (make) => [
      [make.floats(), make.floats(), make.floats()],
      [make.floats(), make.floats(), make.floats()],
    ],
  },
});

import { TILE_SAMPLES } from '../raster/size.ts';
import { address, defineKernel } from './defineKernel.ts';

/** Three planes as interleaved RGB.
 * @param out - Three times as many samples as a plane. */
export function interleave(red: Uint16Array, green: Uint16Array, blue: Uint16Array, out: Uint16Array): void {
  for (let i = 0, to = 0; i < red.length; i++) {
    out[to++] = red[i];
    out[to++] = green[i];
    out[to++] = blue[i];
  }
}

export const interleaveKernel = defineKernel(interleave)({
  compiled: ['interleave'],
  bind:
    ({ wasm }) =>
    (red, green, blue, out) =>
      void wasm.interleave(address(red), address(green), address(blue), address(out), red.length),
  samples: { interleaving: (make) => [...make.rgb(), make.samples(3 * TILE_SAMPLES)] },
});

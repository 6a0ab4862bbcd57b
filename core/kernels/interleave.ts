import { TILE_SAMPLES } from '../raster/size.ts';
import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import type { Rgb16 } from './planes.ts';

/** Three planes as interleaved RGB.
 * @param out - Three times as many samples as a plane. */
export function interleave(red: Uint16Array, green: Uint16Array, blue: Uint16Array, out: Uint16Array): void {
  for (let i = 0, to = 0; i < red.length; i++) {
    out[to++] = red[i];
    out[to++] = green[i];
    out[to++] = blue[i];
  }
}

/** Three planes and what covers them as interleaved RGBA.
 * @param alpha - A plane, or the value that it has throughout.
 * @param clears - Whether there is no colour where nothing is covered.
 * @param out - Four times as many samples as a plane. */
export function interleaveCovered(
  [red, green, blue]: Rgb16,
  alpha: Uint16Array | number,
  clears: boolean,
  out: Uint16Array,
): void {
  for (let i = 0, to = 0; i < red.length; i++, to += 4) {
    const covered = typeof alpha === 'number' ? alpha : alpha[i];
    const isClear = clears && covered === 0;
    out[to] = isClear ? 0 : red[i];
    out[to + 1] = isClear ? 0 : green[i];
    out[to + 2] = isClear ? 0 : blue[i];
    out[to + 3] = covered;
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

export const interleaveCoveredKernel = defineKernel(interleaveCovered)({
  compiled: ['interleaveCovered'],
  bind:
    ({ wasm }) =>
    (planes, alpha, clears, out) =>
      void wasm.interleaveCovered(
        ...planes.map(address),
        ...planeOrValue(alpha),
        Number(clears),
        address(out),
        planes[0].length,
      ),
  samples: {
    'interleaving with what covers': (make) => [make.rgb(), make.samples(), true, make.samples(4 * TILE_SAMPLES)],
    'interleaving with one cover': (make) => [make.rgb(), 40000, true, make.samples(4 * TILE_SAMPLES)],
    'interleaving without clearing': (make) => [make.rgb(), make.samples(), false, make.samples(4 * TILE_SAMPLES)],
    'interleaving with no cover': (make) => [make.rgb(), 0, true, make.samples(4 * TILE_SAMPLES)],
  },
});

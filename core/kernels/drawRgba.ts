import { TILE_SAMPLES } from '../raster/size.ts';
import { address, addressOf, defineKernel, planeOrValue } from './defineKernel.ts';
import type { SampleMaker } from './sampleMaker.ts';

/** 16 bits to 8: v / 257 rounded, for all 65,536 values. */
const toEightBits = (value: number): number => ((value + 128) / 257) | 0;

/** Three 16-bit planes as 8-bit RGBA. */
export function drawRgba(red: Uint16Array, green: Uint16Array, blue: Uint16Array, rgba: Uint8ClampedArray): void {
  for (let i = 0, at = 0; i < red.length; i++, at += 4) {
    rgba[at] = toEightBits(red[i]);
    rgba[at + 1] = toEightBits(green[i]);
    rgba[at + 2] = toEightBits(blue[i]);
    rgba[at + 3] = 255;
  }
}

/** One 16-bit plane as 8-bit grey RGBA. */
export function drawGrey(plane: Uint16Array, rgba: Uint8ClampedArray): void {
  drawRgba(plane, plane, plane, rgba);
}

/** Pulls 8-bit RGBA towards a colour by coverage.
 * @param mask - Coverage, 16 bits; or one value 0..65535 for all.
 * @param colour - 8-bit red, green, blue.
 * @param strength - Factor on the coverage, 0..1. */
export function tint(
  rgba: Uint8ClampedArray,
  mask: Uint16Array | number,
  colour: readonly [number, number, number],
  strength: number,
): void {
  for (let i = 0, at = 0; at < rgba.length; i++, at += 4) {
    const weight = ((typeof mask === 'number' ? mask : mask[i]) / 65535) * strength;
    for (let channel = 0; channel < 3; channel++) rgba[at + channel] += (colour[channel] - rgba[at + channel]) * weight;
  }
}

export const drawRgbaKernel = defineKernel(drawRgba)({
  compiled: ['drawRgba'],
  bind:
    ({ wasm }) =>
    (red, green, blue, rgba) =>
      void wasm.drawRgba(address(red), address(green), address(blue), addressOf(rgba), red.length),
  samples: { 'drawing RGBA': (make) => [...make.rgb(), make.bytes(4 * TILE_SAMPLES)] },
});

export const drawGreyKernel = defineKernel(drawGrey)({
  compiled: ['drawGrey'],
  bind:
    ({ wasm }) =>
    (plane, rgba) =>
      void wasm.drawGrey(address(plane), addressOf(rgba), plane.length),
  samples: { 'drawing grey': (make) => [make.samples(), make.bytes(4 * TILE_SAMPLES)] },
});

export const tintKernel = defineKernel(tint)({
  compiled: ['tint'],
  bind:
    ({ wasm }) =>
    (rgba, mask, colour, strength) =>
      void wasm.tint(addressOf(rgba), ...planeOrValue(mask), ...colour, strength, rgba.length / 4),
  samples: {
    tinting: (make) => [opaque(make), make.samples(), [90, 190, 170], make.number(0.2, 1)],
  },
  steps: 1,
});

/** A drawn tile: all of it is opaque. */
function opaque(make: SampleMaker): Uint8ClampedArray {
  const rgba = make.bytes(4 * TILE_SAMPLES);
  for (let i = 3; i < rgba.length; i += 4) rgba[i] = 255;
  return rgba;
}

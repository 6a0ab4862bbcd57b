import { narrow } from './convert.ts';
import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import { RECORD_WORDS } from './kernelRoom.ts';
import type { Rgb16, RgbFloats } from './planes.ts';

/** Blends `upper` over `lower` through a mask, one channel: source-over, W3C Compositing and Blending Level 1, section 9.1.4.
 * @param lower - n samples, overwritten with the result; values above 1 are kept.
 * @param upper - n samples, 16 bits.
 * @param mask - Weight of `upper`, n samples, 16 bits; or one value 0..65535 for all.
 * @param opacity - Factor on the mask, 0..1. */
export function mixThroughMask(
  lower: Float32Array,
  upper: Uint16Array,
  mask: Uint16Array | number,
  opacity: number,
): void {
  if (upper.length !== lower.length) throw new RangeError('The planes differ in length');
  const scale = opacity / 65535;
  if (typeof mask === 'number') {
    const weight = mask * scale;
    for (let i = 0; i < lower.length; i++) lower[i] += (upper[i] * (1 / 65535) - lower[i]) * weight;
    return;
  }
  if (mask.length !== lower.length) throw new RangeError('The mask does not fit the planes');
  for (let i = 0; i < lower.length; i++) lower[i] += (upper[i] * (1 / 65535) - lower[i]) * (mask[i] * scale);
}

/** A picture that lies over others through its mask. */
export interface MaskedLayer {
  upper: Rgb16;
  /** Weight of `upper`, 16 bits; or one value 0..65535 for all. */
  mask: Uint16Array | number;
  /** Factor on the mask, 0..1. */
  opacity: number;
}

/** Layers over a base, rounded once at the end, if at all. `out` may be the base, where that is in floats, and none of the others. */
export function composite(base: Rgb16 | RgbFloats, layers: readonly MaskedLayer[], out: Rgb16 | RgbFloats): void {
  for (const channel of [0, 1, 2] as const) {
    const [from, to] = [base[channel], out[channel]];
    const mixed = Float32Array.from(from, (value) => value / 65535);
    for (const { upper, mask, opacity } of layers) mixThroughMask(mixed, upper[channel], mask, opacity);
    if (to instanceof Uint16Array) narrow(mixed, to);
    else to.set(mixed.map((value) => value * 65535));
  }
}

export const compositeKernel = defineKernel(composite)({
  compiled: ['composite'],
  bind:
    ({ wasm, room }) =>
    (base, layers, out) => {
      const { words, floats } = room.records(layers.length);
      for (let index = 0; index < layers.length; index++) {
        const { upper, mask, opacity } = layers[index];
        const at = index * RECORD_WORDS;
        const [plane, value] = planeOrValue(mask);
        words[at] = address(upper[0]);
        words[at + 1] = address(upper[1]);
        words[at + 2] = address(upper[2]);
        words[at + 3] = plane;
        floats[at + 4] = (opacity / 65535) * (plane === 0 ? value : 1);
      }
      const form = (base[0] instanceof Float32Array ? 1 : 0) + (out[0] instanceof Float32Array ? 2 : 0);
      wasm.composite(
        address(base[0]),
        address(base[1]),
        address(base[2]),
        words.byteOffset,
        layers.length,
        address(out[0]),
        address(out[1]),
        address(out[2]),
        base[0].length,
        form,
        room.strips.byteOffset,
      );
    },
  samples: {
    'compositing, four layers': (make) => [
      make.rgb(),
      Array.from({ length: 4 }, () => ({ upper: make.rgb(), mask: make.samples(), opacity: make.number(0.3, 1) })),
      make.rgb(),
    ],
    'compositing, five layers, one of them even': (make) => [
      make.rgb(),
      Array.from({ length: 5 }, (_, i) => ({
        upper: make.rgb(),
        mask: i === 2 ? 40000 : make.samples(),
        opacity: 0.8,
      })),
      make.rgb(),
    ],
  },
  steps: 1,
});

/** Blends one plane in floats over another through a mask, like {@link mixThroughMask}; what lies outside the range is kept.
 * @param mask - Weight of `upper`, 16 bits; or one value 0..65535 for all.
 * @param opacity - Factor on the mask, 0..1.
 * @param out - Overwritten; may be either of the planes. */
export function mixFloats(
  lower: Float32Array,
  upper: Float32Array,
  mask: Uint16Array | number,
  opacity: number,
  out: Float32Array,
): void {
  for (let i = 0; i < lower.length; i++) {
    const weight = ((typeof mask === 'number' ? mask : mask[i]) / 65535) * opacity;
    out[i] = lower[i] + (upper[i] - lower[i]) * weight;
  }
}

export const mixFloatsKernel = defineKernel(mixFloats)({
  compiled: ['mixFloats'],
  bind:
    ({ wasm }) =>
    (lower, upper, mask, opacity, out) => {
      const [plane, value] = planeOrValue(mask);
      const weight = (opacity / 65535) * (plane === 0 ? value : 1);
      wasm.mixFloats(address(lower), address(upper), plane, weight, address(out), lower.length);
    },
  samples: {
    'mixing floats': (make) => [make.floats(), make.floats(), make.samples(), make.number(0.2, 1), make.floats()],
    'mixing floats evenly': (make) => [make.floats(), make.floats(), 40000, 0.7, make.floats()],
  },
});

import { address, defineKernel } from './defineKernel.ts';

/** Copies a plane onto another of its kind. The library's own way is slow where memory is shared.
 * @param out - As long as `from`. */
export function copyPlane<Plane extends Float32Array | Uint16Array>(from: Plane, out: Plane): void {
  out.set(from);
}

export const copyPlaneKernel = defineKernel<[Float32Array | Uint16Array, Float32Array | Uint16Array], void>(copyPlane)({
  compiled: ['copyBytes'],
  bind:
    ({ wasm }) =>
    (from, out) =>
      void wasm.copyBytes(address(from), address(out), from.byteLength),
  samples: {
    'copying floats': (make) => [make.floats(), make.floats()],
    'copying samples': (make) => [make.samples(), make.samples()],
  },
});

/** One value for all of a plane, likewise.
 * @param out - Of a multiple of four. */
export function fillFloats(out: Float32Array, value: number): void {
  out.fill(value);
}

export const fillFloatsKernel = defineKernel(fillFloats)({
  compiled: ['fillFloats'],
  bind:
    ({ wasm }) =>
    (out, value) =>
      void wasm.fillFloats(address(out), value, out.length),
  samples: { 'one value for all': (make) => [make.floats(), make.number(0, 1)] },
});

import { address, defineKernel, planeOrValue } from './defineKernel.ts';

/** Lets one stroke pull a painted part towards its target.
 * @param value - What the part covers, 0..1, premultiplied by `alpha`; changed in place.
 * @param alpha - How much of each place the painting decides, 0..1; changed in place.
 * @param coverage - The stroke's coverage, 0..1.
 * @param strength - The most that the stroke changes, 0..1.
 * @param stencil - What it is painted through, 16 bits; or one value 0..65535 for all.
 * @param fresh - Nothing was painted before, whatever the planes hold. */
export function paintOver(
  value: Float32Array,
  alpha: Float32Array,
  coverage: Float32Array,
  target: number,
  strength: number,
  stencil: Uint16Array | number,
  fresh: boolean,
): void {
  if (fresh) {
    value.fill(0);
    alpha.fill(0);
  }
  const scale = strength / 65535;
  for (let i = 0; i < value.length; i++) {
    if (coverage[i] === 0) continue;
    const weight = coverage[i] * (typeof stencil === 'number' ? stencil : stencil[i]) * scale;
    value[i] += (target - value[i]) * weight;
    alpha[i] += (1 - alpha[i]) * weight;
  }
}

export const paintOverKernel = defineKernel(paintOver)({
  compiled: ['paintOver'],
  bind:
    ({ wasm }) =>
    (value, alpha, coverage, target, strength, stencil, fresh) => {
      const planes = [address(value), address(alpha), address(coverage)] as const;
      wasm.paintOver(...planes, target, strength, ...planeOrValue(stencil), value.length, fresh ? 1 : 0);
    },
  samples: {
    'painting over': (make) => [make.floats(), make.floats(), make.floats(), 1, 0.2, make.samples(), false],
  },
});

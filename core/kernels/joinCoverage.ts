import { narrow, uniformValue, widen } from './convert.ts';
import { address, defineKernel } from './defineKernel.ts';

/** How a part meets the mask before it; names and meaning of `mask-composite`, CSS Masking Module Level 1, section 7.8. */
export type Join = 'add' | 'subtract' | 'intersect' | 'exclude';

/** Joins a part to the mask so far, in place.
 * @param mask - Coverage so far, 0..1; overwritten.
 * @param part - Coverage of the part, 0..1.
 * @param alpha - For `add` only: how much of the place the part decides, at least `part`. Without it the part itself,
 * which is plain source-over. A painted part that hides holds a place without covering it. */
export function joinCoverage(join: Join, mask: Float32Array, part: Float32Array, alpha: Float32Array = part): void {
  const n = mask.length;
  switch (join) {
    case 'add':
      for (let i = 0; i < n; i++) mask[i] = part[i] + mask[i] * (1 - alpha[i]);
      return;
    case 'subtract':
      // The mask outside the part: CSS puts the new layer as source, ours is the mask it is taken from.
      for (let i = 0; i < n; i++) mask[i] *= 1 - part[i];
      return;
    case 'intersect':
      for (let i = 0; i < n; i++) mask[i] *= part[i];
      return;
    case 'exclude':
      for (let i = 0; i < n; i++) mask[i] += part[i] - 2 * mask[i] * part[i];
      return;
  }
}

/** By their numbers in the compiled form. */
const JOINS: readonly Join[] = ['add', 'subtract', 'intersect', 'exclude'];

export const joinCoverageKernel = defineKernel(joinCoverage)({
  compiled: ['join'],
  bind:
    ({ wasm }) =>
    (join, mask, part, alpha = part) =>
      void wasm.join(JOINS.indexOf(join), address(mask), address(part), address(alpha), mask.length),
  samples: {
    joining: (make) => ['add', make.floats(), make.floats(), make.floats()],
    'joining by exclusion': (make) => ['exclude', make.floats(), make.floats()],
  },
});

/** Joins a part of samples, which decides as much as it covers. */
export function joinFromSamples(join: Join, mask: Float32Array, part: Uint16Array): void {
  const wide = new Float32Array(part.length);
  widen(part, wide);
  joinCoverage(join, mask, wide);
}

export const joinFromSamplesKernel = defineKernel(joinFromSamples)({
  compiled: ['joinFromSamples'],
  bind:
    ({ wasm }) =>
    (join, mask, part) =>
      void wasm.joinFromSamples(JOINS.indexOf(join), address(mask), address(part), mask.length),
  samples: { 'joining samples': (make) => ['add', make.floats(), make.samples()] },
});

/** Joins a part to a mask of samples and narrows at once; answers the one value that all samples have, or -1. */
export function joinSamples(
  join: Join,
  mask: Uint16Array,
  part: Float32Array,
  alpha: Float32Array,
  out: Uint16Array,
): number {
  const wide = new Float32Array(mask.length);
  widen(mask, wide);
  joinCoverage(join, wide, part, alpha);
  narrow(wide, out);
  return uniformValue(out);
}

export const joinSamplesKernel = defineKernel(joinSamples)({
  compiled: ['joinSamples'],
  bind:
    ({ wasm }) =>
    (join, mask, part, alpha, out) =>
      wasm.joinSamples(JOINS.indexOf(join), address(mask), address(part), address(alpha), address(out), mask.length),
  samples: {
    'joining to samples': (make) => ['add', make.samples(), make.floats(), make.floats(), make.samples()],
  },
  steps: 1,
});

function invert(plane: Float32Array): void {
  for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i];
}

export const invertKernel = defineKernel(invert)({
  compiled: ['invert'],
  bind:
    ({ wasm }) =>
    (plane) =>
      void wasm.invert(address(plane), plane.length),
  samples: { inverting: (make) => [make.floats()] },
});

/** Each sample becomes the larger of both. Planes of any length, at any place. */
function maxInto(out: Float32Array, other: Float32Array): void {
  for (let i = 0; i < out.length; i++) out[i] = Math.max(out[i], other[i]);
}

export const maxIntoKernel = defineKernel(maxInto)({
  compiled: ['maxInto'],
  bind:
    ({ wasm }) =>
    (out, other) =>
      void wasm.maxInto(address(out), address(other), out.length),
  samples: { 'larger of two': (make) => [make.floats(), make.floats()] },
});

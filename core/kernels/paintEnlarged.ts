import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import { enlarge } from './enlarge.ts';
import { joinSamples } from './joinCoverage.ts';
import { paintOver } from './paintOver.ts';
import type { CoarseCoverage } from './planes.ts';
import type { SampleMaker } from './sampleMaker.ts';

/** Enlarges coverage and paints with it in one go, see `paintOver`. */
function paintEnlarged(
  value: Float32Array,
  alpha: Float32Array,
  { area, side, offset, step }: CoarseCoverage,
  target: number,
  strength: number,
  stencil: Uint16Array | number,
  fresh: boolean,
): void {
  const coverage = new Float32Array(value.length);
  enlarge(area, side, offset, offset, step, coverage);
  paintOver(value, alpha, coverage, target, strength, stencil, fresh);
}

/** Enlarges a stroke's coverage and adds what it paints, as the first, to a mask of samples.
 * @returns The one value that all samples have, or -1. */
function joinEnlarged(
  mask: Uint16Array,
  coverage: CoarseCoverage,
  target: number,
  strength: number,
  stencil: Uint16Array | number,
  out: Uint16Array,
): number {
  const [value, alpha] = [new Float32Array(mask.length), new Float32Array(mask.length)];
  paintEnlarged(value, alpha, coverage, target, strength, stencil, true);
  return joinSamples('add', mask, value, alpha, out);
}

/** What is painted with a coarser coverage, as the compiled kernels are told. */
const paintOf = (
  { area, side, offset, step }: CoarseCoverage,
  target: number,
  strength: number,
  stencil: Uint16Array | number,
) => [address(area), side, offset, step, target, strength, ...planeOrValue(stencil)] as const;

const coarse = (make: SampleMaker): CoarseCoverage => ({ area: make.floats(36 * 36), side: 36, offset: 2, step: 4 });

export const paintEnlargedKernel = defineKernel(paintEnlarged)({
  compiled: ['paintEnlarged'],
  bind:
    ({ wasm, room: { line, row } }) =>
    (value, alpha, coverage, target, strength, stencil, fresh) => {
      const paint = paintOf(coverage, target, strength, stencil);
      wasm.paintEnlarged(address(value), address(alpha), ...paint, fresh ? 1 : 0, line.byteOffset, row.byteOffset);
    },
  samples: {
    'painting with enlarged coverage': (make) => [
      ...([make.floats(), make.floats(), coarse(make), 1, 0.2, make.samples(), false] as const),
    ],
  },
  floats: 1e-5,
});

export const joinEnlargedKernel = defineKernel(joinEnlarged)({
  compiled: ['joinEnlarged'],
  bind:
    ({ wasm, room: { line, row } }) =>
    (mask, coverage, target, strength, stencil, out) => {
      const paint = paintOf(coverage, target, strength, stencil);
      return wasm.joinEnlarged(address(mask), address(out), ...paint, line.byteOffset, row.byteOffset);
    },
  samples: {
    'adding an enlarged stroke': (make) => [make.samples(), coarse(make), 1, 0.2, make.samples(), make.samples()],
  },
  steps: 1,
});

import { address, defineKernel } from './defineKernel.ts';
import { smoothstep } from './smoothstep.ts';

/** Share of the surroundings that must be covered for a place to begin to fill, and from which on it is full. At the edge of an
 * area half of the surroundings are covered. */
export const BEGINS = 0.55;
export const FULL = 0.85;

/** How far inside a covered area a place lies, 0 outside and at its edge, 1 inside. The share of the surroundings that is covered
 * is the squared mean over the mean square, which is that share exactly when covered places are alike, however grey they are.
 * @param mean - Mean coverage around a place, 0..1.
 * @param meanSquare - Mean of the squared coverage around it.
 * @param from - Mean coverage from which on it surely is an area; below a third of it is none. */
export function coreOf(mean: number, meanSquare: number, from: number): number {
  if (meanSquare <= 0 || mean <= from / 3) return 0;
  return smoothstep(((mean * mean) / meanSquare - BEGINS) / (FULL - BEGINS)) * smoothstep((1.5 * mean) / from - 0.5);
}

/** How far inside a covered area places lie, see {@link coreOf}, times `amount`; over the means. */
export function findCore(mean: Float32Array, meanSquare: Float32Array, amount: number, from: number): void {
  for (let i = 0; i < mean.length; i++) mean[i] = amount * coreOf(mean[i], meanSquare[i], from);
}

export const findCoreKernel = defineKernel(findCore)({
  compiled: ['findCore'],
  bind:
    ({ wasm }) =>
    (mean, meanSquare, amount, from) =>
      void wasm.findCore(address(mean), address(meanSquare), amount, from, BEGINS, 1 / (FULL - BEGINS), mean.length),
  samples: { 'finding the core': (make) => [make.floats(), make.floats(), 0.8, 0.25] },
  floats: 1e-5,
});

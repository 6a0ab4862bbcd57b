import type { Arena } from '../raster/arena.ts';
import { KERNELS, type Kernels } from './kernels.ts';
import { SampleMaker } from './sampleMaker.ts';

/** One call of a kernel with typical arguments. */
export interface Exercise {
  /** What is measured with it. */
  name: string;
  kernel: keyof Kernels;
  args: readonly unknown[];
}

/** Every kernel on made arguments.
 * @param arena - Where the planes lie.
 * @param random - Numbers 0..1. */
export function exercises(arena: Arena, random: () => number): Exercise[] {
  const make = new SampleMaker(arena, random);
  return Object.entries(KERNELS).flatMap(([kernel, { samples }]) =>
    Object.entries<(make: SampleMaker) => readonly unknown[]>(samples).map(([name, argsOf]) => ({
      name,
      kernel: kernel as keyof Kernels,
      args: argsOf(make),
    })),
  );
}

/** Calls a kernel with the arguments of an exercise. */
export const exert = (kernels: Kernels, { kernel, args }: Exercise): unknown =>
  (kernels[kernel] as (...args: readonly unknown[]) => unknown)(...args);

/** Calls that make an engine compile a kernel for speed rather than at once; of those that take long fewer do. */
const WARMING_CALLS = 24;
const WARMING_MS = 8;

/** Runs every kernel until it is compiled in earnest, so that the first picture does not wait for it. */
export function warmUp(kernels: Kernels, arena: Arena): void {
  let state = 1;
  const random = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
  for (const exercise of exercises(arena, random)) {
    const end = Date.now() + WARMING_MS;
    for (let call = 0; call < WARMING_CALLS && Date.now() < end; call++) exert(kernels, exercise);
  }
}

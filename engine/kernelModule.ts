import { type KernelExports, type Kernels, simdKernels } from '#core/kernels/kernels.ts';
import { warmUp } from '#core/kernels/warmUp.ts';
import type { Arena } from '#core/raster/arena.ts';
import { TileSlab } from '#core/raster/tileSlab.ts';
import { TileTable } from '#core/raster/tileTable.ts';
import { overflowOf } from './overflow.ts';

/** The smallest module that uses SIMD: one function that drops a vector. */
const SIMD_PROBE = Uint8Array.of(
  0,
  97,
  115,
  109,
  1,
  0,
  0,
  0,
  1,
  4,
  1,
  96,
  0,
  0,
  3,
  2,
  1,
  0,
  10,
  9,
  1,
  7,
  0,
  65,
  0,
  253,
  15,
  26,
  11,
);

/** Whether this machine runs the kernels at all. */
export const hasSimd = (): boolean => WebAssembly.validate(SIMD_PROBE);

/** What a thread is given to work with. */
export interface ThreadStart {
  memory: WebAssembly.Memory;
  kernels: WebAssembly.Module;
  /** Which arena is its own. */
  arena: number;
  /** Another thread had it and has died. */
  takesOver?: boolean;
}

export interface ThreadResources {
  table: TileTable;
  kernels: Kernels;
  arena: Arena;
}

/** Joins a thread to the shared memory, with kernels of its own on it.
 * @param warmsUp - Whether all of them are run until they are compiled in earnest: a good part of a second, for who draws while a hand moves. */
export function openResources(
  { memory, kernels: module, arena: index, takesOver }: ThreadStart,
  { warmsUp = false }: { warmsUp?: boolean } = {},
): ThreadResources {
  const slab = new TileSlab(memory);
  const { exports } = new WebAssembly.Instance(module, { env: { memory } });
  const kernelsIn = (arena: Arena) => simdKernels(exports as unknown as KernelExports, arena);
  if (warmsUp) {
    const trial = slab.arena(index);
    warmUp(kernelsIn(trial), trial);
    trial.clear();
  }
  const arena = slab.arena(index);
  const table = new TileTable(slab, overflowOf(slab, index), index);
  if (takesOver) table.recover();
  return { table, kernels: kernelsIn(arena), arena };
}

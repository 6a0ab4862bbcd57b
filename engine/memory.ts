import { createTileTable, tileTableBytes } from '#core/raster/createTileTable.ts';
import { createTileSlab, SLOT_BYTES } from '#core/raster/tileSlab.ts';
import type { TileTable } from '#core/raster/tileTable.ts';

/** Most that one shared memory can hold. */
const MAX_BYTES = 4 * 2 ** 30;
const ENTRIES = 1 << 18;
/** What one thread computes in: planes of strokes in progress, areas, tables, membranes. */
const ARENA_BYTES = 32 * 2 ** 20;

/** Shared memory for pixels, with an empty slab and table in it.
 * @param budgetBytes - Most that pixels may take.
 * @param threads - How many threads will work on it, of every kind.
 * @throws {RangeError} when the system does not grant the address space. */
export function createPixelMemory(
  budgetBytes: number,
  threads: number,
): { memory: WebAssembly.Memory; table: TileTable } {
  const tableBytes = tileTableBytes(ENTRIES, threads);
  const arenas = threads * ARENA_BYTES;
  const memory = new WebAssembly.Memory({ initial: 512, maximum: 65536, shared: true });
  const maxSlots = Math.floor(Math.min(budgetBytes, MAX_BYTES - tableBytes - arenas - 2 ** 20) / SLOT_BYTES);
  const slab = createTileSlab(memory, { tableBytes, arenas: threads, arenaBytes: ARENA_BYTES, maxSlots });
  return { memory, table: createTileTable(slab, ENTRIES) };
}

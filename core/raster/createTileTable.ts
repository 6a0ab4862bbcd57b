import { PLACE_BYTES } from './placeMap.ts';
import { entriesBytes, TileEntries } from './tileEntries.ts';
import type { TileSlab } from './tileSlab.ts';
import { TileTable } from './tileTable.ts';

/** Bytes that a table of `entries` tiles takes in the slab.
 * @param threads - How many work on it, besides the one that laid it out. */
export const tileTableBytes = (entries: number, threads: number): number =>
  entriesBytes(entries, threads + 1) + PLACE_BYTES;

/** Lays out an empty table in the room that the slab keeps for it. Call once, before any thread joins. */
export function createTileTable(slab: TileSlab, entries: number): TileTable {
  TileEntries.layOut(slab, entries);
  return new TileTable(slab);
}

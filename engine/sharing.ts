import type { TileSpot } from '#core/raster/region.ts';
import type { Share } from './protocol.ts';

type Place = (tile: TileSpot) => number;

/** Of what is on screen: neighbours go to different threads, so that a stroke keeps all of them busy. */
export const byTile: Place = ({ tx, ty }) => tx + ty;
/** Of a whole picture: bands of rows, since soft strokes are laid for many tiles at once. */
export const byBand: Place = ({ ty }) => ty >> 4;

/** Of many tiles on screen: as many bands as threads, since masks that look around themselves share what they make. */
export function byPart(tiles: readonly TileSpot[], threads: number): Place {
  const rows = tiles.map(({ ty }) => ty);
  const first = Math.min(...rows);
  const share = (Math.max(...rows) - first + 1) / threads;
  return ({ ty }) => Math.floor((ty - first) / share);
}

/** So many tiles are more than a stroke changes. */
export const MANY = 24;

/** The tiles of a request that fall to a thread. A tile is its own each time, so that it remembers the stroke in progress
 * there; when it is through it takes what the others have not come to, from their end.
 * @param place - Tiles of one number, modulo the threads, belong to one thread.
 * @param isPart - They lie together: neighbours' threads go towards each other, so that what both look at is made when they meet. */
export function* takeTiles<T>(
  tiles: readonly T[],
  { taken, thread, threads }: Share,
  place: (tile: T) => number,
  isPart = false,
): Generator<T> {
  const marks = new Int32Array(taken);
  const order = isPart && thread % 2 === 1 ? [...tiles.keys()].reverse() : [...tiles.keys()];
  for (const index of order)
    if (place(tiles[index]) % threads === thread && Atomics.exchange(marks, index, 1) === 0) yield tiles[index];
  for (const index of isPart ? order : order.reverse()) if (Atomics.exchange(marks, index, 1) === 0) yield tiles[index];
}

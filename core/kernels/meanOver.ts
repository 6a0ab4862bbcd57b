import { TILE } from '../raster/size.ts';
import { address, defineKernel } from './defineKernel.ts';
import { RECORD_WORDS } from './kernelRoom.ts';
import type { SampleMaker } from './sampleMaker.ts';

/** Neighbouring pixels that one of a coarser level lies over at most, where it is less than twice as wide. */
const OVER = 3;

/** Which pixels of an area those of a tile lie over along one way, and how much of it each is. */
export interface Over {
  /** The first of them, for each of the tile's. */
  first: Int32Array;
  /** Shares of it and of the two after it, for each of the tile's; they are 1 together. */
  shares: Float32Array;
}

/** Where a tile's pixels lie over those of an area along one way.
 * @param from - Where the tile begins, in pixels of the area.
 * @param step - Pixels of the area that one of the tile is wide, from 1 to below 2. */
export function overArea(from: number, step: number): Over {
  const first = new Int32Array(TILE);
  const shares = new Float32Array(OVER * TILE);
  for (let i = 0; i < TILE; i++) {
    const [start, end] = [from + i * step, from + (i + 1) * step];
    first[i] = Math.floor(start);
    for (let k = 0; k < OVER; k++) {
      const at = first[i] + k;
      shares[OVER * i + k] = Math.max(0, Math.min(end, at + 1) - Math.max(start, at)) / step;
    }
  }
  return { first, shares };
}

/** A tile of pixels that are wider than those of an area, each the mean of what it lies over, by area; rounded.
 * @param area - Samples of a finer level, `side` in a row.
 * @param out - A tile plane; overwritten. */
export function meanOver(area: Uint16Array, side: number, across: Over, down: Over, out: Uint16Array): void {
  const round = Math.fround;
  const weighed = (shares: Float32Array, i: number, a: number, b: number, c: number) =>
    round(round(round(a * shares[OVER * i]) + round(b * shares[OVER * i + 1])) + round(c * shares[OVER * i + 2]));
  for (let y = 0; y < TILE; y++) {
    const row = down.first[y] * side;
    const mixed = (x: number) => weighed(down.shares, y, area[row + x], area[row + side + x], area[row + 2 * side + x]);
    for (let x = 0; x < TILE; x++) {
      const at = across.first[x];
      out[y * TILE + x] = round(weighed(across.shares, x, mixed(at), mixed(at + 1), mixed(at + 2)) + 0.5);
    }
  }
}

/** Words of one way in a record: the first pixels, then shares. */
const WAY_WORDS = (1 + OVER) * TILE;

const typicalOf =
  (side: number, step: number) =>
  (make: SampleMaker): Parameters<typeof meanOver> => [
    make.samples(side * side),
    side,
    overArea(0.25, step),
    overArea(1.75, step),
    make.samples(),
  ];

export const meanOverKernel = defineKernel(meanOver)({
  compiled: ['meanOver'],
  bind:
    ({ wasm, room }) =>
    (area, side, across, down, out) => {
      const { words, floats } = room.records((2 * WAY_WORDS) / RECORD_WORDS);
      for (const [index, { first, shares }] of [across, down].entries()) {
        words.set(first, index * WAY_WORDS);
        floats.set(shares, index * WAY_WORDS + TILE);
      }
      wasm.meanOver(address(area), side, words.byteOffset, address(out), room.line.byteOffset);
    },
  samples: {
    'a quarter of a level coarser': typicalOf(160, 2 ** 0.25),
    'three quarters of a level coarser': typicalOf(220, 2 ** 0.75),
  },
});

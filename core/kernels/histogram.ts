import { TILE } from '../raster/size.ts';
import { address, addressOf, defineKernel } from './defineKernel.ts';

/** Counts the samples of a tile plane into 256 bins.
 * @param width - Valid columns of the tile.
 * @param height - Valid rows of the tile.
 * @param bins - 256 counters, added to. */
export function countLevels(plane: Uint16Array, width: number, height: number, bins: Uint32Array): void {
  for (let y = 0; y < height; y++) {
    const end = y * TILE + width;
    for (let i = y * TILE; i < end; i++) bins[plane[i] >> 8]++;
  }
}

export const countLevelsKernel = defineKernel(countLevels)({
  compiled: ['countLevels'],
  bind:
    ({ wasm }) =>
    (plane, width, height, bins) =>
      void wasm.countLevels(address(plane), width, height, addressOf(bins)),
  samples: { counting: (make) => [make.samples(), 128, 117, make.counters(256)] },
});

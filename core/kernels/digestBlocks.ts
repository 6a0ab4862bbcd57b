import { TILE } from '../raster/size.ts';
import { address, addressOf, defineKernel } from './defineKernel.ts';

/** Samples each way of the blocks of a tile that are told apart, and how many there are along a side. */
export const BLOCK = 32;
export const BLOCKS = TILE / BLOCK;
/** Words of a block's digest. */
export const DIGEST_WORDS = 4;

/** First words of the fraction of pi, and of the golden ratio's: numbers with nothing up their sleeves. */
const START = 0x243f6a88;
const FACTOR = 0x9e3779b1;

/** Digests of a tile's blocks, row by row: equal blocks have equal ones, and others practically never. Four words take in a block eight samples at a
 * time; each step can be gone back, so that what differs is not lost.
 * @param out - {@link DIGEST_WORDS} for each block; overwritten. */
function digestBlocks(plane: Uint16Array, out: Uint32Array): void {
  for (let block = 0; block < BLOCKS * BLOCKS; block++) {
    const first = Math.floor(block / BLOCKS) * BLOCK * TILE + (block % BLOCKS) * BLOCK;
    let state = [START, START, START, START];
    for (let row = 0; row < BLOCK; row++)
      for (let at = 0; at < BLOCK; at += 8) {
        const from = first + row * TILE + at;
        const taken = state.map((word, lane) => {
          const pair = plane[from + 2 * lane] | (plane[from + 2 * lane + 1] << 16);
          const mixed = Math.imul(word ^ pair, FACTOR);
          return mixed ^ (mixed >>> 15);
        });
        state = [taken[1], taken[2], taken[3], taken[0]];
      }
    out.set(state, block * DIGEST_WORDS);
  }
}

export const digestBlocksKernel = defineKernel(digestBlocks)({
  compiled: ['digestBlocks'],
  bind:
    ({ wasm }) =>
    (plane, out) =>
      void wasm.digestBlocks(address(plane), addressOf(out)),
  samples: {
    'digests of blocks': (make) => [make.samples(), make.counters(BLOCKS * BLOCKS * DIGEST_WORDS)],
  },
});

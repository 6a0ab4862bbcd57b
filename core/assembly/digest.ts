/** Sides of a tile and of the blocks of it that are told apart, in bytes of samples and in rows. */
const TILE_BYTES: usize = 256;
const BLOCK_BYTES: usize = 64;
const BLOCK_ROWS: usize = 32;

/** A state that has taken in four more words of a block. What differs in one word is never lost: each step can be gone back. */
// @ts-ignore: decorator
@inline
function take(state: v128, words: v128): v128 {
  const mixed = i32x4.mul(v128.xor(state, words), i32x4.splat(0x9e3779b1));
  const spread = v128.xor(mixed, i32x4.shr_u(mixed, 15));
  return v128.shuffle<i32>(spread, spread, 1, 2, 3, 0);
}

// @ts-ignore: decorator
@inline
function takeRow(state: v128, row: usize): v128 {
  const half = take(take(state, v128.load(row)), v128.load(row, 16));
  return take(take(half, v128.load(row, 32)), v128.load(row, 48));
}

/** Digests of a tile's blocks, 32 samples each way: four words each, row by row of blocks. Four blocks go side by side, since each waits
 * for its own steps. */
export function digestBlocks(plane: usize, out: usize): void {
  for (let block: usize = 0; block < 4; block++) {
    let a = i32x4.splat(0x243f6a88);
    let b = a;
    let c = a;
    let d = a;
    let row = plane + block * BLOCK_ROWS * TILE_BYTES;
    const end = row + BLOCK_ROWS * TILE_BYTES;
    do {
      a = takeRow(a, row);
      b = takeRow(b, row + BLOCK_BYTES);
      c = takeRow(c, row + 2 * BLOCK_BYTES);
      d = takeRow(d, row + 3 * BLOCK_BYTES);
      row += TILE_BYTES;
    } while (row < end);
    const to = out + block * 64;
    v128.store(to, a);
    v128.store(to, b, 16);
    v128.store(to, c, 32);
    v128.store(to, d, 48);
  }
}

const TILE: usize = 128;
const HALF: usize = 64;

/** Halves a tile plane into one quarter of the coarser tile's plane: the rounded mean of 2 x 2. */
export function halve(fine: usize, out: usize, quarterX: i32, quarterY: i32): void {
  const two = i32x4.splat(2);
  for (let y: usize = 0; y < HALF; y++) {
    let from = fine + 2 * y * TILE * 2;
    let to = out + ((<usize>quarterY * HALF + y) * TILE + <usize>quarterX * HALF) * 2;
    for (let x: usize = 0; x < HALF; x += 8) {
      let lo = i32x4.add(i32x4.extadd_pairwise_i16x8_u(v128.load(from)), i32x4.extadd_pairwise_i16x8_u(v128.load(from, 256)));
      let hi = i32x4.add(
        i32x4.extadd_pairwise_i16x8_u(v128.load(from, 16)),
        i32x4.extadd_pairwise_i16x8_u(v128.load(from, 272)),
      );
      lo = i32x4.shr_u(i32x4.add(lo, two), 2);
      hi = i32x4.shr_u(i32x4.add(hi, two), 2);
      v128.store(to, i16x8.narrow_i32x4_u(lo, hi));
      from += 32;
      to += 16;
    }
  }
}

/** Spreads a block of interleaved 16-bit RGB over three tile planes.
 * @param stride - Bytes from one row of the block to the next. */
export function spread16(block: usize, stride: i32, red: usize, green: usize, blue: usize, width: i32, rows: i32): void {
  for (let y: usize = 0; y < <usize>rows; y++) {
    let from = block + y * <usize>stride;
    const to = y * TILE * 2;
    for (let i: usize = to; i < to + ((<usize>width) << 1); i += 2) {
      store<u16>(red + i, load<u16>(from));
      store<u16>(green + i, load<u16>(from, 2));
      store<u16>(blue + i, load<u16>(from, 4));
      from += 6;
    }
  }
}

/** The same from 8 bits, each value spread to 257 times itself. */
export function spread8(block: usize, stride: i32, red: usize, green: usize, blue: usize, width: i32, rows: i32): void {
  for (let y: usize = 0; y < <usize>rows; y++) {
    let from = block + y * <usize>stride;
    const to = y * TILE * 2;
    for (let i: usize = to; i < to + ((<usize>width) << 1); i += 2) {
      store<u16>(red + i, <u16>load<u8>(from) * 257);
      store<u16>(green + i, <u16>load<u8>(from, 1) * 257);
      store<u16>(blue + i, <u16>load<u8>(from, 2) * 257);
      from += 3;
    }
  }
}

/** Three tile planes as interleaved RGB, row after row. `n` is any number of samples of each plane. */
export function interleave(red: usize, green: usize, blue: usize, out: usize, n: i32): void {
  let to = out;
  for (let i: usize = 0; i < <usize>n << 1; i += 2) {
    store<u16>(to, load<u16>(red + i));
    store<u16>(to, load<u16>(green + i), 2);
    store<u16>(to, load<u16>(blue + i), 4);
    to += 6;
  }
}

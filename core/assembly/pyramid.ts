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

/** Spreads interleaved RGB samples over three planes. */
export function deinterleave(row: usize, red: usize, green: usize, blue: usize, count: i32): void {
  for (let i: usize = 0; i < <usize>count; i++) {
    const from = row + i * 6;
    store<u16>(red + (i << 1), load<u16>(from));
    store<u16>(green + (i << 1), load<u16>(from, 2));
    store<u16>(blue + (i << 1), load<u16>(from, 4));
  }
}

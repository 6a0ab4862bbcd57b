const UP: f32 = 0.5;

/** Mixes three rows of samples by their shares, as floats; four samples at a time. */
// @ts-ignore: decorator
@inline
function mixRows(row: usize, stride: usize, shares: usize, count: usize, line: usize): void {
  const a = v128.load32_splat(shares);
  const b = v128.load32_splat(shares, 4);
  const c = v128.load32_splat(shares, 8);
  const second = row + stride;
  const third = second + stride;
  let i: usize = 0;
  do {
    let mixed = f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(row + i)), a);
    mixed = f32x4.add(mixed, f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(second + i)), b));
    mixed = f32x4.add(mixed, f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(third + i)), c));
    v128.store(line + (i << 1), mixed);
    i += 8;
  } while (i < count);
}

/** A tile of pixels that are wider than those of an area, each the mean of the nine that it lies over at most, by area; rounded.
 * @param ways - For each way, across and then down: 128 numbers of first pixels, three shares for each.
 * @param line - Floats of a row of the area, rounded up to four. */
export function meanOver(area: usize, side: i32, ways: usize, out: usize, line: usize): void {
  const stride = <usize>side << 1;
  const down = ways + 2048;
  for (let y: usize = 0; y < 128; y++) {
    const row = area + <usize>load<i32>(down + (y << 2)) * stride;
    mixRows(row, stride, down + 512 + y * 12, stride, line);
    const to = out + (y << 8);
    let x: usize = 0;
    do {
      const at = line + (<usize>load<i32>(ways + (x << 2)) << 2);
      const share = ways + 512 + x * 12;
      let sum = load<f32>(at) * load<f32>(share);
      sum = sum + load<f32>(at, 4) * load<f32>(share, 4);
      sum = sum + load<f32>(at, 8) * load<f32>(share, 8);
      store<u16>(to + (x << 1), <u16>(sum + UP));
      x++;
    } while (x < 128);
  }
}

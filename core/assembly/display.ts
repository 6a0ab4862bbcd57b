// @ts-ignore: decorator
@inline
function toEightBits(v: v128): v128 {
  // v / 257 rounded is (v + 128) / 257 cut, and t / 257 cut is (t - t / 256) / 256, for all 65,536 values.
  const t = i16x8.add_sat_u(v, i16x8.splat(128));
  return i16x8.shr_u(i16x8.sub(t, i16x8.shr_u(t, 8)), 8);
}

// @ts-ignore: decorator
@inline
function storeRgba(out: usize, r: v128, g: v128, b: v128): void {
  const rg = v128.or(r, i16x8.shl(g, 8));
  const ba = v128.or(b, i16x8.splat(<i16>0xff00));
  v128.store(out, v128.shuffle<i16>(rg, ba, 0, 8, 1, 9, 2, 10, 3, 11));
  v128.store(out, v128.shuffle<i16>(rg, ba, 4, 12, 5, 13, 6, 14, 7, 15), 16);
}

/** Three 16-bit planes as 8-bit RGBA. */
export function drawRgba(red: usize, green: usize, blue: usize, out: usize, n: i32): void {
  let i: usize = 0;
  do {
    storeRgba(out + (i << 1), toEightBits(v128.load(red + i)), toEightBits(v128.load(green + i)), toEightBits(v128.load(blue + i)));
    i += 16;
  } while (i < <usize>n << 1);
}

/** One 16-bit plane as 8-bit grey RGBA. */
export function drawGrey(plane: usize, out: usize, n: i32): void {
  let i: usize = 0;
  do {
    const v = toEightBits(v128.load(plane + i));
    storeRgba(out + (i << 1), v, v, v);
    i += 16;
  } while (i < <usize>n << 1);
}

/** Pulls 8-bit RGBA towards a colour by coverage. `mask` 0: the weight `constant` (0..65535) throughout. */
export function tint(rgba: usize, mask: usize, constant: f32, red: f32, green: f32, blue: f32, strength: f32, n: i32): void {
  const colour = f32x4(red, green, blue, 255);
  const half = f32x4.splat(0.5);
  const scale = strength / 65535.0;
  let i: usize = 0;
  do {
    const m = mask != 0 ? <f32>load<u16>(mask + (i << 1)) : constant;
    const at = rgba + (i << 2);
    const wide = i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(at)));
    const now = f32x4.convert_i32x4_s(wide);
    const mixed = f32x4.add(f32x4.add(now, f32x4.mul(f32x4.sub(colour, now), f32x4.splat(m * scale))), half);
    const words = i32x4.trunc_sat_f32x4_s(mixed);
    const bytes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_s(words, words), words);
    store<u32>(at, i32x4.extract_lane(bytes, 0));
    i++;
  } while (i < <usize>n);
}

/** Adds the samples of a part of a tile to 256 counters of 32 bits. */
export function countLevels(plane: usize, width: i32, height: i32, bins: usize): void {
  for (let y: i32 = 0; y < height; y++) {
    const row = plane + (<usize>y << 8);
    for (let x: usize = 0; x < <usize>width; x++) {
      const bin = bins + (<usize>(load<u16>(row + (x << 1)) >> 8) << 2);
      store<u32>(bin, load<u32>(bin) + 1);
    }
  }
}

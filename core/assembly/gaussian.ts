/** Two samples of the same weight, one to each side, added to a sum. */
// @ts-ignore: decorator
@inline
function withBoth(sum: v128, weight: v128, before: usize, after: usize): v128 {
  return f32x4.add(sum, f32x4.mul(weight, f32x4.add(v128.load(before), v128.load(after))));
}

/** A line of sums of samples to both sides by weights: twelve at a time, which do not wait for each other, then four.
 * @param apart - Bytes from a sample to the next that is summed.
 * @param unit - Sums are multiplied by it. */
// @ts-ignore: decorator
@inline
function weighedLine(taps: usize, reach: i32, from: usize, apart: usize, to: usize, width: i32, unit: f32): void {
  const units = f32x4.splat(unit);
  const middle = v128.load32_splat(taps);
  const end = taps + (<usize>reach << 2);
  let left = width;
  for (; left >= 12; left -= 12) {
    let a = f32x4.mul(v128.load(from), middle);
    let b = f32x4.mul(v128.load(from, 16), middle);
    let c = f32x4.mul(v128.load(from, 32), middle);
    let tap = taps;
    let before = from;
    let after = from;
    do {
      tap += 4;
      before -= apart;
      after += apart;
      const weight = v128.load32_splat(tap);
      a = withBoth(a, weight, before, after);
      b = withBoth(b, weight, before + 16, after + 16);
      c = withBoth(c, weight, before + 32, after + 32);
    } while (tap < end);
    v128.store(to, f32x4.mul(a, units));
    v128.store(to, f32x4.mul(b, units), 16);
    v128.store(to, f32x4.mul(c, units), 32);
    from += 48;
    to += 48;
  }
  for (; left > 0; left -= 4) {
    let sum = f32x4.mul(v128.load(from), middle);
    let tap = taps;
    let before = from;
    let after = from;
    do {
      tap += 4;
      before -= apart;
      after += apart;
      sum = withBoth(sum, v128.load32_splat(tap), before, after);
    } while (tap < end);
    v128.store(to, f32x4.mul(sum, units));
    from += 16;
    to += 16;
  }
}

/** A part of a plane summed by weights, along rows and then along columns.
 * @param taps - The weight of the sample itself and those of the `reach` samples to each side, at least one.
 * @param stride - Samples of a row of the plane.
 * @param plane - Where the part begins in it.
 * @param width - A multiple of 4.
 * @param unit - What comes out is multiplied by it.
 * @param spare - Room for as many rows as are looked at. */
export function weighAround(
  taps: usize, reach: i32, plane: usize, stride: i32, width: i32, height: i32, unit: f32, spare: usize, out: usize,
): void {
  const bytes = <usize>stride << 2;
  const line = <usize>width << 2;
  let from = plane - <usize>reach * bytes;
  let to = spare;
  const until = spare + <usize>(height + 2 * reach) * line;
  do {
    weighedLine(taps, reach, from, 4, to, width, 1);
    from += bytes;
    to += line;
  } while (to < until);
  from = spare + <usize>reach * line;
  to = out;
  const end = out + <usize>height * line;
  do {
    weighedLine(taps, reach, from, line, to, width, unit);
    from += line;
    to += line;
  } while (to < end);
}

import { tabledCodes } from './gather';

/** Encoded 16-bit samples to linear floats, through a table of 65,536 floats. */
export function linearize(table: usize, samples: usize, out: usize, n: i32): void {
  let i: usize = 0;
  do {
    v128.store(out + (i << 2), tabledCodes(table, load<u64>(samples + (i << 1))));
    i += 4;
  } while (i < <usize>n);
}

/** Linear floats to encoded 16-bit samples, cut at both ends. Below 2^-13 the curve is a line from the first knot; above,
 * knots lie at every 256th part of an octave, so that a float's upper bits are the number of its knot.
 * @param knots - 13 octaves of 256 encoded values 0..65535, and the last. */
export function encodeLinear(knots: usize, values: usize, out: usize, n: i32): void {
  const smallest: f32 = 1.0 / 8192.0;
  const first = reinterpret<u32>(smallest);
  const foot = load<f32>(knots) / smallest;
  for (let i: usize = 0; i < <usize>n; i++) {
    const value = load<f32>(values + (i << 2));
    let code: f32;
    if (!(value > smallest)) code = max<f32>(0, value) * foot;
    else if (value >= 1) code = 65535;
    else {
      const bits = reinterpret<u32>(value) - first;
      const knot = knots + (<usize>(bits >> 15) << 2);
      const here = load<f32>(knot);
      code = here + (load<f32>(knot, 4) - here) * (<f32>(bits & 0x7fff) * <f32>(1.0 / 32768.0));
    }
    store<u16>(out + (i << 1), <u16>(code + 0.5));
  }
}

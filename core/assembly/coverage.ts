/** 16-bit samples to floats 0..1. */
export function widen(samples: usize, out: usize, n: i32): void {
  const unit = f32x4.splat(1.0 / 65535.0);
  for (let i: usize = 0; i < <usize>n; i += 8) {
    const v = v128.load(samples + (i << 1));
    v128.store(out + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_low_i16x8_u(v)), unit));
    v128.store(out + (i << 2), f32x4.mul(f32x4.convert_i32x4_s(i32x4.extend_high_i16x8_u(v)), unit), 16);
  }
}

/** Floats to 16-bit samples, rounded and cut. Answers the one value that all have, or -1. */
export function narrow(values: usize, out: usize, n: i32): i32 {
  const scale = f32x4.splat(65535.0);
  const half = f32x4.splat(0.5);
  for (let i: usize = 0; i < <usize>n; i += 8) {
    const lo = f32x4.add(f32x4.mul(v128.load(values + (i << 2)), scale), half);
    const hi = f32x4.add(f32x4.mul(v128.load(values + (i << 2), 16), scale), half);
    v128.store(out + (i << 1), i16x8.narrow_i32x4_u(i32x4.trunc_sat_f32x4_s(lo), i32x4.trunc_sat_f32x4_s(hi)));
  }
  return uniform(out, n);
}

/** The one value that all samples have, or -1. */
export function uniform(samples: usize, n: i32): i32 {
  const first = load<u16>(samples);
  const all = i16x8.splat(first);
  for (let i: usize = 0; i < <usize>n << 1; i += 16) {
    if (v128.any_true(v128.xor(v128.load(samples + i), all))) return -1;
  }
  return first;
}

export function invert(plane: usize, n: i32): void {
  const one = f32x4.splat(1);
  for (let i: usize = 0; i < <usize>n << 2; i += 16) v128.store(plane + i, f32x4.sub(one, v128.load(plane + i)));
}

/** Joins a part to the mask so far: 0 add, 1 subtract, 2 intersect, 3 exclude. */
export function join(mode: i32, mask: usize, part: usize, hold: usize, n: i32): void {
  const one = f32x4.splat(1);
  const end = <usize>n << 2;
  if (mode == 0) {
    for (let i: usize = 0; i < end; i += 16) {
      const rest = f32x4.sub(one, v128.load(hold + i));
      v128.store(mask + i, f32x4.add(v128.load(part + i), f32x4.mul(v128.load(mask + i), rest)));
    }
  } else if (mode == 1) {
    for (let i: usize = 0; i < end; i += 16) {
      v128.store(mask + i, f32x4.mul(v128.load(mask + i), f32x4.sub(one, v128.load(part + i))));
    }
  } else if (mode == 2) {
    for (let i: usize = 0; i < end; i += 16) v128.store(mask + i, f32x4.mul(v128.load(mask + i), v128.load(part + i)));
  } else {
    for (let i: usize = 0; i < end; i += 16) {
      const m = v128.load(mask + i);
      const p = v128.load(part + i);
      const both = f32x4.mul(m, p);
      v128.store(mask + i, f32x4.sub(f32x4.add(m, p), f32x4.add(both, both)));
    }
  }
}

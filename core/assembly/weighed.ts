/** Three values by weights: a row of a matrix. */
// @ts-ignore: decorator
@inline
export function weighed(r: v128, g: v128, b: v128, wr: f32, wg: f32, wb: f32): v128 {
  const first = f32x4.add(f32x4.mul(r, f32x4.splat(wr)), f32x4.mul(g, f32x4.splat(wg)));
  return f32x4.add(first, f32x4.mul(b, f32x4.splat(wb)));
}

/** One step of Horner's scheme. */
// @ts-ignore: decorator
@inline
export function horner(series: v128, e: v128, next: f32): v128 {
  return f32x4.add(f32x4.splat(next), f32x4.mul(e, series));
}

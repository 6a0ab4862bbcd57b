/** WebAssembly gathers nothing: values are loaded one by one, straight into their lanes. */

/** Four values of a table, by the places of their knots in bytes. */
// @ts-ignore: decorator
@inline
export function gathered(table: usize, places: v128): v128 {
  let v = v128.load32_zero(table + <usize>i32x4.extract_lane(places, 0));
  v = v128.load32_lane(table + <usize>i32x4.extract_lane(places, 1), v, 1);
  v = v128.load32_lane(table + <usize>i32x4.extract_lane(places, 2), v, 2);
  return v128.load32_lane(table + <usize>i32x4.extract_lane(places, 3), v, 3);
}

/** Between four knots and those after them. */
// @ts-ignore: decorator
@inline
export function onLines(table: usize, places: v128, shares: v128): v128 {
  const here = gathered(table, places);
  return f32x4.add(here, f32x4.mul(f32x4.sub(gathered(table + 4, places), here), shares));
}


/** Weighted sum of three 16-bit planes, rounded to 16 bits.
 * @param weights - Of red, green and blue; they add up to 1. */
export function luminance(
  red: Uint16Array,
  green: Uint16Array,
  blue: Uint16Array,
  weights: readonly [number, number, number],
  out: Uint16Array,
): void {
  const [wr, wg, wb] = weights;
  for (let i = 0; i < out.length; i++) out[i] = Math.min(65535, red[i] * wr + green[i] * wg + blue[i] * wb + 0.5);
}

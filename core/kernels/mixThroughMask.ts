/** Blends `upper` over `lower` through a mask, one channel: source-over, W3C Compositing and Blending Level 1, section 9.1.4.
 * @param lower - n samples, overwritten with the result; values above 1 are kept.
 * @param upper - n samples, 16 bits.
 * @param mask - Weight of `upper`, n samples, 16 bits; or one value 0..65535 for all.
 * @param opacity - Factor on the mask, 0..1. */
export function mixThroughMask(
  lower: Float32Array,
  upper: Uint16Array,
  mask: Uint16Array | number,
  opacity: number,
): void {
  if (upper.length !== lower.length) throw new RangeError('The planes differ in length');
  const scale = opacity / 65535;
  if (typeof mask === 'number') {
    const weight = mask * scale;
    for (let i = 0; i < lower.length; i++) lower[i] += (upper[i] * (1 / 65535) - lower[i]) * weight;
    return;
  }
  if (mask.length !== lower.length) throw new RangeError('The mask does not fit the planes');
  for (let i = 0; i < lower.length; i++) lower[i] += (upper[i] * (1 / 65535) - lower[i]) * (mask[i] * scale);
}

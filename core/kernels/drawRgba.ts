/** 16 bits to 8: v / 257 rounded, for all 65,536 values. */
const toEightBits = (value: number): number => ((value + 128) / 257) | 0;

/** Three 16-bit planes as 8-bit RGBA. */
export function drawRgba(red: Uint16Array, green: Uint16Array, blue: Uint16Array, rgba: Uint8ClampedArray): void {
  for (let i = 0, at = 0; i < red.length; i++, at += 4) {
    rgba[at] = toEightBits(red[i]);
    rgba[at + 1] = toEightBits(green[i]);
    rgba[at + 2] = toEightBits(blue[i]);
    rgba[at + 3] = 255;
  }
}

/** One 16-bit plane as 8-bit grey RGBA. */
export function drawGrey(plane: Uint16Array, rgba: Uint8ClampedArray): void {
  drawRgba(plane, plane, plane, rgba);
}

/** Pulls 8-bit RGBA towards a colour by coverage.
 * @param mask - Coverage, 16 bits; or one value 0..65535 for all.
 * @param colour - 8-bit red, green, blue.
 * @param strength - Factor on the coverage, 0..1. */
export function tint(
  rgba: Uint8ClampedArray,
  mask: Uint16Array | number,
  colour: readonly [number, number, number],
  strength: number,
): void {
  for (let i = 0, at = 0; at < rgba.length; i++, at += 4) {
    const weight = ((typeof mask === 'number' ? mask : mask[i]) / 65535) * strength;
    for (let channel = 0; channel < 3; channel++) rgba[at + channel] += (colour[channel] - rgba[at + channel]) * weight;
  }
}

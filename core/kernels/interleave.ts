/** Three planes as interleaved RGB.
 * @param out - Three times as many samples as a plane. */
export function interleave(red: Uint16Array, green: Uint16Array, blue: Uint16Array, out: Uint16Array): void {
  for (let i = 0, to = 0; i < red.length; i++) {
    out[to++] = red[i];
    out[to++] = green[i];
    out[to++] = blue[i];
  }
}

/** Light of an encoded float, 0..65535 and beyond: on lines between the values of a table, beyond them by the curve of sRGB (IEC
 * 61966-2-1), which goes on below black as the line that it is there.
 * @param table - Light of all 65,536 encoded values: the curve bends by less than a thousandth of a step from one to the next. */
export function decodeSrgbFloat(table: Float32Array, code: number): number {
  if (code < 0) return code / 65535 / 12.92;
  if (!(code < 65535)) return ((code / 65535 + 0.055) / 1.055) ** 2.4;
  const step = Math.floor(code);
  return table[step] + (table[step + 1] - table[step]) * (code - step);
}

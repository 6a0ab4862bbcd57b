/** Maps 16-bit samples through a table of 65,536 16-bit values. */
export function lookUp(table: Uint16Array, samples: Uint16Array, out: Uint16Array): void {
  if (table.length !== 65536) throw new RangeError('A look-up table has 65,536 values');
  for (let i = 0; i < samples.length; i++) out[i] = table[samples[i]];
}

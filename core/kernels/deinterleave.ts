/** Spreads interleaved RGB samples over three planes. */
export function deinterleave(row: Uint16Array, red: Uint16Array, green: Uint16Array, blue: Uint16Array): void {
  for (let i = 0, from = 0; from < row.length; i++) {
    red[i] = row[from++];
    green[i] = row[from++];
    blue[i] = row[from++];
  }
}

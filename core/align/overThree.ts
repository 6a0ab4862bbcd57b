/** What each sample and its neighbours come to, across and then down; beyond the edge the edge itself counts.
 * @param join - Of the one before, the sample, and the one after. */
export function overThree(
  plane: Float32Array,
  width: number,
  height: number,
  join: (before: number, own: number, after: number) => number,
): Float32Array {
  const across = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      across[i] = join(plane[x > 0 ? i - 1 : i], plane[i], plane[x < width - 1 ? i + 1 : i]);
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      out[i] = join(across[y > 0 ? i - width : i], across[i], across[y < height - 1 ? i + width : i]);
    }
  return out;
}

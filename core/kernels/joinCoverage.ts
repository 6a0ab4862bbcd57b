/** How a part meets the mask before it; names and meaning of `mask-composite`, CSS Masking Module Level 1, section 7.8. */
export type Join = 'add' | 'subtract' | 'intersect' | 'exclude';

/** Joins a part to the mask so far, in place.
 * @param mask - Coverage so far, 0..1; overwritten.
 * @param part - Coverage of the part, 0..1.
 * @param alpha - For `add` only: how much of the place the part decides, at least `part`. Without it the part itself,
 * which is plain source-over. A painted part that hides holds a place without covering it. */
export function joinCoverage(join: Join, mask: Float32Array, part: Float32Array, alpha: Float32Array = part): void {
  const n = mask.length;
  switch (join) {
    case 'add':
      for (let i = 0; i < n; i++) mask[i] = part[i] + mask[i] * (1 - alpha[i]);
      return;
    case 'subtract':
      // The mask outside the part: CSS puts the new layer as source, ours is the mask it is taken from.
      for (let i = 0; i < n; i++) mask[i] *= 1 - part[i];
      return;
    case 'intersect':
      for (let i = 0; i < n; i++) mask[i] *= part[i];
      return;
    case 'exclude':
      for (let i = 0; i < n; i++) mask[i] += part[i] - 2 * mask[i] * part[i];
      return;
  }
}

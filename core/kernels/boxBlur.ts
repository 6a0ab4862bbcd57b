/** Radii of three box passes whose sum comes closest to a Gaussian (Wells 1986, "Efficient synthesis of
 * Gaussian filters by cascaded uniform filters", IEEE PAMI 8(2), eq. 6).
 * @param sigmaPx - Standard deviation in pixels. */
export function boxRadii(sigmaPx: number): [number, number, number] {
  const ideal = Math.sqrt(4 * sigmaPx * sigmaPx + 1);
  const lower = Math.max(1, 2 * Math.floor((ideal - 1) / 2) + 1);
  const lowerPasses = Math.round((12 * sigmaPx * sigmaPx - 3 * lower * lower - 12 * lower - 9) / (-4 * lower - 4));
  const radius = (pass: number) => (pass < lowerPasses ? (lower - 1) / 2 : (lower + 1) / 2);
  return [radius(0), radius(1), radius(2)];
}

/** One box pass along lines of a plane, repeating the end samples outwards.
 * @param step - Samples from one to the next along a line; `lineStep` from one line to the next.
 * @param out - Another plane of the same shape; overwritten in full. */
export function boxPass(
  plane: Float32Array, out: Float32Array,
  lines: number, length: number, lineStep: number, step: number, radius: number,
): void {
  const weight = 1 / (2 * radius + 1);
  for (let line = 0; line < lines; line++) {
    const at = line * lineStep;
    const first = plane[at];
    const last = plane[at + (length - 1) * step];
    let sum = first * (radius + 1);
    for (let i = 0; i < radius; i++) sum += plane[at + Math.min(i, length - 1) * step];
    for (let i = 0; i < length; i++) {
      sum += i + radius < length ? plane[at + (i + radius) * step] : last;
      out[at + i * step] = sum * weight;
      sum -= i - radius >= 0 ? plane[at + (i - radius) * step] : first;
    }
  }
}

/** Blurs a plane with three box passes each way, a close stand-in for a Gaussian.
 * @param plane - `width` x `height` samples; overwritten with the result.
 * @param spare - Scratch of the same length. */
export function blurPlane(plane: Float32Array, spare: Float32Array, width: number, height: number, sigmaPx: number): void {
  for (const radius of boxRadii(sigmaPx)) {
    if (radius === 0) continue;
    boxPass(plane, spare, height, width, width, 1, radius);
    boxPass(spare, plane, width, height, 1, width, radius);
  }
}

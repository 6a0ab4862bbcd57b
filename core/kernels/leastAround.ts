/** The least of a square around every sample, cut off at the plane's edges, in place.
 * @param spare - Scratch of the same length.
 * @param radius - Samples each way. */
export function leastAround<Plane extends Float32Array | Uint8Array>(
  plane: Plane,
  spare: Plane,
  width: number,
  height: number,
  radius: number,
): void {
  leastAlong(plane, spare, { lines: height, length: width, line: width, step: 1 }, radius);
  leastAlong(spare, plane, { lines: width, length: height, line: 1, step: width }, radius);
}

function leastAlong(
  from: Float32Array | Uint8Array,
  to: Float32Array | Uint8Array,
  { lines, length, line, step }: { lines: number; length: number; line: number; step: number },
  radius: number,
): void {
  for (let row = 0; row < lines; row++)
    for (let i = 0; i < length; i++) {
      let least = Number.POSITIVE_INFINITY;
      const last = Math.min(length - 1, i + radius);
      for (let k = Math.max(0, i - radius); k <= last; k++) least = Math.min(least, from[row * line + k * step]);
      to[row * line + i * step] = least;
    }
}

/** Mean of a plane over squares around each of its samples; at the border over what there is of them.
 * @param radius - Samples to each side.
 * @returns A new plane of the same size. */
export function boxMean(plane: Float32Array, stride: number, radius: number): Float32Array {
  const rows = plane.length / stride;
  const across = new Float32Array(plane.length);
  const out = new Float32Array(plane.length);
  for (let y = 0; y < rows; y++) slide(plane, across, y * stride, 1, stride, radius);
  for (let x = 0; x < stride; x++) slide(across, out, x, stride, rows, radius);
  return out;
}

/** Mean of a plane along lines through each of its samples.
 * @param way - Columns and rows from one sample of a line to the next.
 * @param radius - Samples to each side.
 * @returns A new plane of the same size. */
export function meanAlong(
  plane: Float32Array,
  stride: number,
  [dx, dy]: readonly [number, number],
  radius: number,
): Float32Array {
  const rows = plane.length / stride;
  const out = new Float32Array(plane.length);
  const step = dy * stride + dx;
  const line = (x: number, y: number) => {
    const across = dx === 0 ? rows : dx > 0 ? stride - x : x + 1;
    const count = dy === 0 ? across : Math.min(across, dy > 0 ? rows - y : y + 1);
    slide(plane, out, y * stride + x, step, count, radius);
  };
  if (dy !== 0) for (let x = 0; x < stride; x++) line(x, dy > 0 ? 0 : rows - 1);
  if (dx !== 0) for (let y = dy > 0 ? 1 : 0; y < rows - (dy < 0 ? 1 : 0); y++) line(dx > 0 ? 0 : stride - 1, y);
  return out;
}

function slide(from: Float32Array, to: Float32Array, at: number, step: number, count: number, radius: number): void {
  let [sum, inside] = [0, 0];
  for (let i = 0; i < Math.min(radius, count); i++, inside++) sum += from[at + i * step];
  for (let i = 0; i < count; i++) {
    if (i + radius < count) {
      sum += from[at + (i + radius) * step];
      inside++;
    }
    if (i - radius - 1 >= 0) {
      sum -= from[at + (i - radius - 1) * step];
      inside--;
    }
    to[at + i * step] = sum / inside;
  }
}

/** Contrast of a plane at a distance: by how much samples differ from what lies that far beside them, in the mean around each. */
export function contrastAt(plane: Float32Array, stride: number, distance: number): Float32Array {
  const differences = new Float32Array(plane.length);
  const rows = plane.length / stride;
  for (let y = distance; y < rows - distance; y++)
    for (let x = distance; x < stride - distance; x++) {
      const at = y * stride + x;
      const twice = 2 * plane[at];
      differences[at] =
        (Math.abs(plane[at - distance] + plane[at + distance] - twice) +
          Math.abs(plane[at - distance * stride] + plane[at + distance * stride] - twice)) /
        4;
    }
  return boxMean(differences, stride, distance);
}

/** Largest that an entry of a placement may be: a shift by more leaves every picture behind. */
const LARGEST = 1e6;
/** How many sizes of the picture its corners may be moved by. */
const MOST_SIZES = 10;

/** Whether a matrix places a picture where it can be seen: finite, invertible, the corners in front and within some sizes of it.
 * @param matrix - Frame pixel to scene pixel, row by row. */
export function isPlaceable(matrix: readonly number[], { width, height }: { width: number; height: number }): boolean {
  if (matrix.some((entry) => !Number.isFinite(entry) || Math.abs(entry) > LARGEST)) return false;
  const [a, b, c, d, e, f, g, h, i] = matrix;
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (!(Math.abs(determinant) > 1e-6)) return false;
  const corners = [
    [0, 0],
    [width, 0],
    [width, height],
    [0, height],
  ];
  const far = MOST_SIZES * Math.max(width, height);
  return corners.every(([x, y]) => {
    const depth = g * x + h * y + i;
    return depth > 1e-3 && Math.abs((a * x + b * y + c) / depth) < far && Math.abs((d * x + e * y + f) / depth) < far;
  });
}

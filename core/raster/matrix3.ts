/** Nine numbers, row by row. */
export type Matrix3 = readonly number[];

export const IDENTITY3: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

/** Inverse of a 3 x 3 matrix.
 * @throws {RangeError} when it has none. */
export function invert3(m: Matrix3): Matrix3 {
  const [a, b, c, d, e, f, g, h, i] = m;
  const cofactors = [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
  const determinant = a * cofactors[0] + b * cofactors[3] + c * cofactors[6];
  if (determinant === 0) throw new RangeError('The matrix has no inverse');
  return cofactors.map((cofactor) => cofactor / determinant);
}

/** The product of two matrices. */
export function multiply3(a: Matrix3, b: Matrix3): Matrix3 {
  return a.map((_, index) => {
    const [row, column] = [3 * Math.floor(index / 3), index % 3];
    return a[row] * b[column] + a[row + 1] * b[column + 3] + a[row + 2] * b[column + 6];
  });
}

/** A matrix times a column. */
export function times3(m: Matrix3, [x, y, z]: readonly number[]): [number, number, number] {
  return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

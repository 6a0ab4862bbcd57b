/** The solution of symmetric positive definite equations, by Cholesky's decomposition; undefined when they are not definite.
 * @param a - n x n numbers, row by row; overwritten.
 * @param b - n numbers. */
export function solveSymmetric(a: Float64Array, b: Float64Array): Float64Array | undefined {
  const n = b.length;
  if (!decompose(a, n)) return undefined;
  return substitute(a, b);
}

/** The inverse of a symmetric positive definite matrix; undefined when it is not definite. `a` is overwritten. */
export function invertSymmetric(a: Float64Array, n: number): Float64Array | undefined {
  if (!decompose(a, n)) return undefined;
  const out = new Float64Array(n * n);
  for (let column = 0; column < n; column++) {
    const unit = new Float64Array(n);
    unit[column] = 1;
    const x = substitute(a, unit);
    for (let row = 0; row < n; row++) out[row * n + column] = x[row];
  }
  return out;
}

function decompose(a: Float64Array, n: number): boolean {
  for (let j = 0; j < n; j++) {
    let diagonal = a[j * n + j];
    for (let k = 0; k < j; k++) diagonal -= a[j * n + k] ** 2;
    // Against what it was, so that it holds for equations of any scale.
    if (!(diagonal > 1e-12 * a[j * n + j])) return false;
    const root = Math.sqrt(diagonal);
    a[j * n + j] = root;
    for (let i = j + 1; i < n; i++) {
      let sum = a[i * n + j];
      for (let k = 0; k < j; k++) sum -= a[i * n + k] * a[j * n + k];
      a[i * n + j] = sum / root;
    }
  }
  return true;
}

function substitute(l: Float64Array, b: Float64Array): Float64Array {
  const n = b.length;
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i] -= l[i * n + k] * x[k];
    x[i] /= l[i * n + i];
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i] -= l[k * n + i] * x[k];
    x[i] /= l[i * n + i];
  }
  return x;
}

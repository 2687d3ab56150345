/** Normal equations by Cholesky's decomposition, and the variances of the solution. */

/** The lower factor of a symmetric matrix, row-major; undefined where it is not positive definite. */
export function cholesky(matrix: Float64Array, n: number): Float64Array | undefined {
  const l = new Float64Array(n * n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= l[i * n + k]! * l[j * n + k]!;
      if (i === j) {
        if (!(sum > 1e-9 * matrix[i * n + i]!)) return undefined;
        l[i * n + i] = Math.sqrt(sum);
      } else l[i * n + j] = sum / l[j * n + j]!;
    }
  return l;
}

/** Solves L·Lᵀ·x = b. */
export function solve(l: Float64Array, n: number, b: Float64Array): Float64Array {
  const x = Float64Array.from(b);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) x[i]! -= l[i * n + k]! * x[k]!;
    x[i]! /= l[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) x[i]! -= l[k * n + i]! * x[k]!;
    x[i]! /= l[i * n + i]!;
  }
  return x;
}

/** Diagonal of (L·Lᵀ)⁻¹. */
export function inverseDiagonal(l: Float64Array, n: number): Float64Array {
  const diagonal = new Float64Array(n);
  const unit = new Float64Array(n);
  for (let j = 0; j < n; j++) {
    unit.fill(0);
    unit[j] = 1;
    diagonal[j] = solve(l, n, unit)[j]!;
  }
  return diagonal;
}

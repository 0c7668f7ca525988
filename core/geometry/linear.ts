/**
 * Solves a small symmetric positive definite system by Cholesky's method. `a`: n x n row by row, spoiled; `b`: n
 * numbers, replaced by the solution. False where the matrix is not positive definite; then `b` means nothing.
 */
export function solveSymmetric(a: Float64Array, b: Float64Array, n: number): boolean {
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = a[i * n + j]!
      for (let k = 0; k < j; k++) sum -= a[i * n + k]! * a[j * n + k]!
      if (i > j) a[i * n + j] = sum / a[j * n + j]!
      else if (sum > 1e-12) a[i * n + i] = Math.sqrt(sum)
      else return false
    }
  }
  for (let i = 0; i < n; i++) {
    let sum = b[i]!
    for (let k = 0; k < i; k++) sum -= a[i * n + k]! * b[k]!
    b[i] = sum / a[i * n + i]!
  }
  for (let i = n - 1; i >= 0; i--) {
    let sum = b[i]!
    for (let k = i + 1; k < n; k++) sum -= a[k * n + i]! * b[k]!
    b[i] = sum / a[i * n + i]!
  }
  return true
}

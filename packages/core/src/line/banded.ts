/**
 * A symmetric periodic band matrix by its diagonals: `band[k][i]` couples unknown i with unknown i + k, indices modulo
 * n; `band[0]` is the main diagonal, `band.length − 1` the half width p. Needs n > 2p.
 */
export type PeriodicBand = Float64Array[]

/** An empty matrix of n unknowns and half width p. */
export const emptyBand = (n: number, halfWidth: number): PeriodicBand => Array.from({ length: halfWidth + 1 }, () => new Float64Array(n))

/**
 * Factors a symmetric positive definite periodic band matrix and returns a solver that works in place of a right side;
 * null when the matrix is not positive definite. The last p unknowns are bordered off; the rest is factored as LDLᵀ in
 * one sweep, so time is n·p² and memory n·p.
 * Source: Golub & Van Loan, Matrix Computations, sections 4.3 (band LDLᵀ) and 3.2 (Schur complement).
 */
export const factorBand = (band: PeriodicBand): ((rightInPlace: Float64Array) => void) | null => {
  const p = band.length - 1
  const n = band[0].length
  const inner = n - p
  const diagonal = new Float64Array(inner)
  // lower[k][i]: element (i + k, i) of L.
  const lower = emptyBand(inner, p)
  for (let i = 0; i < inner; i++) {
    let d = band[0][i]
    for (let k = 1; k <= p && k <= i; k++) d -= lower[k][i - k] ** 2 * diagonal[i - k]
    if (!(d > 0)) return null
    diagonal[i] = d
    for (let k = 1; k <= p && i + k < inner; k++) {
      let e = band[k][i]
      for (let m = 1; m + k <= p && m <= i; m++) e -= lower[m][i - m] * lower[m + k][i - m] * diagonal[i - m]
      lower[k][i] = e / d
    }
  }
  const solveInner = (b: Float64Array): void => {
    for (let i = 0; i < inner; i++) {
      const value = b[i]
      if (value !== 0) for (let k = 1; k <= p && i + k < inner; k++) b[i + k] -= lower[k][i] * value
    }
    for (let i = inner - 1; i >= 0; i--) {
      let value = b[i] / diagonal[i]
      for (let k = 1; k <= p && i + k < inner; k++) value -= lower[k][i] * b[i + k]
      b[i] = value
    }
  }
  const border = borderColumns(band, inner)
  const solved = border.map((column) => Float64Array.from(column))
  for (const column of solved) solveInner(column)
  const schur = border.map((_, r) =>
    Float64Array.from({ length: p }, (_, c) => {
      const [low, high] = r < c ? [r, c] : [c, r]
      return (high - low <= p ? band[high - low][inner + low] : 0) - sparseDot(border[r], solved[c], p)
    }),
  )
  const cholesky = factorDense(schur)
  if (!cholesky) return null
  return (right) => {
    const tail = Float64Array.from({ length: p }, (_, r) => right[inner + r] - sparseDot(solved[r], right, inner))
    solveDense(cholesky, tail)
    solveInner(right)
    for (let i = 0; i < inner; i++) for (let r = 0; r < p; r++) right[i] -= solved[r][i] * tail[r]
    for (let r = 0; r < p; r++) right[inner + r] = tail[r]
  }
}

/** Couplings of the inner unknowns with each of the last p; only the first and last p rows are filled. */
const borderColumns = (band: PeriodicBand, inner: number): Float64Array[] => {
  const p = band.length - 1
  const n = inner + p
  const border = Array.from({ length: p }, () => new Float64Array(inner))
  for (let r = 0; r < p; r++)
    for (let k = 1; k <= p; k++) {
      const before = inner + r - k
      if (before < inner) border[r][before] += band[k][before]
      const after = inner + r + k - n
      if (after >= 0) border[r][after] += band[k][inner + r]
    }
  return border
}

/** Dot product of which, for a border column, only the first and last `edge` entries count. */
const sparseDot = (a: Float64Array, b: Float64Array, edge: number): number => {
  const n = a.length
  let sum = 0
  if (2 * edge >= n) {
    for (let i = 0; i < n; i++) sum += a[i] * b[i]
    return sum
  }
  for (let i = 0; i < edge; i++) sum += a[i] * b[i]
  for (let i = n - edge; i < n; i++) sum += a[i] * b[i]
  return sum
}

const factorDense = (a: Float64Array[]): Float64Array[] | null => {
  const n = a.length
  for (let j = 0; j < n; j++) {
    for (let k = 0; k < j; k++) a[j][j] -= a[j][k] ** 2
    if (!(a[j][j] > 0)) return null
    a[j][j] = Math.sqrt(a[j][j])
    for (let i = j + 1; i < n; i++) {
      for (let k = 0; k < j; k++) a[i][j] -= a[i][k] * a[j][k]
      a[i][j] /= a[j][j]
    }
  }
  return a
}

const solveDense = (l: Float64Array[], b: Float64Array): void => {
  const n = b.length
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) b[i] -= l[i][k] * b[k]
    b[i] /= l[i][i]
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) b[i] -= l[k][i] * b[k]
    b[i] /= l[i][i]
  }
}

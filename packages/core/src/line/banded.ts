/**
 * A symmetric periodic band matrix of half width 2 (each unknown coupled to two neighbours on either side, round the
 * lap): `d0` diagonal, `d1[i]` couples i and i+1, `d2[i]` couples i and i+2, indices modulo n.
 */
export type PeriodicBand = { d0: Float64Array; d1: Float64Array; d2: Float64Array }

/**
 * Factors a symmetric positive definite periodic band matrix and returns a solver that works in place of a right side.
 * The last two unknowns are bordered off; the rest is factored as LDLᵀ in one sweep, so cost and memory are linear in n.
 * Source: Golub & Van Loan, Matrix Computations, sections 4.3 (band LDLᵀ) and 3.2 (Schur complement).
 */
export const factorBand = (band: PeriodicBand): ((rightInPlace: Float64Array) => void) => {
  const n = band.d0.length
  const inner = n - 2
  const { d0, d1, d2 } = band
  // Columns of the border: couplings of inner unknowns with n−2 and n−1.
  const border = [new Float64Array(inner), new Float64Array(inner)]
  border[0][inner - 1] += d1[n - 3]
  border[0][inner - 2] += d2[n - 4]
  border[0][0] += d2[n - 2]
  border[1][inner - 1] += d2[n - 3]
  border[1][0] += d1[n - 1]
  border[1][1] += d2[n - 1]
  const diagonal = new Float64Array(inner)
  const l1 = new Float64Array(inner)
  const l2 = new Float64Array(inner)
  for (let i = 0; i < inner; i++) {
    let d = d0[i]
    if (i >= 1) d -= l1[i - 1] ** 2 * diagonal[i - 1]
    if (i >= 2) d -= l2[i - 2] ** 2 * diagonal[i - 2]
    diagonal[i] = d
    let e = d1[i]
    if (i >= 1) e -= l1[i - 1] * l2[i - 1] * diagonal[i - 1]
    l1[i] = e / d
    l2[i] = d2[i] / d
  }
  const solveInner = (b: Float64Array): void => {
    for (let i = 0; i < inner; i++) {
      if (i >= 1) b[i] -= l1[i - 1] * b[i - 1]
      if (i >= 2) b[i] -= l2[i - 2] * b[i - 2]
    }
    for (let i = inner - 1; i >= 0; i--) {
      b[i] /= diagonal[i]
      if (i + 1 < inner) b[i] -= l1[i] * b[i + 1]
      if (i + 2 < inner) b[i] -= l2[i] * b[i + 2]
    }
  }
  const solved = border.map((column) => Float64Array.from(column))
  for (const column of solved) solveInner(column)
  const dot = (a: Float64Array, b: Float64Array): number => {
    let sum = 0
    for (let i = 0; i < inner; i++) sum += a[i] * b[i]
    return sum
  }
  const s00 = d0[n - 2] - dot(border[0], solved[0])
  const s01 = d1[n - 2] - dot(border[0], solved[1])
  const s11 = d0[n - 1] - dot(border[1], solved[1])
  const det = s00 * s11 - s01 * s01
  return (right) => {
    const b0 = right[n - 2] - dot(solved[0], right)
    const b1 = right[n - 1] - dot(solved[1], right)
    const x0 = (b0 * s11 - b1 * s01) / det
    const x1 = (b1 * s00 - b0 * s01) / det
    solveInner(right)
    for (let i = 0; i < inner; i++) right[i] -= solved[0][i] * x0 + solved[1][i] * x1
    right[n - 2] = x0
    right[n - 1] = x1
  }
}

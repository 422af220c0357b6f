/**
 * A symmetric periodic band matrix, column by column: `values[i·(p + 1) + k]` couples unknown i with unknown i + k,
 * indices modulo `count`; k = 0 is the diagonal, p = `halfWidth`. Needs count > 2p.
 */
export type PeriodicBand = { count: number; halfWidth: number; values: Float64Array }

/** An empty matrix of a number of unknowns and half width. */
export const emptyBand = (count: number, halfWidth: number): PeriodicBand => ({
  count,
  halfWidth,
  values: new Float64Array(count * (halfWidth + 1)),
})

/** Row i of H·x. */
export const bandTimes = ({ count, halfWidth, values }: PeriodicBand, x: Float64Array, i: number): number => {
  const w = halfWidth + 1
  let sum = values[i * w] * x[i]
  for (let k = 1; k <= halfWidth; k++) {
    const after = i + k < count ? i + k : i + k - count
    const before = i >= k ? i - k : i - k + count
    sum += values[i * w + k] * x[after] + values[before * w + k] * x[before]
  }
  return sum
}

/** Factors matrices of one shape and solves with them; keeps its working space from one factorisation to the next. */
export type BandSolver = {
  /** Factors a matrix with `plus` added to its diagonal; false when that is not positive definite. */
  factor: (band: PeriodicBand, plus?: Float64Array) => boolean
  /** Solves in place with the matrix factored last. */
  solve: (right: Float64Array) => void
}

/**
 * A solver of symmetric positive definite periodic band matrices. The last p unknowns are bordered off; the rest is
 * factored as LDLᵀ in one sweep, so time is n·p² and memory n·p.
 * Source: Golub & Van Loan, Matrix Computations, sections 4.3 (band LDLᵀ) and 3.2 (Schur complement).
 */
export const bandSolver = (count: number, halfWidth: number): BandSolver => {
  const p = halfWidth
  const w = p + 1
  const inner = count - p
  const columns = new Float64Array(count * w)
  // Couplings of the inner unknowns with the last p, row by row, and the inverse times them.
  const border = new Float64Array(inner * p)
  const solved = new Float64Array(inner * p)
  const cholesky = Array.from({ length: p }, () => new Float64Array(p))
  const tail = new Float64Array(p)

  /** Sum over the rows where a border column can be filled: the first and the last p. */
  const edgeDot = (r: number, rows: Float64Array, width: number, c: number): number => {
    let sum = 0
    for (let i = 0; i < p; i++) sum += border[i * p + r] * rows[i * width + c]
    for (let i = Math.max(p, inner - p); i < inner; i++) sum += border[i * p + r] * rows[i * width + c]
    return sum
  }

  const takeBorder = (values: Float64Array): void => {
    border.fill(0)
    for (let r = 0; r < p; r++)
      for (let k = 1; k <= p; k++) {
        const before = inner + r - k
        if (before < inner) border[before * p + r] += values[before * w + k]
        const after = inner + r + k - count
        if (after >= 0) border[after * p + r] += values[(inner + r) * w + k]
      }
  }

  const factor: BandSolver['factor'] = ({ values }, plus) => {
    columns.set(values)
    if (plus) for (let i = 0; i < count; i++) columns[i * w] += plus[i]
    takeBorder(values)
    for (let i = Math.max(0, inner - p); i < inner; i++) columns.fill(0, i * w + inner - i, (i + 1) * w)
    if (!factorColumns(columns, inner, p)) return false
    solved.set(border)
    solveColumns(columns, inner, p, solved, p)
    for (let r = 0; r < p; r++) for (let c = 0; c <= r; c++) cholesky[r][c] = columns[(inner + c) * w + r - c] - edgeDot(r, solved, p, c)
    return factorDense(cholesky)
  }

  const solve: BandSolver['solve'] = (right) => {
    solveColumns(columns, inner, p, right, 1)
    for (let r = 0; r < p; r++) tail[r] = right[inner + r] - edgeDot(r, right, 1, 0)
    solveDense(cholesky, tail)
    for (let i = 0; i < inner; i++) {
      let value = right[i]
      for (let r = 0; r < p; r++) value -= solved[i * p + r] * tail[r]
      right[i] = value
    }
    right.set(tail, inner)
  }
  return { factor, solve }
}

/** LDLᵀ in place, column by column: [d_i, l_{i+1,i} … l_{i+p,i}] for each i; false when not positive definite. */
const factorColumns = (columns: Float64Array, inner: number, p: number): boolean => {
  const w = p + 1
  for (let i = 0; i < inner; i++) {
    const at = i * w
    const d = columns[at]
    if (!(d > 0)) return false
    const max = Math.min(p, inner - 1 - i)
    for (let k = 1; k <= max; k++) {
      const value = columns[at + k]
      if (value === 0) continue
      const l = value / d
      // Rows from k on still hold l·d, which the update needs.
      const to = (i + k) * w - k
      for (let j = k; j <= max; j++) columns[to + j] -= l * columns[at + j]
    }
    for (let k = 1; k <= max; k++) columns[at + k] /= d
  }
  return true
}

/** Solves for `width` right sides at once, stored row by row. */
const solveColumns = (columns: Float64Array, inner: number, p: number, b: Float64Array, width: number): void => {
  const w = p + 1
  for (let i = 0; i < inner; i++) {
    const max = Math.min(p, inner - 1 - i)
    const from = i * width
    for (let k = 1; k <= max; k++) {
      const l = columns[i * w + k]
      const to = from + k * width
      for (let r = 0; r < width; r++) b[to + r] -= l * b[from + r]
    }
  }
  for (let i = inner - 1; i >= 0; i--) {
    const max = Math.min(p, inner - 1 - i)
    const to = i * width
    const d = columns[i * w]
    for (let r = 0; r < width; r++) b[to + r] /= d
    for (let k = 1; k <= max; k++) {
      const l = columns[i * w + k]
      const from = to + k * width
      for (let r = 0; r < width; r++) b[to + r] -= l * b[from + r]
    }
  }
}

/** Cholesky factor of a dense matrix, in place, lower triangle; false when not positive definite. */
const factorDense = (a: Float64Array[]): boolean => {
  const n = a.length
  for (let j = 0; j < n; j++) {
    for (let k = 0; k < j; k++) a[j][j] -= a[j][k] ** 2
    if (!(a[j][j] > 0)) return false
    a[j][j] = Math.sqrt(a[j][j])
    for (let i = j + 1; i < n; i++) {
      for (let k = 0; k < j; k++) a[i][j] -= a[i][k] * a[j][k]
      a[i][j] /= a[j][j]
    }
  }
  return true
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

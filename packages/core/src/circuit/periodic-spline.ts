/** A periodic cubic spline: knots `t` (first of the next period last), values and second derivatives at the knots. */
export type PeriodicSpline = { t: Float64Array; y: Float64Array; m: Float64Array }

/** Value and first two derivatives of a spline at one parameter. */
export type SplinePoint = { y: number; dy: number; ddy: number }

/**
 * Solves a cyclic tridiagonal system by the Sherman–Morrison step on the plain tridiagonal algorithm.
 * `a`, `b`, `c`, `d`: sub-diagonal, diagonal, super-diagonal, right side, all of length n ≥ 3; `a[0]` couples row 0 to
 * unknown n−1, `c[n−1]` couples row n−1 to unknown 0. Source: Press et al., Numerical Recipes, section 2.7.
 */
const solveCyclic = (a: Float64Array, b: Float64Array, c: Float64Array, d: Float64Array): Float64Array => {
  const n = b.length
  const gamma = -b[0]
  const diagonal = Float64Array.from(b)
  diagonal[0] = b[0] - gamma
  diagonal[n - 1] = b[n - 1] - (a[0] * c[n - 1]) / gamma
  const solve = (right: Float64Array): Float64Array => {
    const ratio = new Float64Array(n)
    const out = new Float64Array(n)
    let beta = diagonal[0]
    out[0] = right[0] / beta
    for (let i = 1; i < n; i++) {
      ratio[i] = c[i - 1] / beta
      beta = diagonal[i] - a[i] * ratio[i]
      out[i] = (right[i] - a[i] * out[i - 1]) / beta
    }
    for (let i = n - 2; i >= 0; i--) out[i] -= ratio[i + 1] * out[i + 1]
    return out
  }
  const x = solve(d)
  const u = new Float64Array(n)
  u[0] = gamma
  u[n - 1] = c[n - 1]
  const z = solve(u)
  const factor = (x[0] + (a[0] * x[n - 1]) / gamma) / (1 + z[0] + (a[0] * z[n - 1]) / gamma)
  for (let i = 0; i < n; i++) x[i] -= factor * z[i]
  return x
}

/**
 * Interpolating periodic cubic spline.
 * @param t knots, strictly increasing, length n + 1; the last is the first plus the period
 * @param y values at the first n knots (n ≥ 3); the value at the last knot is the first's
 * Source: de Boor, A Practical Guide to Splines, chapter IV.
 */
export const periodicSpline = (t: Float64Array, y: Float64Array): PeriodicSpline => {
  const n = y.length
  const a = new Float64Array(n)
  const b = new Float64Array(n)
  const c = new Float64Array(n)
  const d = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    const before = i === 0 ? t[n] - t[n - 1] : t[i] - t[i - 1]
    const after = t[i + 1] - t[i]
    const yBefore = y[i === 0 ? n - 1 : i - 1]
    const yAfter = y[i === n - 1 ? 0 : i + 1]
    a[i] = before
    b[i] = 2 * (before + after)
    c[i] = after
    d[i] = 6 * ((yAfter - y[i]) / after - (y[i] - yBefore) / before)
  }
  return { t, y, m: solveCyclic(a, b, c, d) }
}

/**
 * Interpolating natural cubic spline through the ends of an open course, in the same form: knots and values of equal
 * length, second derivatives zero at both ends. Source: de Boor, A Practical Guide to Splines, chapter IV.
 */
export const naturalSpline = (t: Float64Array, y: Float64Array): PeriodicSpline => {
  const n = y.length
  const m = new Float64Array(n)
  const ratio = new Float64Array(n)
  for (let i = 1; i < n - 1; i++) {
    const before = t[i] - t[i - 1]
    const after = t[i + 1] - t[i]
    const beta = 2 * (before + after) - before * ratio[i - 1]
    ratio[i] = after / beta
    m[i] = (6 * ((y[i + 1] - y[i]) / after - (y[i] - y[i - 1]) / before) - before * m[i - 1]) / beta
  }
  for (let i = n - 2; i > 0; i--) m[i] -= ratio[i] * m[i + 1]
  return { t, y, m }
}

/** Evaluates a spline within knot interval `i` (0 … n−1) at parameter `at`, t[i] ≤ at ≤ t[i+1]. */
export const evaluateInterval = (spline: PeriodicSpline, i: number, at: number): SplinePoint => {
  const { t, y, m } = spline
  const j = i === y.length - 1 ? 0 : i + 1
  const h = t[i + 1] - t[i]
  const p = (t[i + 1] - at) / h
  const q = 1 - p
  return {
    y: p * y[i] + q * y[j] + (((p * p * p - p) * m[i] + (q * q * q - q) * m[j]) * h * h) / 6,
    dy: (y[j] - y[i]) / h + (((3 * q * q - 1) * m[j] - (3 * p * p - 1) * m[i]) * h) / 6,
    ddy: p * m[i] + q * m[j],
  }
}

/** The knot interval that holds `at` (t[0] ≤ at ≤ t[n]), by bisection. */
export const findInterval = (t: Float64Array, at: number): number => {
  let low = 0
  let high = t.length - 1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (t[middle] <= at) low = middle
    else high = middle
  }
  return low
}

/** Value and derivatives at any parameter within the period. */
export const evaluateSpline = (spline: PeriodicSpline, at: number): SplinePoint => evaluateInterval(spline, findInterval(spline.t, at), at)

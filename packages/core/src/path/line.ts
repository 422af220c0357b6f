import type { Circuit } from '../circuit/circuit.ts'
import { naturalSpline, periodicSpline } from '../circuit/periodic-spline.ts'

/**
 * A line over a circuit's stations. Columns have the circuit's `count` length; `stepPath_m[i]` is the plan length of
 * the path from station i to the next (0 after the end of an open course).
 */
export type Line = {
  offset_m: Float64Array
  x_m: Float64Array
  y_m: Float64Array
  heading_rad: Float64Array
  kappa_1pm: Float64Array
  stepPath_m: Float64Array
  length_m: number
  /** ∫κ² dσ over the path (1/m). */
  integralKappa2_1pm: number
}

/**
 * A line from offsets at the stations, taken as a periodic cubic spline n(s).
 * With A = 1 − nκ_c: dσ/ds = √(A² + n'²), heading error ξ = atan(n'/A), κ = (κ_c + ξ')/(dσ/ds).
 * Source: curvilinear coordinates of a plane curve (do Carmo, Differential Geometry, section 1-5).
 */
export const lineFromOffsets = (circuit: Circuit, offset_m: Float64Array): Line => {
  const n = circuit.count
  const h = circuit.step_m
  const knots = Float64Array.from({ length: circuit.open ? n : n + 1 }, (_, i) => i * h)
  const { m } = circuit.open ? naturalSpline(knots, offset_m) : periodicSpline(knots, offset_m)
  const line: Line = {
    offset_m,
    x_m: new Float64Array(n),
    y_m: new Float64Array(n),
    heading_rad: new Float64Array(n),
    kappa_1pm: new Float64Array(n),
    stepPath_m: new Float64Array(n),
    length_m: 0,
    integralKappa2_1pm: 0,
  }
  const stretch = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    const next = i + 1 === n ? 0 : i + 1
    const before = i === 0 ? n - 1 : i - 1
    const kc = circuit.kappa_1pm[i]
    const [from, to] = circuit.open ? [Math.max(0, i - 1), Math.min(n - 1, i + 1)] : [before, next]
    const dkc = (circuit.kappa_1pm[to] - circuit.kappa_1pm[from]) / (circuit.open && to - from === 1 ? h : 2 * h)
    const offset = offset_m[i]
    // The slope at a knot, from the interval after it; at the end of an open course from the one before.
    const dn =
      circuit.open && i === n - 1
        ? (offset - offset_m[before]) / h + (h * (m[before] + 2 * m[i])) / 6
        : (offset_m[next] - offset) / h - (h * (2 * m[i] + m[next])) / 6
    const a = 1 - offset * kc
    const da = -dn * kc - offset * dkc
    const q = a * a + dn * dn
    stretch[i] = Math.sqrt(q)
    line.kappa_1pm[i] = (kc + (m[i] * a - dn * da) / q) / stretch[i]
    const heading = circuit.heading_rad[i]
    line.x_m[i] = circuit.x_m[i] - offset * Math.sin(heading)
    line.y_m[i] = circuit.y_m[i] + offset * Math.cos(heading)
    line.heading_rad[i] = heading + Math.atan2(dn, a)
  }
  for (let i = 0; i < (circuit.open ? n - 1 : n); i++) {
    const next = i + 1 === n ? 0 : i + 1
    // Chord from plan positions, lengthened to the arc of the mean curvature: exact on circles to fourth order.
    const chord = Math.hypot(line.x_m[next] - line.x_m[i], line.y_m[next] - line.y_m[i])
    const kappa = (line.kappa_1pm[i] + line.kappa_1pm[next]) / 2
    line.stepPath_m[i] = chord * (1 + (chord * kappa) ** 2 / 24)
    line.length_m += line.stepPath_m[i]
    line.integralKappa2_1pm += line.kappa_1pm[i] ** 2 * stretch[i] * h
  }
  return line
}

/** The centreline itself as a line. */
export const centreLine = (circuit: Circuit): Line => lineFromOffsets(circuit, new Float64Array(circuit.count))

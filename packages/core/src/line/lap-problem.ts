import type { Circuit } from '../circuit/circuit.ts'
import type { GripShare } from '../profile/grip.ts'
import { emptyBand, type PeriodicBand } from '../solve/banded.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { OffsetBounds } from './bounds.ts'
import { type DerivativeRoom, DRIVE, derivativeRoom, FROM, KAPPA, LENGTH, pair, TO, W, weighInterval } from './interval-derivatives.ts'
import { type LapModel, type LapProblemOptions, lapModel, PER_STATION, ROWS } from './lap-model.ts'
import { lapValues } from './lap-values.ts'

/**
 * The least-time lap as a program in three unknowns a station: offset n (m), u = v² (m²/s²), and drive d (m/s², the
 * tyre's, ≥ 0), stored as x[3i], x[3i+1], x[3i+2]. Between stations i and i + 1 acceleration, curvature and grade are
 * taken as constant; the brake is what drive leaves of the demand, b = d − a_x. Curvature is that of the polygon
 * through the path's points, so the only constraints are inequalities c(x) ≥ 0: bounds of n and, between stations,
 * d, b, drive force, power, brake limit and grip ellipse.
 */
export type LapProblem = {
  unknowns: number
  constraints: number
  /** Constraints of a station, and the index of the one by which the brake only brakes. */
  perStation: number
  brakeRow: number
  /** Moves to x and fills in the constraint values there; the cost (s), or NaN where there is no lap (u ≤ 0, wheels off the ground). */
  evaluate: (x: Float64Array, c: Float64Array) => number
  /**
   * Newton system of the barrier problem at the point evaluated last, with its constraints c and multipliers z: the
   * Hessian of the Lagrangian plus Σ (z/c)·∇c∇cᵀ, and the gradient of cost − μ Σ ln c. Drive belongs to one interval
   * each, so it is eliminated at once: what is filled in is the system of the offsets and speeds, two a station.
   */
  assemble: (x: Float64Array, c: Float64Array, z: Float64Array, mu: number, hessian: PeriodicBand, gradient: Float64Array) => void
  /**
   * From a step of offsets and speeds, at the point assembled last: the step of all unknowns, drive taking its best, and
   * ∇c·dx for every constraint. Returns what the eliminated drive adds to the slope of the barrier function along dx.
   */
  complete: (reduced: Float64Array, dx: Float64Array, slope: Float64Array) => number
}

/** An interval's offsets reach over four stations of two unknowns each, once drive is eliminated. */
const LAP_HALF_WIDTH = 6
const WIDTH = LAP_HALF_WIDTH + 1
// Local unknowns n_h, n_i, n_j, n_m, u_i, u_j of stations h, i, j, m in a row, as places after 2h.
const PLACES = [0, 2, 4, 6, 3, 5] as const
/** Terms kept of each interval when its drive is eliminated: couplings with κ, ℓ, u_i, u_j, own second derivative, gradient. */
const KEPT = 6
const OWN = 4
const GRADIENT = 5

/** A Hessian of the right shape for a lap problem. */
export const emptyLapHessian = (problem: LapProblem): PeriodicBand => emptyBand((2 * problem.unknowns) / 3, LAP_HALF_WIDTH)

/** κ and ℓ by the offsets n_h, n_i, n_j, n_m, and the change of κ over the interval. */
const offsetRoom = () => ({ kappa: new Float64Array(4), length: new Float64Array(4), change: new Float64Array(4) })
type OffsetRoom = ReturnType<typeof offsetRoom>

const byOffsets = ({ n, polygon }: LapModel, { kappa, length, change }: OffsetRoom, i: number): void => {
  const j = i + 1 === n ? 0 : i + 1
  const { kappaByBefore, kappaByOwn, kappaByAfter, sideX, sideY, normalX, normalY, length_m } = polygon
  kappa[0] = kappaByBefore[i] / 2
  kappa[1] = (kappaByOwn[i] + kappaByBefore[j]) / 2
  kappa[2] = (kappaByAfter[i] + kappaByOwn[j]) / 2
  kappa[3] = kappaByAfter[j] / 2
  change[0] = -kappaByBefore[i]
  change[1] = kappaByBefore[j] - kappaByOwn[i]
  change[2] = kappaByOwn[j] - kappaByAfter[i]
  change[3] = kappaByAfter[j]
  length[1] = -(sideX[i] * normalX[i] + sideY[i] * normalY[i]) / length_m[i]
  length[2] = (sideX[i] * normalX[j] + sideY[i] * normalY[j]) / length_m[i]
}

/** Takes drive out of an interval's barrier problem, keeping what {@link completeStep} needs of it. */
const eliminateDrive = ({ hessian, gradient }: DerivativeRoom, drives: Float64Array, i: number): void => {
  const at = KEPT * i
  const curvature = hessian[pair(DRIVE, DRIVE)]
  for (let a = 0; a < DRIVE; a++) drives[at + a] = hessian[pair(a, DRIVE)]
  drives[at + OWN] = curvature
  drives[at + GRADIENT] = gradient[DRIVE]
  for (let a = 0; a < DRIVE; a++) {
    const share = hessian[pair(a, DRIVE)] / curvature
    gradient[a] -= share * gradient[DRIVE]
    for (let b = a; b < DRIVE; b++) hessian[pair(a, b)] -= share * drives[at + b]
  }
}

/** Adds an interval, its drive eliminated, to the system of offsets and speeds. `byLength`: weight of the chord's own second derivative. */
const addInterval = (
  model: LapModel,
  room: DerivativeRoom,
  by: OffsetRoom,
  unknown: Int32Array,
  values: Float64Array,
  gradient: Float64Array,
  byLength: number,
  i: number,
): void => {
  const { n, polygon, smoothing } = model
  const { hessian: hw, gradient: gw } = room
  const { sideX, sideY, normalX, normalY, length_m, kappa_1pm } = polygon
  const j = i + 1 === n ? 0 : i + 1
  const stiffness = model.bends(i) ? smoothing : 0
  const bend = stiffness * (kappa_1pm[j] - kappa_1pm[i])
  // Second derivative of the chord's length by its two offsets.
  const acrossI = (sideY[i] * normalX[i] - sideX[i] * normalY[i]) / length_m[i]
  const acrossJ = (sideX[i] * normalY[j] - sideY[i] * normalX[j]) / length_m[i]
  for (let a = 0; a < 4; a++) {
    const ka = by.kappa[a]
    const la = by.length[a]
    const to = unknown[a]
    gradient[to] += ka * gw[KAPPA] + la * gw[LENGTH] + bend * by.change[a]
    for (let b = a; b < 4; b++)
      values[WIDTH * to + PLACES[b] - PLACES[a]] +=
        ka * by.kappa[b] * hw[pair(KAPPA, KAPPA)] +
        (ka * by.length[b] + la * by.kappa[b]) * hw[pair(KAPPA, LENGTH)] +
        la * by.length[b] * hw[pair(LENGTH, LENGTH)] +
        stiffness * by.change[a] * by.change[b]
    for (let w = FROM; w <= TO; w++) {
      const apart = PLACES[2 + w] - PLACES[a]
      values[apart > 0 ? WIDTH * to + apart : WIDTH * unknown[2 + w] - apart] += ka * hw[pair(KAPPA, w)] + la * hw[pair(LENGTH, w)]
    }
  }
  values[WIDTH * unknown[1]] += (byLength * acrossI * acrossI) / length_m[i]
  values[WIDTH * unknown[2]] += (byLength * acrossJ * acrossJ) / length_m[i]
  values[WIDTH * unknown[1] + 2] += (byLength * acrossI * acrossJ) / length_m[i]
  gradient[unknown[4]] += gw[FROM]
  gradient[unknown[5]] += gw[TO]
  values[WIDTH * unknown[4]] += hw[pair(FROM, FROM)]
  values[WIDTH * unknown[4] + 2] += hw[pair(FROM, TO)]
  values[WIDTH * unknown[5]] += hw[pair(TO, TO)]
}

/** The step of all unknowns from that of offsets and speeds, as {@link LapProblem.complete} says. */
const completeStep = (
  model: LapModel,
  { rows }: DerivativeRoom,
  by: OffsetRoom,
  drives: Float64Array,
  reduced: Float64Array,
  dx: Float64Array,
  slope: Float64Array,
): number => {
  const { n } = model
  let added = 0
  for (let i = 0; i < n; i++) {
    const h = i === 0 ? n - 1 : i - 1
    const j = i + 1 === n ? 0 : i + 1
    const m = j + 1 === n ? 0 : j + 1
    byOffsets(model, by, i)
    const { kappa, length } = by
    const dk = kappa[0] * reduced[2 * h] + kappa[1] * reduced[2 * i] + kappa[2] * reduced[2 * j] + kappa[3] * reduced[2 * m]
    const dl = length[1] * reduced[2 * i] + length[2] * reduced[2 * j]
    const du = reduced[2 * i + 1]
    const dv = reduced[2 * j + 1]
    const of = KEPT * i
    const curvature = drives[of + OWN]
    const dd =
      -(drives[of + GRADIENT] + drives[of + KAPPA] * dk + drives[of + LENGTH] * dl + drives[of + FROM] * du + drives[of + TO] * dv) /
      curvature
    added -= drives[of + GRADIENT] ** 2 / curvature
    dx[3 * i] = reduced[2 * i]
    dx[3 * i + 1] = du
    dx[3 * i + 2] = dd
    const base = PER_STATION * i
    slope[base] = reduced[2 * i]
    slope[base + 1] = -reduced[2 * i]
    for (let r = 0; r < ROWS; r++) {
      const at = W * (ROWS * i + r)
      slope[base + 2 + r] =
        rows[at + KAPPA] * dk + rows[at + LENGTH] * dl + rows[at + FROM] * du + rows[at + TO] * dv + rows[at + DRIVE] * dd
    }
  }
  return added
}

/** The least-time lap of a vehicle between bounds, its grip for the whole lap or station by station. */
export const lapProblem = (
  circuit: Circuit,
  vehicle: Vehicle,
  grip: GripShare | readonly GripShare[],
  bounds: OffsetBounds,
  options: LapProblemOptions = {},
): LapProblem => {
  const model = lapModel(circuit, vehicle, grip, bounds, options)
  const { n } = model
  const room = derivativeRoom(n)
  const by = offsetRoom()
  const drives = new Float64Array(KEPT * n)
  const unknown = new Int32Array(6)
  const assemble: LapProblem['assemble'] = (x, c, z, mu, { values }, gradient) => {
    values.fill(0)
    gradient.fill(0)
    const point = { x, c, z, mu }
    for (let i = 0; i < n; i++) {
      const byLength = weighInterval(model, room, point, i)
      eliminateDrive(room, drives, i)
      byOffsets(model, by, i)
      for (let a = 0; a < 6; a++) unknown[a] = (2 * i - 2 + PLACES[a] + 2 * n) % (2 * n)
      addInterval(model, room, by, unknown, values, gradient, byLength, i)
      const base = PER_STATION * i
      values[WIDTH * 2 * i] += z[base] / c[base] + z[base + 1] / c[base + 1]
      gradient[2 * i] += mu / c[base + 1] - mu / c[base]
    }
  }
  return {
    unknowns: 3 * n,
    constraints: PER_STATION * n,
    perStation: PER_STATION,
    brakeRow: 3,
    evaluate: (x, c) => lapValues(model, x, c),
    assemble,
    complete: (reduced, dx, slope) => completeStep(model, room, by, drives, reduced, dx, slope),
  }
}

import { type LapModel, PER_STATION, ROWS } from './lap-model.ts'

// An interval's quantities a_x, a_n, a_y depend on w = (κ, ℓ, u_i, u_j, d): mean curvature, length, speeds, drive.
export const KAPPA = 0
export const LENGTH = 1
export const FROM = 2
export const TO = 3
export const DRIVE = 4
/** Number of w. */
export const W = 5
// The rows of an interval by what they hold.
const DRIVES = 0
const BRAKES = 1
const FORCE = 2
const POWER = 3
const BRAKE_MOST = 4
const GRIP = 5

/** The place of ∂²/∂w_a∂w_b, a ≤ b, in an interval's Hessian. */
export const pair = (a: number, b: number): number => W * a + b
const LENGTH_LENGTH = pair(LENGTH, LENGTH)
const LENGTH_FROM = pair(LENGTH, FROM)
const LENGTH_TO = pair(LENGTH, TO)
const FROM_FROM = pair(FROM, FROM)
const FROM_TO = pair(FROM, TO)
const TO_TO = pair(TO, TO)

/** Multipliers, constraints and barrier at the point where derivatives are wanted. */
export type BarrierPoint = { x: Float64Array; c: Float64Array; z: Float64Array; mu: number }

/** Room for the derivatives of one interval by w, and for the constraint gradients of all. */
export const derivativeRoom = (n: number) => ({
  /** Gradients by w of all intervals' constraints, ROWS × W an interval. */
  rows: new Float64Array(W * ROWS * n),
  /** Hessian, upper triangle, and gradient of the interval's barrier problem by w. */
  hessian: new Float64Array(W * W),
  gradient: new Float64Array(W),
  /** Gradients of a_x, a_n, a_y and of the grip used longitudinally. */
  byAx: new Float64Array(W),
  byAn: new Float64Array(W),
  byAy: new Float64Array(W),
  byLengthways: new Float64Array(W),
  // The quantities themselves, at the interval in hand.
  um: 0,
  an: 0,
  ay: 0,
  slope: 0,
  lengthways: 0,
  wheelie: 0,
  stoppie: 0,
})
export type DerivativeRoom = ReturnType<typeof derivativeRoom>

/** Adds s·v·vᵀ to the upper triangle of the Hessian; v begins at `at`. */
const addOuter = (hessian: Float64Array, v: Float64Array, at: number, s: number): void => {
  for (let a = 0; a < W; a++) {
    const sa = s * v[at + a]
    if (sa !== 0) for (let b = a; b < W; b++) hessian[W * a + b] += sa * v[at + b]
  }
}

/** Adds what the first `count` constraint rows of an interval give to the barrier problem. */
const addBarrier = (room: DerivativeRoom, { c, z, mu }: BarrierPoint, i: number, count: number): void => {
  const { rows, hessian, gradient } = room
  const base = PER_STATION * i + 2
  const at = W * ROWS * i
  for (let r = 0; r < count; r++) {
    const pull = -mu / c[base + r]
    for (let a = 0; a < W; a++) gradient[a] += pull * rows[at + W * r + a]
    addOuter(hessian, rows, at + W * r, z[base + r] / c[base + r])
  }
}

/** The gap of an open course: bounds of its idle drive, and of the speed at the start. */
const weighGap = (room: DerivativeRoom, point: BarrierPoint, i: number): void => {
  const { rows } = room
  const at = W * ROWS * i
  rows.fill(0, at, at + W * ROWS)
  rows[at + DRIVE] = 1
  rows[at + W + DRIVE] = -1
  rows[at + 2 * W + TO] = -1
  addBarrier(room, point, i, 3)
}

/** Quantities of an interval and their gradients by w. */
const measureInterval = (model: LapModel, room: DerivativeRoom, x: Float64Array, i: number): void => {
  const { n, polygon, road, limit, drag, rolling } = model
  const { byAx, byAn, byAy, byLengthways } = room
  const j = i + 1 === n ? 0 : i + 1
  const ui = x[3 * i + 1]
  const uj = x[3 * j + 1]
  const d = x[3 * i + 2]
  const length = polygon.length_m[i]
  const k = (polygon.kappa_1pm[i] + polygon.kappa_1pm[j]) / 2
  const um = (ui + uj) / 2
  const an = road.support[i] + (road.lift[i] - k * road.sinBank[i]) * um
  const slope = road.cosGrade[i] / (2 * length)
  const ax = slope * (uj - ui) + road.gradePull[i] + drag * um + rolling * an
  byAn[KAPPA] = -road.sinBank[i] * um
  byAn[FROM] = (road.lift[i] - k * road.sinBank[i]) / 2
  byAn[TO] = byAn[FROM]
  byAy[KAPPA] = road.cosBank[i] * um
  byAy[FROM] = (k * road.cosBank[i]) / 2
  byAy[TO] = byAy[FROM]
  byAx[KAPPA] = rolling * byAn[KAPPA]
  byAx[LENGTH] = (-slope * (uj - ui)) / length
  byAx[FROM] = -slope + drag / 2 + rolling * byAn[FROM]
  byAx[TO] = slope + drag / 2 + rolling * byAn[TO]
  const [perDrive, perBrake] = [limit.perDrive[i], limit.perBrake[i]]
  for (let a = 0; a < W; a++) byLengthways[a] = -perBrake * byAx[a]
  byLengthways[DRIVE] += perDrive + perBrake
  room.um = um
  room.an = an
  room.ay = road.side[i] + k * road.cosBank[i] * um
  room.slope = slope
  room.lengthways = d * perDrive + (d - ax) * perBrake
  room.wheelie = limit.wheelie * an < limit.force ? limit.wheelie : 0
  room.stoppie = limit.stoppie * an < limit.brakeMost[i] ? limit.stoppie : 0
}

/** Gradients by w of an interval's six constraints. */
const fillRows = (model: LapModel, room: DerivativeRoom, d: number, i: number): void => {
  const { rows, byAx, byAn, byAy, byLengthways, um, an, ay, lengthways, wheelie, stoppie } = room
  const perSide = model.limit.perSide[i]
  const at = W * ROWS * i
  for (let a = 0; a < W; a++) {
    rows[at + W * DRIVES + a] = 0
    rows[at + W * BRAKES + a] = -byAx[a]
    rows[at + W * FORCE + a] = wheelie * byAn[a]
    rows[at + W * POWER + a] = 0
    rows[at + W * BRAKE_MOST + a] = byAx[a] + stoppie * byAn[a]
    rows[at + W * GRIP + a] = 2 * (an * byAn[a] - lengthways * byLengthways[a] - perSide * perSide * ay * byAy[a])
  }
  rows[at + W * DRIVES + DRIVE] = 1
  rows[at + W * BRAKES + DRIVE] += 1
  rows[at + W * FORCE + DRIVE] -= 1
  rows[at + W * POWER + FROM] = -(d * d) / 2
  rows[at + W * POWER + TO] = -(d * d) / 2
  rows[at + W * POWER + DRIVE] = -2 * d * um
  rows[at + W * BRAKE_MOST + DRIVE] -= 1
}

/**
 * Adds the second derivatives of an interval's constraints: of power and grip by the quantities, and of the quantities by
 * w, weighted by what depends on them. `du`: u_j − u_i. Returns the weight of a_x.
 */
const addConstraintCurvature = (model: LapModel, room: DerivativeRoom, z: Float64Array, d: number, du: number, i: number): number => {
  const { hessian, byAn, byAy, byLengthways, um, an, ay, slope, lengthways, wheelie, stoppie } = room
  const { road, limit, polygon, rolling } = model
  const length = polygon.length_m[i]
  const [perBrake, perSide] = [limit.perBrake[i], limit.perSide[i]]
  const base = PER_STATION * i + 2
  const zPower = z[base + POWER]
  const zGrip = z[base + GRIP]
  hessian[pair(DRIVE, DRIVE)] += 2 * zPower * um
  hessian[pair(FROM, DRIVE)] += zPower * d
  hessian[pair(TO, DRIVE)] += zPower * d
  addOuter(hessian, byAn, 0, -2 * zGrip)
  addOuter(hessian, byLengthways, 0, 2 * zGrip)
  addOuter(hessian, byAy, 0, 2 * zGrip * perSide * perSide)
  const ofAx = z[base + BRAKES] - z[base + BRAKE_MOST] - 2 * zGrip * lengthways * perBrake
  const ofAn = -z[base + FORCE] * wheelie - z[base + BRAKE_MOST] * stoppie - 2 * zGrip * an + rolling * ofAx
  const ofAy = 2 * zGrip * ay * perSide * perSide
  const cross = (-ofAn * road.sinBank[i] + ofAy * road.cosBank[i]) / 2
  hessian[pair(KAPPA, FROM)] += cross
  hessian[pair(KAPPA, TO)] += cross
  hessian[LENGTH_LENGTH] += (2 * ofAx * slope * du) / length ** 2
  hessian[LENGTH_FROM] += (ofAx * slope) / length
  hessian[LENGTH_TO] -= (ofAx * slope) / length
  return ofAx
}

/** Adds the derivatives of an interval's time, 2ℓ/(cosθ (√u_i + √u_j)), and of its length’s own cost; returns ∂/∂ℓ. */
const addTime = (model: LapModel, room: DerivativeRoom, ui: number, uj: number, i: number): number => {
  const { hessian, gradient } = room
  const length = model.polygon.length_m[i]
  const ri = Math.sqrt(ui)
  const rj = Math.sqrt(uj)
  const together = ri + rj
  const scale = 2 / model.road.cosGrade[i]
  const byRoot = (-scale * length) / together ** 2
  const byLength = scale / together + model.perMetre_s
  gradient[LENGTH] += byLength
  gradient[FROM] += byRoot / (2 * ri)
  gradient[TO] += byRoot / (2 * rj)
  const twice = (2 * scale * length) / together ** 3
  hessian[LENGTH_FROM] -= scale / together ** 2 / (2 * ri)
  hessian[LENGTH_TO] -= scale / together ** 2 / (2 * rj)
  hessian[FROM_FROM] += twice / (4 * ri * ri) - byRoot / (4 * ri ** 3)
  hessian[TO_TO] += twice / (4 * rj * rj) - byRoot / (4 * rj ** 3)
  hessian[FROM_TO] += twice / (4 * ri * rj)
  return byLength
}

/**
 * Fills in Hessian and gradient of an interval's barrier problem by w, and the interval's constraint rows. Returns the
 * weight with which the second derivative of the chord's length counts.
 */
export const weighInterval = (model: LapModel, room: DerivativeRoom, point: BarrierPoint, i: number): number => {
  room.hessian.fill(0)
  room.gradient.fill(0)
  if (model.isGap(i)) {
    weighGap(room, point, i)
    return 0
  }
  const { x, z } = point
  const j = i + 1 === model.n ? 0 : i + 1
  const ui = x[3 * i + 1]
  const uj = x[3 * j + 1]
  const d = x[3 * i + 2]
  measureInterval(model, room, x, i)
  fillRows(model, room, d, i)
  addBarrier(room, point, i, ROWS)
  const ofAx = addConstraintCurvature(model, room, z, d, uj - ui, i)
  const byLength = addTime(model, room, ui, uj, i)
  return byLength + ofAx * room.byAx[LENGTH]
}

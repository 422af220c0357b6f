import type { Circuit } from '../circuit/circuit.ts'
import { polygonOver } from '../circuit/polygon.ts'
import { type GripShare, stoppieShare, wheelieShare } from '../profile/grip.ts'
import { emptyBand, type PeriodicBand } from '../solve/banded.ts'
import { AIR_DENSITY_KGPM3, GRAVITY_MPS2 } from '../units/constants.ts'
import { airDrag_1pm } from '../vehicle/air.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { OffsetBounds } from './bounds.ts'

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
  /** Constraints of a station, and which of them says that the brake only brakes. */
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

/** `perMetre_s`: what a metre of path costs beside its time; 0 unless told otherwise. `entry_mps`: most speed at the start of an open course. */
export type LapProblemOptions = { perMetre_s?: number; entry_mps?: number }

/** An interval's offsets reach over four stations of two unknowns each, once drive is eliminated. */
const LAP_HALF_WIDTH = 6
const WIDTH = LAP_HALF_WIDTH + 1
/** Worth of a change of curvature (m³·s), under 0.01 % of any lap: keeps the polygon from zigzagging. */
const SMOOTHING = 10
const PER_STATION = 8

// An interval's quantities a_x, a_n, a_y depend on w = (κ, ℓ, u_i, u_j, d): mean curvature, length, speeds, drive.
const KAPPA = 0
const LENGTH = 1
const FROM = 2
const TO = 3
const DRIVE = 4
/** Rows of an interval's constraint gradients by w. */
const ROWS = 6
// Local unknowns n_h, n_i, n_j, n_m, u_i, u_j of stations h, i, j, m in a row, as places after 2h.
const PLACES = [0, 2, 4, 6, 3, 5] as const

/** A Hessian of the right shape for a lap problem. */
export const emptyLapHessian = (problem: LapProblem): PeriodicBand => emptyBand((2 * problem.unknowns) / 3, LAP_HALF_WIDTH)

/** The least-time lap of a vehicle between bounds, its grip for the whole lap or station by station. */
export const lapProblem = (
  circuit: Circuit,
  vehicle: Vehicle,
  grip: GripShare | readonly GripShare[],
  bounds: OffsetBounds,
  options: LapProblemOptions = {},
): LapProblem => {
  const n = circuit.count
  const perMetre_s = options.perMetre_s ?? 0
  const polygon = polygonOver(circuit)
  const { sideX, sideY, normalX, normalY, length_m: length, kappa_1pm: kappa } = polygon
  const road = intervalRoad(circuit, vehicle)
  const limit = intervalLimits(n, vehicle, grip)
  const power2 = (vehicle.power_W / vehicle.mass_kg) ** 2
  const drag = airDrag_1pm(vehicle)
  const weight = (2 * SMOOTHING) / circuit.step_m
  // On an open course the interval from the end back to the start only holds the speed at the start.
  const isGap = (i: number): boolean => circuit.open === true && i === n - 1
  const entryU = (options.entry_mps ?? 1e3) ** 2

  /** Whether curvature may be compared over an interval: not with the ends of an open course, which have none. */
  const bends = (i: number): boolean => !circuit.open || (i > 0 && i < n - 2)

  const evaluate: LapProblem['evaluate'] = (x, c) => {
    polygon.layOut(x, 3)
    let cost = 0
    for (let i = 0; i < n; i++) {
      const j = i + 1 === n ? 0 : i + 1
      const ui = x[3 * i + 1]
      const uj = x[3 * j + 1]
      if (!(ui > 0 && uj > 0)) return Number.NaN
      const d = x[3 * i + 2]
      if (isGap(i)) {
        const at = PER_STATION * i
        c[at] = x[3 * i] - bounds.low_m[i]
        c[at + 1] = bounds.high_m[i] - x[3 * i]
        c[at + 2] = d
        c[at + 3] = 2 - d
        c[at + 4] = entryU - uj
        c[at + 5] = 1
        c[at + 6] = 1
        c[at + 7] = 1
        continue
      }
      const k = (kappa[i] + kappa[j]) / 2
      const um = (ui + uj) / 2
      const an = road.support[i] + (road.lift[i] - k * road.sinBank[i]) * um
      if (!(an > 0)) return Number.NaN
      const ay = road.side[i] + k * road.cosBank[i] * um
      const ax = (road.cosGrade[i] * (uj - ui)) / (2 * length[i]) + road.gradePull[i] + drag * um + vehicle.rolling * an
      const brake = d - ax
      const lengthways = d * limit.perDrive[i] + brake * limit.perBrake[i]
      const at = PER_STATION * i
      c[at] = x[3 * i] - bounds.low_m[i]
      c[at + 1] = bounds.high_m[i] - x[3 * i]
      c[at + 2] = d
      c[at + 3] = brake
      c[at + 4] = Math.min(limit.force, limit.wheelie * an) - d
      c[at + 5] = power2 - d * d * um
      c[at + 6] = Math.min(limit.brakeMost[i], limit.stoppie * an) - brake
      c[at + 7] = an * an - lengthways * lengthways - (ay * limit.perSide[i]) ** 2
      cost += (2 * length[i]) / (road.cosGrade[i] * (Math.sqrt(ui) + Math.sqrt(uj)))
      cost += perMetre_s * length[i] + (bends(i) ? (weight / 2) * (kappa[j] - kappa[i]) ** 2 : 0)
    }
    return cost
  }

  // Gradients by w of all intervals' constraints, kept for `complete`.
  const rows = new Float64Array(5 * ROWS * n)
  const hw = new Float64Array(25)
  const gw = new Float64Array(5)
  const jx = new Float64Array(5)
  const jn = new Float64Array(5)
  const jy = new Float64Array(5)
  const grips = new Float64Array(5)

  /** Adds s·v·vᵀ to the upper triangle of hw; v begins at `at`. */
  const addOuter = (v: Float64Array, at: number, s: number): void => {
    for (let a = 0; a < 5; a++) {
      const sa = s * v[at + a]
      if (sa !== 0) for (let b = a; b < 5; b++) hw[5 * a + b] += sa * v[at + b]
    }
  }

  /** The same for the gap of an open course: bounds of its idle drive, and of the speed at the start. */
  const weighGap = (c: Float64Array, z: Float64Array, mu: number, i: number): number => {
    const base = PER_STATION * i + 2
    const at = 5 * ROWS * i
    rows.fill(0, at, at + 5 * ROWS)
    rows[at + DRIVE] = 1
    rows[at + 5 + DRIVE] = -1
    rows[at + 10 + TO] = -1
    hw.fill(0)
    gw.fill(0)
    for (let r = 0; r < 3; r++) {
      for (let a = 0; a < 5; a++) gw[a] -= (mu / c[base + r]) * rows[at + 5 * r + a]
      addOuter(rows, at + 5 * r, z[base + r] / c[base + r])
    }
    return 0
  }

  /** Fills hw and gw, Hessian and gradient of an interval's barrier problem by w, and the interval's rows; returns ∂²/∂ℓ² weight of the chord. */
  const weigh = (x: Float64Array, c: Float64Array, z: Float64Array, mu: number, i: number): number => {
    const j = i + 1 === n ? 0 : i + 1
    const base = PER_STATION * i + 2
    if (isGap(i)) return weighGap(c, z, mu, i)
    const ui = x[3 * i + 1]
    const uj = x[3 * j + 1]
    const d = x[3 * i + 2]
    const k = (kappa[i] + kappa[j]) / 2
    const um = (ui + uj) / 2
    const an = road.support[i] + (road.lift[i] - k * road.sinBank[i]) * um
    const ay = road.side[i] + k * road.cosBank[i] * um
    const slope = road.cosGrade[i] / (2 * length[i])
    const ax = slope * (uj - ui) + road.gradePull[i] + drag * um + vehicle.rolling * an
    const [perDrive, perBrake, perSide] = [limit.perDrive[i], limit.perBrake[i], limit.perSide[i]]
    jn[KAPPA] = -road.sinBank[i] * um
    jn[FROM] = (road.lift[i] - k * road.sinBank[i]) / 2
    jn[TO] = jn[FROM]
    jy[KAPPA] = road.cosBank[i] * um
    jy[FROM] = (k * road.cosBank[i]) / 2
    jy[TO] = jy[FROM]
    jx[KAPPA] = vehicle.rolling * jn[KAPPA]
    jx[LENGTH] = (-slope * (uj - ui)) / length[i]
    jx[FROM] = -slope + drag / 2 + vehicle.rolling * jn[FROM]
    jx[TO] = slope + drag / 2 + vehicle.rolling * jn[TO]
    const lengthways = d * perDrive + (d - ax) * perBrake
    for (let a = 0; a < 5; a++) grips[a] = -perBrake * jx[a]
    grips[DRIVE] += perDrive + perBrake
    const wheelie = limit.wheelie * an < limit.force ? limit.wheelie : 0
    const stoppie = limit.stoppie * an < limit.brakeMost[i] ? limit.stoppie : 0
    const at = 5 * ROWS * i
    for (let a = 0; a < 5; a++) {
      rows[at + a] = 0
      rows[at + 5 + a] = -jx[a]
      rows[at + 10 + a] = wheelie * jn[a]
      rows[at + 15 + a] = 0
      rows[at + 20 + a] = jx[a] + stoppie * jn[a]
      rows[at + 25 + a] = 2 * (an * jn[a] - lengthways * grips[a] - perSide * perSide * ay * jy[a])
    }
    rows[at + DRIVE] = 1
    rows[at + 5 + DRIVE] += 1
    rows[at + 10 + DRIVE] -= 1
    rows[at + 15 + FROM] = -(d * d) / 2
    rows[at + 15 + TO] = -(d * d) / 2
    rows[at + 15 + DRIVE] = -2 * d * um
    rows[at + 20 + DRIVE] -= 1
    hw.fill(0)
    gw.fill(0)
    for (let r = 0; r < ROWS; r++) {
      const pull = -mu / c[base + r]
      for (let a = 0; a < 5; a++) gw[a] += pull * rows[at + 5 * r + a]
      addOuter(rows, at + 5 * r, z[base + r] / c[base + r])
    }
    // Second derivatives of the constraints by the quantities: power and grip.
    const zPower = z[base + 3]
    const zGrip = z[base + 5]
    hw[24] += 2 * zPower * um
    hw[14] += zPower * d
    hw[19] += zPower * d
    addOuter(jn, 0, -2 * zGrip)
    addOuter(grips, 0, 2 * zGrip)
    addOuter(jy, 0, 2 * zGrip * perSide * perSide)
    // Second derivatives of the quantities by w, weighted by what depends on them.
    const byAx = z[base + 1] - z[base + 4] - 2 * zGrip * lengthways * perBrake
    const byAn = -z[base + 2] * wheelie - z[base + 4] * stoppie - 2 * zGrip * an + vehicle.rolling * byAx
    const byAy = 2 * zGrip * ay * perSide * perSide
    const cross = (-byAn * road.sinBank[i] + byAy * road.cosBank[i]) / 2
    hw[2] += cross
    hw[3] += cross
    hw[6] += (2 * byAx * slope * (uj - ui)) / length[i] ** 2
    hw[7] += (byAx * slope) / length[i]
    hw[8] -= (byAx * slope) / length[i]
    // Time 2ℓ/(cosθ (√u_i + √u_j)).
    const ri = Math.sqrt(ui)
    const rj = Math.sqrt(uj)
    const together = ri + rj
    const scale = 2 / road.cosGrade[i]
    const byRoot = (-scale * length[i]) / together ** 2
    const byLength = scale / together + perMetre_s
    gw[LENGTH] += byLength
    gw[FROM] += byRoot / (2 * ri)
    gw[TO] += byRoot / (2 * rj)
    const twice = (2 * scale * length[i]) / together ** 3
    hw[7] -= scale / together ** 2 / (2 * ri)
    hw[8] -= scale / together ** 2 / (2 * rj)
    hw[12] += twice / (4 * ri * ri) - byRoot / (4 * ri ** 3)
    hw[18] += twice / (4 * rj * rj) - byRoot / (4 * rj ** 3)
    hw[13] += twice / (4 * ri * rj)
    return byLength + byAx * jx[LENGTH]
  }

  // κ and ℓ by the offsets n_h, n_i, n_j, n_m, and the change of κ over the interval.
  const kRow = new Float64Array(4)
  const lRow = new Float64Array(4)
  const change = new Float64Array(4)
  const locate = (i: number): void => {
    const j = i + 1 === n ? 0 : i + 1
    kRow[0] = polygon.kappaByBefore[i] / 2
    kRow[1] = (polygon.kappaByOwn[i] + polygon.kappaByBefore[j]) / 2
    kRow[2] = (polygon.kappaByAfter[i] + polygon.kappaByOwn[j]) / 2
    kRow[3] = polygon.kappaByAfter[j] / 2
    change[0] = -polygon.kappaByBefore[i]
    change[1] = polygon.kappaByBefore[j] - polygon.kappaByOwn[i]
    change[2] = polygon.kappaByOwn[j] - polygon.kappaByAfter[i]
    change[3] = polygon.kappaByAfter[j]
    lRow[1] = -(sideX[i] * normalX[i] + sideY[i] * normalY[i]) / length[i]
    lRow[2] = (sideX[i] * normalX[j] + sideY[i] * normalY[j]) / length[i]
  }

  // Of each interval: couplings of drive with κ, ℓ, u_i, u_j, its own second derivative and its gradient.
  const drives = new Float64Array(6 * n)
  const eliminateDrive = (i: number): void => {
    const at = 6 * i
    const own = hw[24]
    for (let a = 0; a < 4; a++) drives[at + a] = hw[5 * a + DRIVE]
    drives[at + 4] = own
    drives[at + 5] = gw[DRIVE]
    for (let a = 0; a < 4; a++) {
      const share = hw[5 * a + DRIVE] / own
      gw[a] -= share * gw[DRIVE]
      for (let b = a; b < 4; b++) hw[5 * a + b] -= share * drives[at + b]
    }
  }

  const assemble: LapProblem['assemble'] = (x, c, z, mu, { values }, gradient) => {
    values.fill(0)
    gradient.fill(0)
    const all = 2 * n
    const unknown = new Int32Array(6)
    for (let i = 0; i < n; i++) {
      const j = i + 1 === n ? 0 : i + 1
      const byLength = weigh(x, c, z, mu, i)
      eliminateDrive(i)
      locate(i)
      const first = 2 * i - 2
      for (let a = 0; a < 6; a++) unknown[a] = (first + PLACES[a] + all) % all
      const stiffness = bends(i) ? weight : 0
      const bend = stiffness * (kappa[j] - kappa[i])
      // Second derivative of the chord's length by its two offsets.
      const acrossI = (sideY[i] * normalX[i] - sideX[i] * normalY[i]) / length[i]
      const acrossJ = (sideX[i] * normalY[j] - sideY[i] * normalX[j]) / length[i]
      for (let a = 0; a < 4; a++) {
        const ka = kRow[a]
        const la = lRow[a]
        const to = unknown[a]
        gradient[to] += ka * gw[0] + la * gw[1] + bend * change[a]
        for (let b = a; b < 4; b++)
          values[WIDTH * to + PLACES[b] - PLACES[a]] +=
            ka * kRow[b] * hw[0] + (ka * lRow[b] + la * kRow[b]) * hw[1] + la * lRow[b] * hw[6] + stiffness * change[a] * change[b]
        for (let w = 2; w < 4; w++) {
          const apart = PLACES[2 + w] - PLACES[a]
          values[apart > 0 ? WIDTH * to + apart : WIDTH * unknown[2 + w] - apart] += ka * hw[w] + la * hw[5 + w]
        }
      }
      values[WIDTH * unknown[1]] += (byLength * acrossI * acrossI) / length[i]
      values[WIDTH * unknown[2]] += (byLength * acrossJ * acrossJ) / length[i]
      values[WIDTH * unknown[1] + 2] += (byLength * acrossI * acrossJ) / length[i]
      gradient[unknown[4]] += gw[FROM]
      gradient[unknown[5]] += gw[TO]
      values[WIDTH * unknown[4]] += hw[12]
      values[WIDTH * unknown[4] + 2] += hw[13]
      values[WIDTH * unknown[5]] += hw[18]
      const base = PER_STATION * i
      values[WIDTH * 2 * i] += z[base] / c[base] + z[base + 1] / c[base + 1]
      gradient[2 * i] += mu / c[base + 1] - mu / c[base]
    }
  }

  const complete: LapProblem['complete'] = (reduced, dx, slope) => {
    let added = 0
    for (let i = 0; i < n; i++) {
      const h = i === 0 ? n - 1 : i - 1
      const j = i + 1 === n ? 0 : i + 1
      const m = j + 1 === n ? 0 : j + 1
      locate(i)
      const dk = kRow[0] * reduced[2 * h] + kRow[1] * reduced[2 * i] + kRow[2] * reduced[2 * j] + kRow[3] * reduced[2 * m]
      const dl = lRow[1] * reduced[2 * i] + lRow[2] * reduced[2 * j]
      const du = reduced[2 * i + 1]
      const dv = reduced[2 * j + 1]
      const to = 6 * i
      const own = drives[to + 4]
      const dd = -(drives[to + 5] + drives[to] * dk + drives[to + 1] * dl + drives[to + 2] * du + drives[to + 3] * dv) / own
      added -= drives[to + 5] ** 2 / own
      dx[3 * i] = reduced[2 * i]
      dx[3 * i + 1] = du
      dx[3 * i + 2] = dd
      const base = PER_STATION * i
      slope[base] = reduced[2 * i]
      slope[base + 1] = -reduced[2 * i]
      for (let r = 0; r < ROWS; r++) {
        const at = 5 * (ROWS * i + r)
        slope[base + 2 + r] = rows[at] * dk + rows[at + 1] * dl + rows[at + 2] * du + rows[at + 3] * dv + rows[at + 4] * dd
      }
    }
    return added
  }

  return { unknowns: 3 * n, constraints: PER_STATION * n, perStation: PER_STATION, brakeRow: 3, evaluate, assemble, complete }
}

/** What the road between stations i and i + 1 adds to support, side and lengthways demand. */
const intervalRoad = (circuit: Circuit, vehicle: Vehicle) => {
  const n = circuit.count
  const column = (): Float64Array => new Float64Array(n)
  const road = {
    cosGrade: column(),
    gradePull: column(),
    sinBank: column(),
    cosBank: column(),
    support: column(),
    side: column(),
    lift: column(),
  }
  const mean = (values: Float64Array, i: number): number => (values[i] + values[i + 1 === n ? 0 : i + 1]) / 2
  for (let i = 0; i < n; i++) {
    const grade = mean(circuit.grade_rad, i)
    const bank = mean(circuit.bank_rad, i)
    road.cosGrade[i] = Math.cos(grade)
    road.gradePull[i] = GRAVITY_MPS2 * Math.sin(grade)
    road.sinBank[i] = Math.sin(bank)
    road.cosBank[i] = Math.cos(bank)
    road.support[i] = GRAVITY_MPS2 * road.cosGrade[i] * road.cosBank[i]
    road.side[i] = GRAVITY_MPS2 * road.cosGrade[i] * road.sinBank[i]
    road.lift[i] = mean(circuit.kappaVertical_1pm, i) + (AIR_DENSITY_KGPM3 * vehicle.liftArea_m2) / (2 * vehicle.mass_kg)
  }
  return road
}

/** What vehicle and surface allow between stations i and i + 1; where the grip changes, the lesser holds. */
const intervalLimits = (n: number, vehicle: Vehicle, grip: GripShare | readonly GripShare[]) => {
  const shareAt = (i: number, key: keyof GripShare): number =>
    'brake' in grip ? grip[key] : Math.min(grip[i][key], grip[i + 1 === n ? 0 : i + 1][key])
  const column = (value: (i: number) => number): Float64Array => Float64Array.from({ length: n }, (_, i) => value(i))
  return {
    force: vehicle.maxDriveForce_N / vehicle.mass_kg,
    // Finite for vehicles that never tip: the limit is a number in every case.
    wheelie: Math.min(wheelieShare(vehicle), 1e3),
    stoppie: Math.min(stoppieShare(vehicle), 1e3),
    // X = drive/(share of the driven axle) + brake, each on its own grip.
    perDrive: column((i) => 1 / (vehicle.driveShare * shareAt(i, 'drive') * vehicle.muX)),
    perBrake: column((i) => 1 / (shareAt(i, 'brake') * vehicle.muX)),
    perSide: column((i) => 1 / (shareAt(i, 'corner') * vehicle.muY)),
    brakeMost: column((i) => shareAt(i, 'brake') * vehicle.maxBrake_mps2),
  }
}

import type { Circuit } from '../circuit/circuit.ts'
import type { GripShare } from '../profile/grip.ts'
import { AIR_DENSITY_KGPM3, GRAVITY_MPS2 } from '../units/constants.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { emptyBand, type PeriodicBand } from './banded.ts'
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
  /** Constraint values; false when the point has no lap (u ≤ 0). */
  evaluate: (x: Float64Array, c: Float64Array) => boolean
  /** Lap time plus the penalty on change of curvature (s). */
  cost: (x: Float64Array) => number
  /**
   * Newton system of the barrier problem at x with multipliers z: fills the Hessian of the Lagrangian plus
   * Σ (z/c)·∇c∇cᵀ, and the gradient of cost − μ Σ ln c.
   */
  assemble: (x: Float64Array, z: Float64Array, mu: number, hessian: PeriodicBand, gradient: Float64Array) => void
  /** ∇c·dx for every constraint. */
  slopes: (x: Float64Array, dx: Float64Array, out: Float64Array) => void
}

/** Unknowns before and after an interval reach over four stations of three unknowns each. */
const LAP_HALF_WIDTH = 9
/** Worth of a change of curvature (m³·s), under 0.01 % of any lap: keeps the polygon from zigzagging. */
const SMOOTHING = 10
const PER_STATION = 8

// Quantities of an interval: a_x, a_n, a_y, d, mean u. Local unknowns: n of four stations, u of two, d.
const AX = 0
const AN = 1
const AY = 2
const D = 3
const UM = 4

/** Everything that is fixed between two stations, and scratch space. */
export const lapProblem = (circuit: Circuit, vehicle: Vehicle, grip: GripShare, bounds: OffsetBounds): LapProblem => {
  const n = circuit.count
  const nx = circuit.heading_rad.map((h) => -Math.sin(h))
  const ny = circuit.heading_rad.map(Math.cos)
  const mean = (column: Float64Array, i: number): number => (column[i] + column[i + 1 === n ? 0 : i + 1]) / 2
  const cosGrade = new Float64Array(n)
  const gradePull = new Float64Array(n)
  const sinBank = new Float64Array(n)
  const cosBank = new Float64Array(n)
  const flatSupport = new Float64Array(n)
  const flatSide = new Float64Array(n)
  const lift = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    const grade = mean(circuit.grade_rad, i)
    const bank = mean(circuit.bank_rad, i)
    cosGrade[i] = Math.cos(grade)
    gradePull[i] = GRAVITY_MPS2 * Math.sin(grade)
    sinBank[i] = Math.sin(bank)
    cosBank[i] = Math.cos(bank)
    flatSupport[i] = GRAVITY_MPS2 * cosGrade[i] * cosBank[i]
    flatSide[i] = GRAVITY_MPS2 * cosGrade[i] * sinBank[i]
    lift[i] = mean(circuit.kappaVertical_1pm, i) + (AIR_DENSITY_KGPM3 * vehicle.liftArea_m2) / (2 * vehicle.mass_kg)
  }
  const drag = (AIR_DENSITY_KGPM3 * vehicle.dragArea_m2) / (2 * vehicle.mass_kg)
  const force = vehicle.maxDriveForce_N / vehicle.mass_kg
  const power2 = (vehicle.power_W / vehicle.mass_kg) ** 2
  const brakeMost = grip.brake * vehicle.maxBrake_mps2
  // X = drive/(share of the driven axle) + brake, each on its own grip.
  const perDrive = 1 / (vehicle.driveShare * grip.drive * vehicle.muX)
  const perBrake = 1 / (grip.brake * vehicle.muX)
  const perSide = 1 / (grip.corner * vehicle.muY)
  const isBike = vehicle.kind === 'motorcycle' && vehicle.cgToRear_m && vehicle.cgHeight_m && vehicle.wheelbase_m
  const wheelie = isBike ? (vehicle.cgToRear_m ?? 0) / (vehicle.cgHeight_m ?? 1) : 1e3
  const stoppie = isBike ? ((vehicle.wheelbase_m ?? 0) - (vehicle.cgToRear_m ?? 0)) / (vehicle.cgHeight_m ?? 1) : 1e3

  // Geometry at the current point.
  const px = new Float64Array(n)
  const py = new Float64Array(n)
  const sideX = new Float64Array(n)
  const sideY = new Float64Array(n)
  const length = new Float64Array(n)
  const kappa = new Float64Array(n)
  // ∂κ_i by the offsets of stations i−1, i, i+1.
  const kBefore = new Float64Array(n)
  const kHere = new Float64Array(n)
  const kAfter = new Float64Array(n)
  const next = (i: number): number => (i + 1 === n ? 0 : i + 1)
  const before = (i: number): number => (i === 0 ? n - 1 : i - 1)

  const layOut = (x: Float64Array): void => {
    for (let i = 0; i < n; i++) {
      px[i] = circuit.x_m[i] + x[3 * i] * nx[i]
      py[i] = circuit.y_m[i] + x[3 * i] * ny[i]
    }
    for (let i = 0; i < n; i++) {
      const j = next(i)
      sideX[i] = px[j] - px[i]
      sideY[i] = py[j] - py[i]
      length[i] = Math.hypot(sideX[i], sideY[i])
    }
    for (let i = 0; i < n; i++) {
      const h = before(i)
      const j = next(i)
      const l = (length[h] + length[i]) / 2
      const turn = Math.atan2(sideX[h] * sideY[i] - sideY[h] * sideX[i], sideX[h] * sideX[i] + sideY[h] * sideY[i])
      kappa[i] = turn / l
      const across = (side: number, k: number): number => (sideX[side] * ny[k] - sideY[side] * nx[k]) / length[side] ** 2
      const along = (side: number, k: number): number => (sideX[side] * nx[k] + sideY[side] * ny[k]) / length[side]
      kBefore[i] = (across(h, h) + (kappa[i] * along(h, h)) / 2) / l
      kHere[i] = (-across(i, i) - across(h, i) - (kappa[i] * (along(h, i) - along(i, i))) / 2) / l
      kAfter[i] = (across(i, j) - (kappa[i] * along(i, j)) / 2) / l
    }
  }

  const q = new Float64Array(5)
  const quantities = (x: Float64Array, i: number): void => {
    const j = next(i)
    const k = (kappa[i] + kappa[j]) / 2
    const um = (x[3 * i + 1] + x[3 * j + 1]) / 2
    q[UM] = um
    q[D] = x[3 * i + 2]
    q[AN] = flatSupport[i] + (lift[i] - k * sinBank[i]) * um
    q[AY] = flatSide[i] + k * cosBank[i] * um
    q[AX] = (cosGrade[i] * (x[3 * j + 1] - x[3 * i + 1])) / (2 * length[i]) + gradePull[i] + drag * um + vehicle.rolling * q[AN]
  }

  const evaluate = (x: Float64Array, c: Float64Array): boolean => {
    layOut(x)
    for (let i = 0; i < n; i++) {
      if (!(x[3 * i + 1] > 0)) return false
      quantities(x, i)
      const at = PER_STATION * i
      const brake = q[D] - q[AX]
      const lengthways = q[D] * perDrive + brake * perBrake
      c[at] = x[3 * i] - bounds.low_m[i]
      c[at + 1] = bounds.high_m[i] - x[3 * i]
      c[at + 2] = q[D]
      c[at + 3] = brake
      c[at + 4] = Math.min(force, wheelie * q[AN]) - q[D]
      c[at + 5] = power2 - q[D] ** 2 * q[UM]
      c[at + 6] = Math.min(brakeMost, stoppie * q[AN]) - brake
      c[at + 7] = q[AN] ** 2 - lengthways ** 2 - (q[AY] * perSide) ** 2
      if (q[AN] <= 0) return false
    }
    return true
  }

  const cost = (x: Float64Array): number => {
    layOut(x)
    let sum = 0
    for (let i = 0; i < n; i++) {
      const j = next(i)
      sum += (2 * length[i]) / (cosGrade[i] * (Math.sqrt(x[3 * i + 1]) + Math.sqrt(x[3 * j + 1])))
      sum += (SMOOTHING * (kappa[j] - kappa[i]) ** 2) / circuit.step_m
    }
    return sum
  }

  // Gradients of the constraints of interval i by its quantities, rows as in `evaluate` from the third on.
  const cq = new Float64Array(30)
  const gradients = (): void => {
    const brake = q[D] - q[AX]
    const lengthways = q[D] * perDrive + brake * perBrake
    cq.fill(0)
    cq[D] = 1
    cq[5 + D] = 1
    cq[5 + AX] = -1
    cq[10 + D] = -1
    if (wheelie * q[AN] < force) cq[10 + AN] = wheelie
    cq[15 + D] = -2 * q[D] * q[UM]
    cq[15 + UM] = -(q[D] ** 2)
    cq[20 + D] = -1
    cq[20 + AX] = 1
    if (stoppie * q[AN] < brakeMost) cq[20 + AN] = stoppie
    cq[25 + AN] = 2 * q[AN]
    cq[25 + AY] = -2 * q[AY] * perSide ** 2
    cq[25 + D] = -2 * lengthways * (perDrive + perBrake)
    cq[25 + AX] = 2 * lengthways * perBrake
  }

  // Quantities by w = (κ mean, ℓ, u_i, u_j, d); second derivatives are few and written out where they are used.
  const jq = new Float64Array(25)
  const jacobian = (x: Float64Array, i: number): void => {
    const j = next(i)
    const k = (kappa[i] + kappa[j]) / 2
    const slope = cosGrade[i] / (2 * length[i])
    const rise = slope * (x[3 * j + 1] - x[3 * i + 1])
    jq.fill(0)
    jq[5 * UM + 2] = 0.5
    jq[5 * UM + 3] = 0.5
    jq[5 * D + 4] = 1
    jq[5 * AN + 0] = -sinBank[i] * q[UM]
    jq[5 * AN + 2] = (lift[i] - k * sinBank[i]) / 2
    jq[5 * AN + 3] = jq[5 * AN + 2]
    jq[5 * AY + 0] = cosBank[i] * q[UM]
    jq[5 * AY + 2] = (k * cosBank[i]) / 2
    jq[5 * AY + 3] = jq[5 * AY + 2]
    jq[5 * AX + 0] = vehicle.rolling * jq[5 * AN + 0]
    jq[5 * AX + 1] = -rise / length[i]
    jq[5 * AX + 2] = -slope + drag / 2 + vehicle.rolling * jq[5 * AN + 2]
    jq[5 * AX + 3] = slope + drag / 2 + vehicle.rolling * jq[5 * AN + 3]
  }

  const at = new Int32Array(7)
  // w by the local unknowns (n_h, n_i, n_j, n_m, u_i, u_j, d): only κ and ℓ mix offsets.
  const kRow = new Float64Array(4)
  const lRow = new Float64Array(2)
  const locate = (i: number): void => {
    const h = before(i)
    const j = next(i)
    const m = next(j)
    at.set([3 * h, 3 * i, 3 * j, 3 * m, 3 * i + 1, 3 * j + 1, 3 * i + 2])
    kRow[0] = kBefore[i] / 2
    kRow[1] = (kHere[i] + kBefore[j]) / 2
    kRow[2] = (kAfter[i] + kHere[j]) / 2
    kRow[3] = kAfter[j] / 2
    lRow[0] = -(sideX[i] * nx[i] + sideY[i] * ny[i]) / length[i]
    lRow[1] = (sideX[i] * nx[j] + sideY[i] * ny[j]) / length[i]
  }
  const add = (hessian: PeriodicBand, a: number, b: number, value: number): void => {
    const apart = b - a
    if (apart === 0) hessian[0][a] += value
    else if (apart > 0) {
      if (apart <= LAP_HALF_WIDTH) hessian[apart][a] += value
      else hessian[3 * n - apart][b] += value
    } else if (-apart <= LAP_HALF_WIDTH) hessian[-apart][b] += value
    else hessian[3 * n + apart][a] += value
  }

  const hq = new Float64Array(25)
  const half = new Float64Array(25)
  const hw = new Float64Array(25)
  const first = new Float64Array(5)
  const barrier = new Float64Array(5)
  const gw = new Float64Array(5)
  const c = new Float64Array(PER_STATION * n)
  const change = new Float64Array(4)

  /** Hessian of the constraints of one interval by its quantities, with first and barrier weights. */
  const weigh = (base: number, z: Float64Array, mu: number): void => {
    first.fill(0)
    barrier.fill(0)
    hq.fill(0)
    for (let k = 0; k < 6; k++) {
      const zk = z[base + 2 + k]
      const ck = c[base + 2 + k]
      for (let a = 0; a < 5; a++) {
        const ga = cq[5 * k + a]
        if (ga === 0) continue
        first[a] -= zk * ga
        barrier[a] -= (mu / ck) * ga
        for (let b = 0; b < 5; b++) hq[5 * a + b] += (zk / ck) * ga * cq[5 * k + b]
      }
    }
    const zPower = z[base + 5]
    const zGrip = z[base + 7]
    const sum = perDrive + perBrake
    hq[5 * D + D] += 2 * zPower * q[UM] + 2 * zGrip * sum * sum
    hq[5 * D + UM] += 2 * zPower * q[D]
    hq[5 * UM + D] += 2 * zPower * q[D]
    hq[5 * AN + AN] -= 2 * zGrip
    hq[5 * AY + AY] += 2 * zGrip * perSide ** 2
    hq[5 * D + AX] -= 2 * zGrip * sum * perBrake
    hq[5 * AX + D] -= 2 * zGrip * sum * perBrake
    hq[5 * AX + AX] += 2 * zGrip * perBrake * perBrake
  }

  /** The same by w: JᵀHJ, the curvature of the quantities themselves, and the lap time of the interval. */
  const intoIntermediates = (x: Float64Array, i: number): void => {
    const j = next(i)
    for (let r = 0; r < 5; r++)
      for (let b = 0; b < 5; b++) {
        let value = 0
        for (let s = 0; s < 5; s++) value += hq[5 * r + s] * jq[5 * s + b]
        half[5 * r + b] = value
      }
    for (let a = 0; a < 5; a++) {
      let slope = 0
      for (let r = 0; r < 5; r++) slope += jq[5 * r + a] * barrier[r]
      gw[a] = slope
      for (let b = a; b < 5; b++) {
        let value = 0
        for (let r = 0; r < 5; r++) value += jq[5 * r + a] * half[5 * r + b]
        hw[5 * a + b] = value
      }
    }
    const bend = first[AX] * vehicle.rolling + first[AN]
    const cross = (-bend * sinBank[i] + first[AY] * cosBank[i]) / 2
    hw[2] += cross
    hw[3] += cross
    const slope = cosGrade[i] / (2 * length[i])
    hw[6] += (first[AX] * 2 * slope * (x[3 * j + 1] - x[3 * i + 1])) / length[i] ** 2
    hw[7] += (first[AX] * slope) / length[i]
    hw[8] -= (first[AX] * slope) / length[i]
    // 2ℓ/(cosθ (√u_i + √u_j)).
    const ri = Math.sqrt(x[3 * i + 1])
    const rj = Math.sqrt(x[3 * j + 1])
    const together = ri + rj
    const scale = 2 / cosGrade[i]
    const byRoot = (-scale * length[i]) / together ** 2
    gw[1] += scale / together
    gw[2] += byRoot / (2 * ri)
    gw[3] += byRoot / (2 * rj)
    const twice = (2 * scale * length[i]) / together ** 3
    hw[7] -= scale / together ** 2 / (2 * ri)
    hw[8] -= scale / together ** 2 / (2 * rj)
    hw[12] += twice / (4 * ri * ri) - byRoot / (4 * ri ** 3)
    hw[18] += twice / (4 * rj * rj) - byRoot / (4 * rj ** 3)
    hw[13] += twice / (4 * ri * rj)
  }

  const assemble: LapProblem['assemble'] = (x, z, mu, hessian, gradient) => {
    evaluate(x, c)
    for (const diagonal of hessian) diagonal.fill(0)
    gradient.fill(0)
    for (let i = 0; i < n; i++) {
      const base = PER_STATION * i
      const j = next(i)
      quantities(x, i)
      gradients()
      jacobian(x, i)
      locate(i)
      weigh(base, z, mu)
      intoIntermediates(x, i)
      hessian[0][3 * i] += z[base] / c[base] + z[base + 1] / c[base + 1]
      gradient[3 * i] += -mu / c[base] + mu / c[base + 1]
      for (let a = 0; a < 4; a++) {
        const ka = kRow[a]
        const la = a === 1 ? lRow[0] : a === 2 ? lRow[1] : 0
        gradient[at[a]] += ka * gw[0] + la * gw[1]
        for (let b = a; b < 4; b++) {
          const lb = b === 1 ? lRow[0] : b === 2 ? lRow[1] : 0
          add(hessian, at[a], at[b], ka * kRow[b] * hw[0] + (ka * lb + la * kRow[b]) * hw[1] + la * lb * hw[6])
        }
        for (let w = 2; w < 5; w++) add(hessian, at[a], at[2 + w], ka * hw[w] + la * hw[5 + w])
      }
      for (let w = 2; w < 5; w++) {
        gradient[at[2 + w]] += gw[w]
        for (let v = w; v < 5; v++) add(hessian, at[2 + w], at[2 + v], hw[5 * w + v])
      }
      // Second derivative of the chord's length by its two offsets, weighted by all that depends on it.
      const byLength = 2 / (cosGrade[i] * (Math.sqrt(x[3 * i + 1]) + Math.sqrt(x[3 * j + 1]))) + first[AX] * jq[5 * AX + 1]
      const acrossI = (-sideX[i] * ny[i] + sideY[i] * nx[i]) / length[i]
      const acrossJ = (sideX[i] * ny[j] - sideY[i] * nx[j]) / length[i]
      add(hessian, at[1], at[1], (byLength * acrossI * acrossI) / length[i])
      add(hessian, at[2], at[2], (byLength * acrossJ * acrossJ) / length[i])
      add(hessian, at[1], at[2], (byLength * acrossI * acrossJ) / length[i])
      // Penalty on the change of curvature.
      change[0] = -kBefore[i]
      change[1] = kBefore[j] - kHere[i]
      change[2] = kHere[j] - kAfter[i]
      change[3] = kAfter[j]
      const weight = (2 * SMOOTHING) / circuit.step_m
      for (let a = 0; a < 4; a++) {
        gradient[at[a]] += weight * (kappa[j] - kappa[i]) * change[a]
        for (let b = a; b < 4; b++) add(hessian, at[a], at[b], weight * change[a] * change[b])
      }
    }
  }

  const slopes: LapProblem['slopes'] = (x, dx, out) => {
    layOut(x)
    const dw = new Float64Array(5)
    for (let i = 0; i < n; i++) {
      const base = PER_STATION * i
      quantities(x, i)
      gradients()
      jacobian(x, i)
      locate(i)
      dw[0] = kRow[0] * dx[at[0]] + kRow[1] * dx[at[1]] + kRow[2] * dx[at[2]] + kRow[3] * dx[at[3]]
      dw[1] = lRow[0] * dx[at[1]] + lRow[1] * dx[at[2]]
      dw[2] = dx[at[4]]
      dw[3] = dx[at[5]]
      dw[4] = dx[at[6]]
      out[base] = dx[3 * i]
      out[base + 1] = -dx[3 * i]
      for (let k = 0; k < 6; k++) {
        let value = 0
        for (let r = 0; r < 5; r++) {
          const gradientHere = cq[5 * k + r]
          if (gradientHere === 0) continue
          for (let a = 0; a < 5; a++) value += gradientHere * jq[5 * r + a] * dw[a]
        }
        out[base + 2 + k] = value
      }
    }
  }

  return { unknowns: 3 * n, constraints: PER_STATION * n, perStation: PER_STATION, brakeRow: 3, evaluate, cost, assemble, slopes }
}

/** A Hessian of the right shape for a lap problem. */
export const emptyLapHessian = (problem: LapProblem): PeriodicBand => emptyBand(problem.unknowns, LAP_HALF_WIDTH)

import { GRAVITY_MPS2 } from '../units/constants.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { brakeLimit, driveLimit, loadsAt, resistance, uniformGrip } from './grip.ts'

/** Performance of a vehicle on a flat dry road by the model. `zeroTo100_s`: null where it never gets there. */
export type VehicleSummary = {
  zeroTo100_s: number | null
  topSpeed_mps: number
  stopFrom100_m: number
  corner_g: number
  brake_g: number
  lean_deg: number | null
}

const HUNDRED_MPS = 100 / 3.6
const STEP_S = 0.01
const LONGEST_S = 120

/** Acceleration, top speed, stopping and cornering of a vehicle, from the same limits as the speed profile. */
export const vehicleSummary = (vehicle: Vehicle): VehicleSummary => {
  const road = loadsAt(vehicle, { kappa_1pm: 0, grade_rad: 0, bank_rad: 0, kappaVertical_1pm: 0 })
  const grip = uniformGrip(1)
  const drive = (v: number): number => driveLimit(vehicle, road, v * v, grip) - resistance(vehicle, road, v * v)
  const brake = (v: number): number => brakeLimit(vehicle, road, v * v, grip) + resistance(vehicle, road, v * v)
  let v = 0.1
  let time_s = 0
  let zeroTo100_s: number | null = null
  while (time_s < LONGEST_S) {
    const first = drive(v)
    if (first < 1e-3) break
    const next = v + (STEP_S * (first + drive(v + STEP_S * first))) / 2
    if (zeroTo100_s === null && next >= HUNDRED_MPS) zeroTo100_s = time_s + (STEP_S * (HUNDRED_MPS - v)) / (next - v)
    v = next
    time_s += STEP_S
  }
  let stopFrom100_m = 0
  for (let u = HUNDRED_MPS; u > 0; ) {
    const next = Math.max(0, u - STEP_S * brake(u))
    stopFrom100_m += ((u + next) / 2) * Math.min(STEP_S, u / brake(u))
    u = next
  }
  // Sideways at 100 km/h, where downforce has begun to help.
  const support = road.n0 + road.n1 * HUNDRED_MPS ** 2
  const corner_g = (vehicle.muY * support) / GRAVITY_MPS2
  return {
    zeroTo100_s,
    topSpeed_mps: v,
    stopFrom100_m,
    corner_g,
    brake_g: brake(HUNDRED_MPS) / GRAVITY_MPS2,
    lean_deg: vehicle.kind === 'motorcycle' ? (Math.atan(vehicle.muY) * 180) / Math.PI : null,
  }
}

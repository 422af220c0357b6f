import type { Circuit } from '../circuit/circuit.ts'
import { polygonOver } from '../circuit/polygon.ts'
import { type GripShare, stoppieShare, wheelieShare } from '../profile/grip.ts'
import { AIR_DENSITY_KGPM3, GRAVITY_MPS2 } from '../units/constants.ts'
import { airDrag_1pm } from '../vehicle/air.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import type { OffsetBounds } from './bounds.ts'

/** `perMetre_s`: cost of a metre of path beside its time; 0 by default. `entry_mps`: most speed at the start of an open course. */
export type LapProblemOptions = { perMetre_s?: number; entry_mps?: number }

/** Constraints of a station: two bounds of its offset, then six of the interval that begins there. */
export const PER_STATION = 8
export const ROWS = 6

/** Worth of a change of curvature (m³·s), under 0.01 % of any lap: keeps the polygon from zigzagging. */
const SMOOTHING = 10

/** All that stays the same while a lap is solved: road, vehicle and limits between each two stations, and the polygon of the path. */
export type LapModel = ReturnType<typeof lapModel>

/** The model of a lap of a vehicle between bounds, its grip for the whole lap or station by station. */
export const lapModel = (
  circuit: Circuit,
  vehicle: Vehicle,
  grip: GripShare | readonly GripShare[],
  bounds: OffsetBounds,
  options: LapProblemOptions,
) => {
  const n = circuit.count
  return {
    n,
    bounds,
    polygon: polygonOver(circuit),
    road: intervalRoad(circuit, vehicle),
    limit: intervalLimits(n, vehicle, grip),
    /** Most power of a unit of mass, squared. */
    power2: (vehicle.power_W / vehicle.mass_kg) ** 2,
    drag: airDrag_1pm(vehicle),
    rolling: vehicle.rolling,
    /** Weight of a change of curvature between stations. */
    smoothing: (2 * SMOOTHING) / circuit.step_m,
    perMetre_s: options.perMetre_s ?? 0,
    /** Most u at the start of an open course. */
    entryU: (options.entry_mps ?? 1e3) ** 2,
    /** On an open course the interval from the end back to the start only fixes the speed at the start. */
    isGap: (i: number): boolean => circuit.open === true && i === n - 1,
    /** True if curvature may be compared over an interval: not with the ends of an open course, which have none. */
    bends: (i: number): boolean => !circuit.open || (i > 0 && i < n - 2),
  }
}

/** Contribution of the road between stations i and i + 1 to support, lateral and longitudinal demand. */
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

/** Limits of vehicle and surface between stations i and i + 1; where the grip changes, the lesser one. */
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

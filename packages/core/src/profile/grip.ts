import { AIR_DENSITY_KGPM3, GRAVITY_MPS2 } from '../units/constants.ts'
import { airDrag_1pm } from '../vehicle/air.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'

/** Share of the vehicle's dry grip at one place, for braking, cornering and drive (0 … 1 and a little over). */
export type GripShare = { brake: number; corner: number; drive: number }

/** Named surfaces and the grip they are taken to leave (handbook values, changeable per stretch). */
export const surfaces = { dry: 1, damp: 0.8, wet: 0.6, standing: 0.4 } as const
export type Surface = keyof typeof surfaces

/** Named paces: the share of the grip that a plan lets a student use. */
export const paces = { sighting: 0.45, building: 0.6, steady: 0.75, quick: 0.85 } as const
export type PaceName = keyof typeof paces
/** No plan for a student goes above this pace. */
export const PACE_CEILING = 0.92

/** One value of λ for braking, cornering and drive. */
export const uniformGrip = (lambda: number): GripShare => ({ brake: lambda, corner: lambda, drive: lambda })

/** The road under one point of a path: curvature of the path, grade, bank and vertical curvature of the centreline. */
export type RoadPoint = { kappa_1pm: number; grade_rad: number; bank_rad: number; kappaVertical_1pm: number }

/** Coefficients of the model at one road point; u = v². Support a_n = n0 + n1·u, sideways demand a_y = y0 + y1·u. */
export type Loads = { n0: number; n1: number; y0: number; y1: number; sinGrade: number; cosGrade: number }

/** Support and sideways demand as linear functions of v² (first-order model of a banked, graded road). */
export const loadsAt = (vehicle: Vehicle, road: RoadPoint): Loads => {
  const sinBank = Math.sin(road.bank_rad)
  const cosBank = Math.cos(road.bank_rad)
  const sinGrade = Math.sin(road.grade_rad)
  const cosGrade = Math.cos(road.grade_rad)
  const lift = (AIR_DENSITY_KGPM3 * vehicle.liftArea_m2) / (2 * vehicle.mass_kg)
  return {
    n0: GRAVITY_MPS2 * cosGrade * cosBank,
    n1: -road.kappa_1pm * sinBank + road.kappaVertical_1pm + lift,
    y0: GRAVITY_MPS2 * cosGrade * sinBank,
    y1: road.kappa_1pm * cosBank,
    sinGrade,
    cosGrade,
  }
}

/**
 * Cornering limit: the least positive v (m/s) at which |a_y| = λ_y μ_y a_n or a_n = 0; Infinity where there is none.
 * Both conditions are linear in v². A road so banked that the vehicle would slide off at rest gives 0.
 */
export const corneringLimit = (loads: Loads, grip: number): number => {
  const { n0, n1, y0, y1 } = loads
  if (Math.abs(y0) > grip * n0) return 0
  const candidates = [(grip * n0 - y0) / (y1 - grip * n1), (grip * n0 + y0) / (-y1 - grip * n1), -n0 / n1]
  let min = Number.POSITIVE_INFINITY
  for (const u of candidates) if (u > 0 && u < min) min = u
  return Math.sqrt(min)
}

/** Deceleration by slope, air and rolling (m/s², positive slows) at v² = u. */
export const resistance = (vehicle: Vehicle, loads: Loads, u: number): number =>
  GRAVITY_MPS2 * loads.sinGrade + airDrag_1pm(vehicle) * u + vehicle.rolling * Math.max(0, loads.n0 + loads.n1 * u)

const ellipseRest = (loads: Loads, u: number, grip: number): number => {
  const support = loads.n0 + loads.n1 * u
  if (support <= 0) return 0
  const used = (loads.y0 + loads.y1 * u) / (grip * support)
  return used * used >= 1 ? 0 : Math.sqrt(1 - used * used)
}

/** Greatest longitudinal tyre demand for drive (m/s²) at v² = u. A motorcycle is also limited by its wheelie. */
export const driveLimit = (vehicle: Vehicle, loads: Loads, u: number, grip: GripShare): number => {
  const support = Math.max(0, loads.n0 + loads.n1 * u)
  const ellipse = vehicle.driveShare * grip.drive * vehicle.muX * support * ellipseRest(loads, u, grip.corner * vehicle.muY)
  const engine = Math.min(vehicle.power_W / Math.sqrt(Math.max(u, 1e-6)), vehicle.maxDriveForce_N) / vehicle.mass_kg
  return Math.min(ellipse, engine, support * wheelieShare(vehicle))
}

/** Greatest lengthways tyre demand for braking (m/s², positive) at v² = u. */
export const brakeLimit = (vehicle: Vehicle, loads: Loads, u: number, grip: GripShare): number => {
  const support = Math.max(0, loads.n0 + loads.n1 * u)
  const ellipse = grip.brake * vehicle.muX * support * ellipseRest(loads, u, grip.corner * vehicle.muY)
  return Math.min(ellipse, grip.brake * vehicle.maxBrake_mps2, support * stoppieShare(vehicle))
}

/** Drive (as a share of the support) at which a motorcycle's front wheel lifts; Infinity for others. */
export const wheelieShare = (vehicle: Vehicle): number =>
  vehicle.kind === 'motorcycle' && vehicle.cgToRear_m && vehicle.cgHeight_m
    ? vehicle.cgToRear_m / vehicle.cgHeight_m
    : Number.POSITIVE_INFINITY

/** Braking (as a share of the support) at which a motorcycle's rear wheel lifts; Infinity for others. */
export const stoppieShare = (vehicle: Vehicle): number =>
  vehicle.kind === 'motorcycle' && vehicle.cgToRear_m && vehicle.cgHeight_m && vehicle.wheelbase_m
    ? (vehicle.wheelbase_m - vehicle.cgToRear_m) / vehicle.cgHeight_m
    : Number.POSITIVE_INFINITY

/** The share of full dry grip that the tyres use: their ellipse for an acceleration `ax` (m/s², resistance included) at u = v²; NaN off the ground. */
export const gripShareUsed = (vehicle: Vehicle, loads: Loads, ax: number, u: number): number => {
  const support = loads.n0 + loads.n1 * u
  if (!(support > 0)) return Number.NaN
  const ay = loads.y0 + loads.y1 * u
  return Math.hypot(ax / ((ax > 0 ? vehicle.driveShare : 1) * vehicle.muX * support), ay / (vehicle.muY * support))
}

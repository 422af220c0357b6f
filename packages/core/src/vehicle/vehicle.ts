import { CoreError } from '../errors/errors.ts'
import type { Gearbox } from './gearbox.ts'

/** Kinds of vehicle that the model knows. */
export const vehicleKinds = ['car', 'single-seater', 'kart', 'motorcycle'] as const
export type VehicleKind = (typeof vehicleKinds)[number]

/**
 * A point mass with a grip ellipse. Names and units are those of the vehicle file.
 * `driveShare`: share of the grip that the driven axle can use for drive. `gears`: top speed (m/s) in each gear.
 */
export type Vehicle = {
  id: string
  name: string
  kind: VehicleKind
  mass_kg: number
  power_W: number
  maxDriveForce_N: number
  maxBrake_mps2: number
  muX: number
  muY: number
  dragArea_m2: number
  liftArea_m2: number
  rolling: number
  driveShare: number
  width_m: number
  gears: number[]
  shiftEngineSpeed_rpm: number
  /** What is usual for the kind where absent. */
  gearbox?: Gearbox | undefined
  /** Where the driver of a car sits; left where absent. */
  driverSits?: 'left' | 'right' | undefined
  wheelbase_m?: number | undefined
  cgHeight_m?: number | undefined
  cgToRear_m?: number | undefined
  /** Room that lines keep to the edges for this vehicle (m); the usual margin where absent. */
  margin_m?: number | undefined
}

/** Plausible range of each number of a vehicle: least and greatest value. */
export const vehicleRanges = {
  mass_kg: [60, 5000],
  power_W: [1000, 1_500_000],
  maxDriveForce_N: [100, 60_000],
  maxBrake_mps2: [1, 60],
  muX: [0.2, 3],
  muY: [0.2, 3],
  dragArea_m2: [0, 4],
  liftArea_m2: [-2, 8],
  rolling: [0, 0.1],
  driveShare: [0.05, 1],
  width_m: [0.4, 3],
  shiftEngineSpeed_rpm: [1000, 25_000],
} as const

/** The extra numbers of a motorcycle, with their ranges. */
const motorcycleRanges = { wheelbase_m: [0.8, 2.2], cgHeight_m: [0.3, 1.2], cgToRear_m: [0.2, 1.8] } as const

/** Least and greatest margin of a vehicle (m). */
const marginRange = [0, 3] as const

/** Fields of a vehicle that have a range. */
export type VehicleField = keyof typeof vehicleRanges | keyof typeof motorcycleRanges | 'margin_m' | 'gears'

/** @throws CoreError 'vehicle-range' naming the first field out of range */
export const checkVehicle = (vehicle: Vehicle): void => {
  const check = (field: VehicleField, value: number | undefined, [min, max]: readonly [number, number], gear = 0): void => {
    if (value === undefined || !(value >= min && value <= max))
      throw new CoreError('vehicle-range', gear > 0 ? `${field}, ${gear}` : field, { field, gear, value: String(value), min, max })
  }
  for (const [field, range] of Object.entries(vehicleRanges))
    check(field as keyof typeof vehicleRanges, vehicle[field as keyof typeof vehicleRanges], range)
  if (vehicle.margin_m !== undefined) check('margin_m', vehicle.margin_m, marginRange)
  if (vehicle.kind === 'motorcycle')
    for (const [field, range] of Object.entries(motorcycleRanges))
      check(field as keyof typeof motorcycleRanges, vehicle[field as keyof typeof motorcycleRanges], range)
  if (vehicle.gears.length === 0) throw new CoreError('vehicle-range', 'gears', { field: 'gears', gear: 0, value: '0', min: 1, max: 10 })
  vehicle.gears.forEach((top_mps, i) => {
    check('gears', top_mps, [i === 0 ? 3 : vehicle.gears[i - 1], 150], i + 1)
  })
}

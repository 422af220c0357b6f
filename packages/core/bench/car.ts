import type { Vehicle } from '../src/index.ts'

/** The vehicle of the benchmarks. */
export const car: Vehicle = {
  id: 'bench',
  name: 'Five-door hatchback',
  kind: 'car',
  mass_kg: 1250,
  power_W: 110_000,
  maxDriveForce_N: 6800,
  maxBrake_mps2: 10,
  muX: 1,
  muY: 1,
  dragArea_m2: 0.66,
  liftArea_m2: 0,
  rolling: 0.013,
  driveShare: 0.58,
  width_m: 1.78,
  gears: [15, 26, 37, 48, 59, 70],
  shiftEngineSpeed_rpm: 6200,
}

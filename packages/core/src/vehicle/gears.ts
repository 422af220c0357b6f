import type { Vehicle } from './vehicle.ts'

/** The lowest gear (from 1) whose top speed is not exceeded; the top gear above all. */
export const gearAt = (vehicle: Pick<Vehicle, 'gears'>, speed_mps: number): number => {
  const found = vehicle.gears.findIndex((top_mps) => speed_mps <= top_mps)
  return found < 0 ? vehicle.gears.length : found + 1
}

/** Engine speed (rpm) in a gear: proportional to road speed, the shift engine speed at the gear's top speed. */
export const engineSpeed = (vehicle: Pick<Vehicle, 'gears' | 'shiftEngineSpeed_rpm'>, speed_mps: number, gear: number): number =>
  (vehicle.shiftEngineSpeed_rpm * speed_mps) / vehicle.gears[gear - 1]

import type { Vehicle } from './vehicle.ts'

/** The most that an engine gives at a speed (m/s²): its power, or its force where that is less. */
export const maxEngineForce = (vehicle: Pick<Vehicle, 'power_W' | 'maxDriveForce_N' | 'mass_kg'>, speed_mps: number): number =>
  Math.min(vehicle.power_W / speed_mps, vehicle.maxDriveForce_N) / vehicle.mass_kg

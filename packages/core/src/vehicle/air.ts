import { AIR_DENSITY_KGPM3 } from '../units/constants.ts'
import type { Vehicle } from './vehicle.ts'

/** Air resistance per speed squared as a deceleration: ½ρ·CdA/m (1/m). */
export const airDrag_1pm = ({ dragArea_m2, mass_kg }: Pick<Vehicle, 'dragArea_m2' | 'mass_kg'>): number =>
  (AIR_DENSITY_KGPM3 * dragArea_m2) / (2 * mass_kg)

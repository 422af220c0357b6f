import type { Circuit } from '../circuit/circuit.ts'
import type { Line } from '../path/line.ts'
import type { Vehicle } from '../vehicle/vehicle.ts'
import { type Loads, loadsAt } from './grip.ts'

/** The model's coefficients under a line at station i: its own curvature on the centreline's grade, bank and crest. */
export const loadsOn = (circuit: Circuit, line: Pick<Line, 'kappa_1pm'>, vehicle: Vehicle, i: number): Loads =>
  loadsAt(vehicle, {
    kappa_1pm: line.kappa_1pm[i],
    grade_rad: circuit.grade_rad[i],
    bank_rad: circuit.bank_rad[i],
    kappaVertical_1pm: circuit.kappaVertical_1pm[i],
  })

/** Length (m) driven from station i to the next, along the grade. */
export const stepOn = (circuit: Circuit, line: Line, i: number): number => {
  const next = i + 1 === circuit.count ? 0 : i + 1
  return (line.stepPath_m[i] * 2) / (Math.cos(circuit.grade_rad[i]) + Math.cos(circuit.grade_rad[next]))
}

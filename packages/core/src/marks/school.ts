import type { Circuit } from '../circuit/circuit.ts'
import type { Turning } from '../path/turning.ts'
import type { GripShare } from '../profile/grip.ts'
import type { BrakingSchool } from './braking-school.ts'

/** Share of the planned brake that each school leaves between turn-in and apex. */
const brakeLeft: Record<BrakingSchool, number> = { straight: 0, blend: 0.3, trail: 1 }

/** The grip of a plan at each station: one share everywhere, the brake reduced between turn-in and apex by school. */
export const gripOfSchool = (circuit: Circuit, turnings: readonly Turning[], grip: GripShare, school: BrakingSchool): GripShare[] => {
  const columns = new Array<GripShare>(circuit.count).fill(grip)
  if (school === 'trail') return columns
  const inCorner = { ...grip, brake: grip.brake * brakeLeft[school] }
  for (const { turnIn, apex } of turnings) for (let i = turnIn; i !== apex; i = (i + 1) % circuit.count) columns[i] = inCorner
  return columns
}

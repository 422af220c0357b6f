import type { Circuit } from '../circuit/circuit.ts'
import type { Turning } from '../path/turning.ts'
import type { GripShare } from '../profile/grip.ts'
import type { BrakingSchool } from './braking-school.ts'

/** Share of the planned brake that each braking style leaves between turn-in and apex. */
export const brakeLeft: Record<BrakingSchool, number> = { straight: 0, blend: 0.3, trail: 1 }

/**
 * The grip of a plan at each station: one share everywhere, the brake reduced between turn-in and apex by braking style.
 * `leftAt`: share of the brake that is left in some corners, by their number, where it is not the style's own.
 */
export const gripOfSchool = (
  circuit: Circuit,
  turnings: readonly Turning[],
  grip: GripShare,
  school: BrakingSchool,
  leftAt: ReadonlyMap<number, number> = new Map(),
): GripShare[] => {
  const columns = new Array<GripShare>(circuit.count).fill(grip)
  turnings.forEach(({ turnIn, apex }, k) => {
    const left = leftAt.get(k) ?? brakeLeft[school]
    if (left === 1) return
    const inCorner = { ...grip, brake: grip.brake * left }
    // Where two corners overlap the lesser brake holds.
    for (let i = turnIn; i !== apex; i = (i + 1) % circuit.count) if (inCorner.brake < columns[i].brake) columns[i] = inCorner
  })
  return columns
}

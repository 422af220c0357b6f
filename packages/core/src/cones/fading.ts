import { nearestReference } from '../circuit/nearest-reference.ts'
import { type Level, levels } from '../day/level.ts'
import { markOf } from '../marks/mark.ts'
import type { Plan } from '../plan/plan.ts'
import type { Cone } from './placement.ts'
import { actedOn, type ConeKind } from './scheme.ts'

/** A group of cones and when it goes: the first level that does without it, and the lasting reference that takes over. */
export type Fading = {
  groupId: string
  cornerId: string
  kind: ConeKind
  /** Null: it stays for everybody. */
  goesAt: Level | null
  why: 'reference' | 'no-reference' | 'safety'
  reference: { name: string; past_m: number } | null
}

/** A reference this near along the road can take over from a cone (m); one acts at a mark from further off than one places a car by it. */
const REACH_M = { act: 40, place: 15 } as const

/**
 * How cones are faded out. Cones to place the car by go from the second level on, those to act on from the third, each only
 * where a landmark is near enough to take over. Sighters, pit lane and no-go cones stay.
 */
export const fadeCones = (plan: Pick<Plan, 'marks' | 'ground' | 'circuit'>, cones: readonly Cone[]): Fading[] => {
  const atMarks = new Map(cones.map((c) => [c.groupId, c]))
  return [...atMarks.values()].map(({ groupId, cornerId, kind, station_m }) => {
    const base = { groupId, cornerId, kind }
    if (kind === 'sighter' || kind === 'pit-lane' || kind === 'no-go') return { ...base, goesAt: null, why: 'safety', reference: null }
    const act = actedOn.has(kind)
    // Whoever does without the cone acts at the mark itself, wherever the cone stood for others.
    const at_m = markOf(plan.marks, cornerId, kind)?.station_m ?? station_m
    const reference = nearestReference(plan.ground, at_m, plan.circuit.length_m, act ? REACH_M.act : REACH_M.place)
    if (!reference) return { ...base, goesAt: null, why: 'no-reference', reference: null }
    return { ...base, goesAt: act ? 'steady' : 'building', why: 'reference', reference: { name: reference.name, past_m: reference.past_m } }
  })
}

/** True if a group of cones is left out for a level. */
export const hasFaded = ({ goesAt }: Fading, level: Level): boolean => goesAt !== null && levels.indexOf(goesAt) <= levels.indexOf(level)

/** The cones that are left for a level. */
export const conesForLevel = (cones: readonly Cone[], fadings: readonly Fading[], level: Level): Cone[] => {
  const gone = new Set(fadings.filter((f) => hasFaded(f, level)).map((f) => f.groupId))
  return cones.filter((c) => !gone.has(c.groupId))
}

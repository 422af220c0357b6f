import type { CallSheet } from '../calls/call-sheet.ts'
import { distanceAhead, isWithin, signedDistance } from '../circuit/station.ts'
import { type NeededRunOff, neededRunOffs } from '../corner-numbers/safety.ts'
import { markOf } from '../marks/mark.ts'
import type { Plan } from '../plan/plan.ts'
import { type HiddenMark, helpAt } from './hidden.ts'
import { APART_M, type Cone } from './placement.ts'
import { actedOn, type ConeKind } from './scheme.ts'
import { PAST_APEX_M } from './targets.ts'

/**
 * A place at which a cone misleads.
 * `past-apex`: reaction time would have put it before another corner's apex; it stands past that apex instead and `lost_s` of the reaction time are lost.
 * `before-apex`, `at-apex`: it does stand before, or at, another corner's apex. `helps`: what announces the mark in these three.
 * `too-near`: it stands within a metre of another group's. `run-off`: it was put by hand where a run-off is needed.
 */
export type ConeConflict = { groupId: string; cornerId: string; kind: ConeKind } & (
  | { conflict: 'past-apex' | 'before-apex' | 'at-apex'; otherCornerId: string; lost_s: number; helps: HiddenMark['helps'] }
  | { conflict: 'too-near'; other: Pick<Cone, 'groupId' | 'cornerId' | 'kind'>; distance_m: number }
  | { conflict: 'run-off'; otherCornerId: string }
)

/** True where a conflict is told only for completeness: it is cured. */
export const isCured = (c: ConeConflict): boolean => c.conflict === 'past-apex' && c.helps !== 'neither'

/** All places at which the cones of a plan mislead, after nudges and locks, in order of travel. `reaction_s`: that of the least experienced student. */
export const coneConflicts = (plan: Plan, cones: readonly Cone[], sheets: readonly CallSheet[], reaction_s: number): ConeConflict[] => {
  const helps = helpAt(plan, cones, sheets)
  const runOffs = neededRunOffs(plan)
  const found = new Map<string, ConeConflict>()
  const add = (c: ConeConflict): void => {
    const key = `${c.groupId} ${c.conflict} ${c.conflict === 'too-near' ? c.other.groupId : c.otherCornerId}`
    if (!found.has(key)) found.set(key, c)
  }
  cones.forEach((cone, i) => {
    const of = { groupId: cone.groupId, cornerId: cone.cornerId, kind: cone.kind }
    for (const at of apexConflicts(plan, cone, reaction_s)) add({ ...of, ...at, helps: helps(cone.cornerId, cone.kind as 'brake') })
    const inTheWay = inRunOff(plan, runOffs, cone)
    if (inTheWay) add({ ...of, conflict: 'run-off', otherCornerId: inTheWay.cornerId })
    for (const other of cones.slice(i + 1)) {
      const distance_m = Math.hypot(cone.x_m - other.x_m, cone.y_m - other.y_m)
      if (other.groupId !== cone.groupId && distance_m < APART_M - 1e-6)
        add({ ...of, conflict: 'too-near', other: { groupId: other.groupId, cornerId: other.cornerId, kind: other.kind }, distance_m })
    }
  })
  return [...found.values()]
}

/** A needed run-off in which a cone stands. No-go and pit-lane cones belong where they are. */
const inRunOff = (plan: Plan, runOffs: readonly NeededRunOff[], cone: Cone): NeededRunOff | undefined =>
  cone.kind === 'no-go' || cone.kind === 'pit-lane'
    ? undefined
    : runOffs.find((r) => r.side === cone.roadSide && isWithin(cone.station_m, r.from_m, r.to_m, plan.circuit.length_m))

type ApexConflict = { conflict: 'past-apex' | 'before-apex' | 'at-apex'; otherCornerId: string; lost_s: number }

/** How a cone to act on stands to the apexes of other corners near it. */
const apexConflicts = ({ circuit, corners, turnings, marks }: Plan, cone: Cone, reaction_s: number): ApexConflict[] => {
  const mark = actedOn.has(cone.kind) ? markOf(marks, cone.cornerId, cone.kind as 'brake') : undefined
  if (!mark) return []
  const before_m = signedDistance(cone.station_m, mark.station_m, circuit.length_m)
  const lost_s = Math.max(0, reaction_s - before_m / Math.max(1, mark.speed_mps))
  return corners.flatMap((corner, k): ApexConflict[] => {
    if (corner.id === cone.cornerId) return []
    const ahead_m = signedDistance(cone.station_m, circuit.s_m[turnings[k].apex], circuit.length_m)
    const otherCornerId = corner.id
    if (Math.abs(ahead_m) < PAST_APEX_M - 0.5) return [{ conflict: 'at-apex', otherCornerId, lost_s }]
    if (ahead_m > 0 && ahead_m <= Math.max(before_m, 0)) return [{ conflict: 'before-apex', otherCornerId, lost_s }]
    const isLast = distanceAhead(circuit.s_m[turnings[k].apex], cone.station_m, circuit.length_m) <= PAST_APEX_M + 1
    return cone.moved.includes('other-apex') && isLast ? [{ conflict: 'past-apex', otherCornerId, lost_s }] : []
  })
}

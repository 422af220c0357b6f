import { type CallSheet, callKey } from '../calls/call-sheet.ts'
import { LEAST_SIGHT_S, lateInSight, type MarkSight, sightTime } from '../corner-numbers/sight.ts'
import type { Plan } from '../plan/plan.ts'
import { type Cone, sighterGroup } from './placement.ts'

/** A mark that comes into sight too late, and what helps: a sighter that is seen itself, a call, or neither. */
export type HiddenMark = { cornerId: string; kind: MarkSight['kind']; time_s: number; helps: 'sighter' | 'call' | 'neither' }

/** Marks to drive by that come into sight less than three seconds before them, and what helps there. */
export const hiddenMarks = (plan: Plan, sight: readonly MarkSight[], cones: readonly Cone[], sheet: CallSheet): HiddenMark[] => {
  const called = new Set(sheet.calls.map((c) => callKey(c.cornerId, c.kind)))
  return lateInSight(sight).map(({ cornerId, kind, time_s }) => {
    const sighter = cones.find((c) => c.groupId === sighterGroup(cornerId, kind))
    const seen = sighter !== undefined && sightTime(plan, sighter.station_m) >= LEAST_SIGHT_S
    return { cornerId, kind, time_s, helps: seen ? 'sighter' : called.has(callKey(cornerId, kind)) ? 'call' : 'neither' }
  })
}

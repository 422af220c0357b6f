import { type CallSheet, callKey } from '../calls/call-sheet.ts'
import { lateInSight, type MarkSight, MIN_SIGHT_S, sightTime } from '../corner-numbers/sight.ts'
import type { Plan } from '../plan/plan.ts'
import type { Cone } from './placement.ts'
import { sighterGroup } from './targets.ts'

/**
 * A mark that comes into sight too late, and what helps: a sighter that is visible itself, a call that everyone gets, a call
 * that only some get (others want less talk, or its corner is silenced for them), or neither.
 */
export type HiddenMark = {
  cornerId: string
  kind: MarkSight['kind']
  time_s: number
  helps: 'sighter' | 'call' | 'call-for-some' | 'neither'
}

/**
 * Marks to drive by that come into sight less than three seconds before them, and what helps there. `sheets`: the day's
 * calls, one sheet per wish of its students.
 */
export const hiddenMarks = (
  plan: Plan,
  sight: readonly MarkSight[],
  cones: readonly Cone[],
  sheets: readonly CallSheet[],
): HiddenMark[] => {
  const helps = helpAt(plan, cones, sheets)
  return lateInSight(sight).map(({ cornerId, kind, time_s }) => ({ cornerId, kind, time_s, helps: helps(cornerId, kind) }))
}

/** The sighter that stands for a mark, and how long before it is reached it comes into sight itself (s); null where none stands. */
export const sighterOf = (
  plan: Plan,
  cones: readonly Cone[],
  cornerId: string,
  kind: MarkSight['kind'],
): { cone: Cone; time_s: number } | null => {
  const cone = cones.find((c) => c.groupId === sighterGroup(cornerId, kind))
  return cone ? { cone, time_s: sightTime(plan, cone.station_m) } : null
}

/** Tells of a mark what announces it: a sighter that can be seen in time, a call for all or some, or neither. */
export const helpAt = (
  plan: Plan,
  cones: readonly Cone[],
  sheets: readonly CallSheet[],
): ((cornerId: string, kind: MarkSight['kind']) => HiddenMark['helps']) => {
  const called = sheets.map((sheet) => new Set(sheet.calls.map((c) => callKey(c.cornerId, c.kind))))
  return (cornerId, kind) => {
    const sighter = sighterOf(plan, cones, cornerId, kind)
    if (sighter && sighter.time_s >= MIN_SIGHT_S) return 'sighter'
    const calls = called.filter((keys) => keys.has(callKey(cornerId, kind))).length
    return calls === 0 ? 'neither' : calls === sheets.length ? 'call' : 'call-for-some'
  }
}

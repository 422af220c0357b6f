import type { DrillKind, DrillResult } from '../drills/drill.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { Surface } from '../profile/grip.ts'
import type { RecallMark, RecallMode, RecallRound } from '../recall/index.ts'
import type { ConeState } from './cone-state.ts'
import { standing } from './standing.ts'

/** The parts of a briefing that a student acknowledges one by one. */
export const briefingParts = ['safety', 'flags', 'pits', 'signals', 'cones', 'car', 'circuit'] as const
export type BriefingPart = (typeof briefingParts)[number]

/** Incidents on track, and whether each is a condition to stop all runs. */
const incidentStops = {
  contact: true,
  'off-and-stuck': true,
  injury: true,
  'oil-or-debris': true,
  spin: false,
  'off-and-on': false,
  breakdown: false,
  other: false,
} as const
export type IncidentKind = keyof typeof incidentStops
export const incidentKinds = Object.keys(incidentStops) as IncidentKind[]
/** True if an incident is a condition to stop all runs. */
export const stopsAll = (what: IncidentKind): boolean => incidentStops[what]

/** Actions after an incident. */
export const incidentActions = ['stopped-all', 'called-in', 'flag-shown', 'talked', 'watched'] as const
export type IncidentAction = (typeof incidentActions)[number]

/** Strengths of rain that the weather station reports. */
export const rainKinds = ['dry', 'drizzle', 'rain', 'heavy-rain'] as const
export type Rain = (typeof rainKinds)[number]

type Common = { id: string; dayId: string; at: string }

/** Events of a day beside its runs, appended and never changed; an undo is an event too. */
export type DayEvent = Common &
  (
    | { kind: 'cone-report'; coneId: string; state: ConeState; error_m: number | null }
    | { kind: 'acknowledged'; studentId: string; part: BriefingPart }
    | { kind: 'radio-heard'; studentId: string }
    | { kind: 'quiz-answer'; studentId: string; questionId: string; cornerId: string | null; right: boolean }
    /** A round driven from memory. */
    | { kind: 'recalled'; studentId: string; mode: RecallMode; marks: RecallMark[]; lap_s: number | null }
    /** How many held up a hand when asked whether they want to work on a corner; the newest count of a corner stands. */
    | { kind: 'hands'; cornerId: string; hands: number }
    | { kind: 'undo'; undoes: string }
    /** A flag shown or withdrawn, at a corner or everywhere; `runId`: to one car alone. */
    | { kind: 'flag'; flag: string; cornerId: string | null; up: boolean; runId?: string | null | undefined }
    /** All runs stop until somebody decides. */
    | { kind: 'stop'; why: string }
    | { kind: 'restart'; stopId: string; decision: 'go-on' | 'all-in' }
    | {
        kind: 'incident'
        what: IncidentKind
        cornerId: string | null
        runId: string | null
        carNumber: string | null
        action: IncidentAction
      }
    /** An order of release: one run every `interval_s` seconds from `firstAt` on; coached or timed laps of each, and whether simulated cars drive them. */
    | {
        kind: 'release'
        runIds: string[]
        interval_s: number
        firstAt: string
        laps?: number | undefined
        timed?: boolean | undefined
        simulated?: boolean | undefined
      }
    /** The train behind the leader from a lap on, the one directly behind first; `leader`: number of the leader's own car, where it has a receiver. */
    | { kind: 'row'; runIds: string[]; lap: number; leader?: string | undefined }
    | { kind: 'radio'; to: string[]; text: string }
    | { kind: 'radio-answer'; radioId: string; runId: string }
    | { kind: 'drill'; studentId: string; drill: DrillKind; surface: Surface; result: DrillResult; exerciseId?: string | undefined }
    /** The one sentence that went with an attempt. */
    | { kind: 'drill-said'; studentId: string; drillId: string; sentence: string }
    /** A car without a known run, seen at a corner. */
    | { kind: 'car-seen'; carNumber: string; cornerId: string; code: MistakeCode | null }
    /** A report of the weather station. */
    | { kind: 'weather'; rain: Rain; air_C: number; simulated: boolean }
    /** A change for everybody because most got something wrong: a cone, a call, the briefing. */
    | { kind: 'teaching-changed'; cornerId: string; code: MistakeCode; what: string }
    /** A car through the timing beam at the line. */
    | { kind: 'beam'; carNumber: string; lapTime_s: number | null; simulated: boolean }
  )

/** The stop in force, or null: the newest one without a decision. */
export const stopNow = (events: readonly DayEvent[]): Extract<DayEvent, { kind: 'stop' }> | null => {
  const left = standing(events)
  const decided = new Set(left.flatMap((e) => (e.kind === 'restart' ? [e.stopId] : [])))
  return left.filter((e) => e.kind === 'stop').findLast((e) => !decided.has(e.id)) ?? null
}

/** A flag that is up: since when, where, and to whom alone. */
export type FlagUp = Extract<DayEvent, { kind: 'flag' }>

/** Flags that are up, oldest first: those whose last word at their place, and for their car, is that they are shown. */
export const flagsUp = (events: readonly DayEvent[]): FlagUp[] => {
  const last = new Map<string, FlagUp>()
  for (const event of standing(events)) {
    if (event.kind !== 'flag') continue
    const key = JSON.stringify([event.flag, event.cornerId, event.runId ?? null])
    last.delete(key)
    last.set(key, event)
  }
  return [...last.values()].filter((event) => event.up)
}

/** One student's preparation on a day: when each part was acknowledged, when the radio was heard, what was answered. */
export type Preparation = {
  acknowledged: Partial<Record<BriefingPart, string>>
  radioHeard: string | null
  answers: { questionId: string; cornerId: string | null; right: boolean }[]
  /** Rounds driven from memory, oldest first. */
  rounds: RecallRound[]
}

/** A student's preparation from the day's events; the first acknowledgement of a part counts. */
export const preparationOf = (events: readonly DayEvent[], studentId: string): Preparation => {
  const preparation: Preparation = { acknowledged: {}, radioHeard: null, answers: [], rounds: [] }
  for (const event of standing(events)) {
    if (!('studentId' in event) || event.studentId !== studentId) continue
    if (event.kind === 'acknowledged') preparation.acknowledged[event.part] ??= event.at
    else if (event.kind === 'radio-heard') preparation.radioHeard ??= event.at
    else if (event.kind === 'quiz-answer')
      preparation.answers.push({ questionId: event.questionId, cornerId: event.cornerId, right: event.right })
    else if (event.kind === 'recalled')
      preparation.rounds.push({ id: event.id, at: event.at, mode: event.mode, marks: event.marks, lap_s: event.lap_s })
  }
  return preparation
}

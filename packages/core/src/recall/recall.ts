import { signedDistance } from '../circuit/station.ts'
import type { Mark } from '../marks/mark.ts'
import { type Plan, planTimeAt, stationAtTime, wrapTime } from '../plan/index.ts'
import { nearestPairs } from '../units/index.ts'
import { overdueBy, type Recalled } from './spacing.ts'

/** What is done at a mark: the foot goes to the brake, leaves it, the hands turn, the foot goes to the throttle. */
export const recallActions = ['brake', 'release', 'turn-in', 'throttle'] as const
export type RecallAction = (typeof recallActions)[number]

/** How a lap is driven from memory: with all cones, with those that were not known yet, with none, or with eyes closed. */
export const recallModes = ['cones', 'fading', 'none', 'closed'] as const
export type RecallMode = (typeof recallModes)[number]

/** Something to be done at a place of the lap: station (m) and time from the line (s). */
export type RecallTarget = { cornerId: string; action: RecallAction; station_m: number; time_s: number }

/** How a target was met: seconds and metres late (negative: early); null where it was not tapped. */
export type RecallMark = { cornerId: string; action: RecallAction; off_s: number | null; off_m: number | null }

/** One round from memory, by its day's plan. `lap_s`: how long a lap took that was tapped with eyes closed, from line to line (s). */
export type RecallRound = { id: string; at: string; mode: RecallMode; marks: RecallMark[]; lap_s: number | null }

/** A tap: what was done, when in the lap (s). */
export type RecallTap = { action: RecallAction; time_s: number }

/**
 * How early and how late still counts as known (s). Late on the brake and early on the throttle are the sides on which a car leaves the
 * road, so they count as known least.
 */
const KNOWN_S: Record<RecallAction, { early: number; late: number }> = {
  brake: { early: 0.5, late: 0.2 },
  release: { early: 0.4, late: 0.5 },
  'turn-in': { early: 0.3, late: 0.3 },
  throttle: { early: 0.2, late: 0.6 },
}
/** With eyes closed, where nothing is seen, a whole second either way is known. */
const KNOWN_CLOSED_S = 1

/** A tap belongs to a target within this time (s); with eyes closed, one of each corner, within the longer one. */
const REACH_S = 2
const REACH_CLOSED_S = 5

/** True for what was met well enough. */
export const isKnown = ({ action, off_s }: Pick<RecallMark, 'action' | 'off_s'>, mode: RecallMode): boolean => {
  if (off_s === null) return false
  if (mode === 'closed') return Math.abs(off_s) <= KNOWN_CLOSED_S
  return off_s >= -KNOWN_S[action].early && off_s <= KNOWN_S[action].late
}

const isRecalled = (kind: Mark['kind']): kind is RecallAction => (recallActions as readonly string[]).includes(kind)

/** All that is to be done on a plan's lap, in order of time. A lift has no button; its corner is there by its turn-in. */
export const recallTargets = (plan: Plan): RecallTarget[] =>
  plan.marks
    .flatMap(({ kind, cornerId, station_m }) =>
      isRecalled(kind) ? [{ cornerId, action: kind, station_m, time_s: planTimeAt(plan, station_m) }] : [],
    )
    .sort((a, b) => a.time_s - b.time_s)

/** A part of the lap: from a moment of it (s) for so long (s), over the line where that comes. */
export type LapPart = { from_s: number; length_s: number }

/** Driven before a corner's first target and after its last (s). */
const BEFORE_S = 5
const AFTER_S = 1.5

/** The part in which a corner is driven from memory; null for one where nothing is to be done. */
export const lapPartOf = (targets: readonly RecallTarget[], cornerId: string, lapTime_s: number): LapPart | null => {
  const own = targets.filter((t) => t.cornerId === cornerId)
  const turnIn = own.find((t) => t.action === 'turn-in') ?? own[0]
  if (!turnIn) return null
  // Around its turn-in, since a corner may lie on the line.
  const around = own.map((t) => lateInLap(turnIn.time_s, t.time_s, lapTime_s))
  const [first_s, last_s] = [Math.min(...around), Math.max(...around)]
  return { from_s: wrapTime(turnIn.time_s + first_s - BEFORE_S, lapTime_s), length_s: BEFORE_S + last_s - first_s + AFTER_S }
}

/** The whole lap, begun before its first target, so that nobody has to act at once; an open circuit is driven from its start. */
export const wholeLapPart = ({ circuit, profile }: Pick<Plan, 'circuit' | 'profile'>, targets: readonly RecallTarget[]): LapPart => ({
  from_s: circuit.open ? 0 : wrapTime((targets[0]?.time_s ?? 0) - BEFORE_S, profile.lapTime_s),
  length_s: profile.lapTime_s,
})

/** Seconds from one moment of a lap to another, the shorter way round (negative: back). */
const lateInLap = (from_s: number, to_s: number, lapTime_s: number): number =>
  wrapTime(to_s - from_s + lapTime_s / 2, lapTime_s) - lapTime_s / 2

/**
 * Taps of a lap, or of a part of it, held against its targets: each to the nearest of its kind. `extra`: taps that belong to nothing.
 * Times are those of the plan's lap (s); cost grows with targets times taps.
 */
export const judgeTaps = (
  plan: Pick<Plan, 'circuit' | 'profile'>,
  targets: readonly RecallTarget[],
  taps: readonly RecallTap[],
  mode: RecallMode,
): { marks: RecallMark[]; extra: number } => {
  const lap_s = plan.profile.lapTime_s
  const { length_m } = plan.circuit
  const marks = new Map<RecallTarget, RecallMark>()
  for (const action of recallActions) {
    const own = targets.filter((t) => t.action === action)
    const times = taps.filter((t) => t.action === action).map((t) => t.time_s)
    const found = nearestPairs(
      own.map((t) => t.time_s),
      times,
      mode === 'closed' ? REACH_CLOSED_S : REACH_S,
      (target_s, tap_s) => lateInLap(target_s, tap_s, lap_s),
    )
    own.forEach((target, k) => {
      const tap = found[k]
      const off_m = tap && signedDistance(target.station_m, stationAtTime(plan, times[tap.arrival]), length_m)
      marks.set(target, { cornerId: target.cornerId, action, off_s: tap?.late ?? null, off_m })
    })
  }
  const judged = targets.flatMap((t) => marks.get(t) ?? [])
  return { marks: judged, extra: taps.length - judged.filter((m) => m.off_s !== null).length }
}

/** What is tapped with eyes closed: one thing a corner, its turn-in, so that hands and lap keep time. */
export const closedTargets = (targets: readonly RecallTarget[]): RecallTarget[] => targets.filter((t) => t.action === 'turn-in')

/** The target's name among those of a lap. */
export const targetKey = ({ cornerId, action }: Pick<RecallTarget, 'cornerId' | 'action'>): string => `${cornerId} ${action}`

/** Targets that were known when they were asked last, with eyes open. */
const knownLast = (rounds: readonly RecallRound[]): Set<string> => {
  const known = new Set<string>()
  for (const { mode, marks } of rounds)
    if (mode !== 'closed')
      for (const mark of marks)
        if (isKnown(mark, mode)) known.add(targetKey(mark))
        else known.delete(targetKey(mark))
  return known
}

/** Kinds of cone that tell a target. */
const toldBy: Record<RecallAction, readonly string[]> = {
  brake: ['brake', 'sighter'],
  release: [],
  'turn-in': ['turn-in'],
  throttle: ['apex', 'exit'],
}

/**
 * Cones that are shown in a round: all, none, or, while they fade, those of what was not known last time. So they go one by one as a lap
 * is learned, and come back where it is forgotten.
 */
export const conesShown = <C extends { cornerId: string; kind: string }>(
  cones: readonly C[],
  mode: RecallMode,
  rounds: readonly RecallRound[],
): C[] => {
  if (mode === 'cones') return [...cones]
  if (mode !== 'fading') return []
  const known = knownLast(rounds)
  return cones.filter((cone) => {
    const action = recallActions.find((a) => toldBy[a].includes(cone.kind))
    return action === undefined || !known.has(targetKey({ cornerId: cone.cornerId, action }))
  })
}

/** Corners as they were driven from memory, oldest first; one is right where all of it was known. */
const cornersDriven = (rounds: readonly RecallRound[]): Recalled =>
  rounds.flatMap(({ mode, marks }) =>
    mode === 'closed'
      ? []
      : [...new Set(marks.map((m) => m.cornerId))].map((id) => ({
          id,
          right: marks.every((m) => m.cornerId !== id || isKnown(m, mode)),
        })),
  )

/** Corners to drive next, in the order of the lap: those overdue, as the quiz spaces its questions; all of them before the first round. */
export const cornersDue = (targets: readonly RecallTarget[], rounds: readonly RecallRound[]): string[] => {
  const driven = cornersDriven(rounds)
  return [...new Set(targets.map((t) => t.cornerId))].filter((id) => (overdueBy(id, driven) ?? 1) > 0)
}

/** What was not known when it was asked last, by corner. */
export const recallGaps = (rounds: readonly RecallRound[]): { cornerId: string; marks: RecallMark[] }[] => {
  const last = new Map<string, { mark: RecallMark; mode: RecallMode }>()
  for (const { mode, marks } of rounds) if (mode !== 'closed') for (const mark of marks) last.set(targetKey(mark), { mark, mode })
  const gaps = new Map<string, RecallMark[]>()
  for (const { mark, mode } of last.values()) if (!isKnown(mark, mode)) gaps.set(mark.cornerId, [...(gaps.get(mark.cornerId) ?? []), mark])
  return [...gaps].map(([cornerId, marks]) => ({ cornerId, marks }))
}

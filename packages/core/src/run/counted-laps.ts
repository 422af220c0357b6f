import { standing } from '../day/standing.ts'
import { isDrivenKind, type LapKind } from './lap-kind.ts'
import type { RunEvent, SetAsideReason } from './run-events.ts'
import { runStateOf } from './run-state.ts'

type OfLap = { lap: number; cornerId?: string | undefined }

/** How a lap stands: its purpose, why it was set aside, and whether it counts. */
export type LapStanding = { kind: LapKind; aside: SetAsideReason | null; counts: boolean }

/** How the laps of a run stand, and whether what belongs to a lap, or to one pass of a corner in it, counts. */
export type CountedLaps = { of: (lap: number) => LapStanding; counts: (of: OfLap) => boolean }

/**
 * Which laps of a run count: coached and timed ones that nobody set aside, without the passes that traffic, a flag or a stop
 * spoilt. The one rule for findings, suggestions, averages, records and lists. Without events every lap counts. Cost: linear in events.
 */
export const countedLaps = (events: readonly RunEvent[]): CountedLaps => {
  const { kindOf, byInstructor } = runStateOf(events)
  const aside = new Map<number, SetAsideReason | null>()
  const passes = new Set<string>()
  for (const event of standing(events)) {
    if (event.kind === 'set-aside') aside.set(event.lap, event.reason)
    if (event.kind === 'passes-aside') for (const pass of event.passes) passes.add(`${pass.lap} ${pass.cornerId}`)
    if (event.kind === 'traffic')
      for (const pass of event.passes ?? (event.cornerId ? [{ lap: event.lap, cornerId: event.cornerId }] : []))
        passes.add(`${pass.lap} ${pass.cornerId}`)
  }
  const of = (lap: number): LapStanding => {
    const kind = kindOf(lap)
    const reason = byInstructor.has(lap) ? 'instructor' : (aside.get(lap) ?? null)
    return { kind, aside: reason, counts: isDrivenKind(kind) && reason === null }
  }
  const known = new Map<number, boolean>()
  const lapCounts = (lap: number): boolean => {
    const before = known.get(lap)
    if (before !== undefined) return before
    const counts = of(lap).counts
    known.set(lap, counts)
    return counts
  }
  return { of, counts: ({ lap, cornerId }) => lapCounts(lap) && !(cornerId !== undefined && passes.has(`${lap} ${cornerId}`)) }
}

/** A run's log, lap by lap. */
export type LapsOfRun = {
  laps: readonly OfLap[]
  findings: readonly OfLap[]
  review: {
    passes: readonly OfLap[]
    undecidable: readonly OfLap[]
    theoreticalBest: { pieces: readonly OfLap[] } | null
  }
}

/**
 * A run's log without the laps and passes that do not count. A theoretical best that was put together from such a lap is left
 * out until it is computed again. The same object comes back where all counts.
 */
export const withCountedLaps = <D extends LapsOfRun>(debrief: D, events: readonly RunEvent[]): D => {
  const { counts } = countedLaps(events)
  const { laps, findings, review } = debrief
  if ([...laps, ...findings, ...review.passes].every(counts)) return debrief
  const { theoreticalBest } = review
  return {
    ...debrief,
    laps: laps.filter(counts),
    findings: findings.filter(counts),
    review: {
      ...review,
      passes: review.passes.filter(counts),
      undecidable: review.undecidable.filter(counts),
      theoreticalBest: theoreticalBest?.pieces.every(counts) ? theoreticalBest : null,
    },
  }
}

/** The quickest lap time (s) of a list, or null for an empty one. */
export const bestLapTime = (laps: readonly { time_s: number }[]): number | null =>
  laps.length > 0 ? Math.min(...laps.map((lap) => lap.time_s)) : null

/** Kinds of event that change which laps or passes count. */
const deciding: ReadonlySet<RunEvent['kind']> = new Set([
  'sent-out',
  'lap-kind',
  'lap-driver',
  'set-aside',
  'passes-aside',
  'traffic',
  // A lap at another pace is held against the plan at that pace.
  'pace',
  'step',
  'undo',
])
/** True if an event may change which laps count. */
export const changesCounting = (event: RunEvent): boolean => deciding.has(event.kind)

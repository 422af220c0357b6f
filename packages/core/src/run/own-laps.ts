import type { RunEvent } from './run-events.ts'
import { instructorLaps } from './run-state.ts'

type OfLap = { lap: number }

/** A run's log, lap by lap. */
export type LapsOfRun = {
  laps: readonly OfLap[]
  findings: readonly OfLap[]
  review: { passes: readonly OfLap[]; undecidable: readonly OfLap[] }
}

/** True for what belongs to a lap that the student drove. The one rule for lists of laps, findings, observations and passes. */
export const isOwnLap = (events: readonly RunEvent[]): ((of: OfLap) => boolean) => {
  const driven = instructorLaps(events)
  return ({ lap }) => !driven.has(lap)
}

/**
 * A run's log without the laps that somebody else drove: laps, findings, passes and what could not be decided.
 * The same object comes back where all laps are the student's own.
 */
export const withOwnLaps = <D extends LapsOfRun>(debrief: D, events: readonly RunEvent[]): D => {
  if (instructorLaps(events).size === 0) return debrief
  const isOwn = isOwnLap(events)
  return {
    ...debrief,
    laps: debrief.laps.filter(isOwn),
    findings: debrief.findings.filter(isOwn),
    review: { ...debrief.review, passes: debrief.review.passes.filter(isOwn), undecidable: debrief.review.undecidable.filter(isOwn) },
  }
}

/** The quickest lap time (s) of a list, or null for an empty one. */
export const bestLapTime = (laps: readonly { time_s: number }[]): number | null =>
  laps.length > 0 ? Math.min(...laps.map((lap) => lap.time_s)) : null

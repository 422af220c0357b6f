import { type Run, seenAt } from '@ochote/contract'
import {
  countedLaps,
  evidenceSize,
  lapOfTouch,
  likelyMistakes,
  type MistakeCode,
  markOf,
  type Plan,
  paceAdvice,
  paceCeiling,
  planRisks,
  trendOf,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { recordQuery } from '../../data/api/queries.ts'
import type { useRunEvents } from '../../data/events/use-run-events.ts'
import { type LiveDay, useLiveValue } from '../../data/live/live-store.ts'
import { cornerBehind } from './next-call.ts'
import { shownInWords, timesInWords } from './run-words.ts'
import type { Position } from './use-position.ts'

type RunEvents = ReturnType<typeof useRunEvents>

/** The corner just passed, with the mistakes that are one touch away there. */
export const useCornerTouches = (run: Run, plan: Plan, live: LiveDay, position: Position | null, events: RunEvents) => {
  const record = useQuery({ ...recordQuery(run.studentId), staleTime: Number.POSITIVE_INFINITY })
  const corner = position ? cornerBehind(plan, position.station_m) : undefined
  const cornerId = corner?.id
  const passes = useLiveValue(live, (l) => l.passes())
  const pass = passes.findLast((p) => p.runId === run.id)
  const shown = pass && pass.cornerId === cornerId ? pass.findings : []
  const again = events.observations.findLast((o) => o.cornerId === cornerId)?.code
  const choices = useMemo(() => {
    if (!cornerId) return []
    const past = record.data ? seenAt(record.data, run.settings.circuitId) : []
    return likelyMistakes(past, cornerId, markOf(plan.marks, cornerId, 'brake') !== undefined, {
      thisRun: again ? [again] : [],
      risks: planRisks(plan, cornerId),
    })
  }, [cornerId, record.data, plan, run.settings.circuitId, again])
  // What positions show comes a moment later: nothing moves under the finger for it but the last one.
  const missing = shown.filter((f) => !choices.includes(f.code)).slice(0, 1)
  const codes = [...choices.slice(0, choices.length - missing.length), ...missing.map((f) => f.code)]
  const evidenceOf = (code: MistakeCode): string | undefined => shownInWords(shown, code)
  /** How often it was logged here in this run, and whether positions show it getting smaller. */
  const timesOf = (code: MistakeCode): string | undefined => {
    const times = events.observations.filter((o) => o.cornerId === cornerId && o.code === code).length
    if (times === 0) return undefined
    const sizes = passes
      .filter((p) => p.runId === run.id && p.cornerId === cornerId)
      .flatMap((p) => p.findings.filter((f) => f.code === code).flatMap((f) => evidenceSize(f) ?? []))
    return timesInWords(times, trendOf(sizes))
  }
  return {
    corner,
    codes,
    evidenceOf,
    timesOf,
    again,
    lap: corner && position ? lapOfTouch(plan, corner.id, position) : 0,
    record: record.data,
  }
}

/** Advice from the laps since the last step that count. */
export const adviceOf = (run: Run, plan: Plan, events: RunEvents, lap: number) => {
  const from = events.pace ? events.pace.lap + 1 : 1
  const { counts } = countedLaps(events.all)
  const done: number[] = []
  for (let n = from; n < lap; n++) if (counts({ lap: n })) done.push(n)
  const misses = events.observations
    .filter((o) => o.lap >= from && counts(o))
    .map(({ lap: at, cornerId, code }) => ({ lap: at, cornerId, code }))
  return paceAdvice(plan.settings.pace, done, misses, paceCeiling(run.settings.surface))
}

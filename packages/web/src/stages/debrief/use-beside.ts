import type { Debrief, ReferenceLap, Run } from '@ochote/contract'
import { bestLapTime, formatLapTime, type LapTrace, type Plan, planTrace, splicedTrace } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { referencesQuery, traceQuery } from '../../data/api/queries.ts'
import { type ChartLap, chartLap, traceOfWire } from './trace-columns.ts'
import { useTraces } from './use-traces.ts'

/** What a lap is compared with: the plan, the best of each corner, another lap of this log, or a lap of another run. */
export type Beside = { kind: 'plan' } | { kind: 'bank' } | { kind: 'lap'; lap: number } | { kind: 'run'; runId: string; lap: number }

/** One choice: `name` for charts and sentences, `words` for the list, with the lap time. */
export type BesideOption = { beside: Beside; name: string; words: string }

/** True if two choices are the same. */
export const isSameBeside = (a: Beside, b: Beside): boolean => JSON.stringify(a) === JSON.stringify(b)

const kindWords: Record<ReferenceLap['kind'], (r: ReferenceLap) => string> = {
  own: (r) => `own lap ${r.lap} of ${r.date}`,
  instructor: (r) => `instructor’s lap of ${r.date}`,
  other: (r) => `${r.studentName}, ${r.date}`,
}

/** Lap and run of a choice, where it is one. */
const lapOf = (run: Run, beside: Beside): { runId: string; lap: number } | null => {
  if (beside.kind === 'lap') return { runId: run.id, lap: beside.lap }
  return beside.kind === 'run' ? { runId: beside.runId, lap: beside.lap } : null
}

/** What a lap can be held against, and the one chosen as columns; null while it is read. */
export const useBeside = (run: Run, plan: Plan, debrief: Debrief, lap: number, beside: Beside, byInstructor: ReadonlySet<number>) => {
  const references = useQuery(referencesQuery(run.id))
  const chosen = lapOf(run, beside)
  const other = useQuery({ ...traceQuery(chosen?.runId ?? run.id, chosen?.lap ?? lap), enabled: chosen !== null })
  const { bank } = debrief.review
  const bankLaps = useMemo(() => (beside.kind === 'bank' && bank ? [...new Set(bank.pieces.map((p) => p.lap))] : []), [beside, bank])
  const pieces = useTraces(run.id, bankLaps)
  const options = useMemo((): BesideOption[] => {
    const own = (references.data ?? []).filter((r) => r.kind === 'own')
    const best = own.reduce<ReferenceLap | null>((least, r) => (least === null || r.time_s < least.time_s ? r : least), null)
    const here = bestLapTime(debrief.laps.filter((l) => !byInstructor.has(l.lap))) ?? Number.POSITIVE_INFINITY
    const option = (beside: Beside, name: string, time_s: number): BesideOption => ({
      beside,
      name,
      words: `${name}, ${formatLapTime(time_s)}`,
    })
    return [
      option({ kind: 'plan' }, 'the plan', plan.profile.lapTime_s),
      ...(bank ? [option({ kind: 'bank' }, 'best of each corner', bank.ideal_s)] : []),
      ...debrief.laps
        .filter((l) => l.lap !== lap)
        .map((l) => option({ kind: 'lap', lap: l.lap }, `${byInstructor.has(l.lap) ? 'instructor’s lap' : 'lap'} ${l.lap}`, l.time_s)),
      ...(references.data ?? []).map((r) =>
        option(
          { kind: 'run', runId: r.runId, lap: r.lap },
          `${r === best && r.time_s < here ? 'own best, ' : ''}${kindWords[r.kind](r)}`,
          r.time_s,
        ),
      ),
    ]
  }, [plan, bank, debrief.laps, lap, references.data, byInstructor])
  const name = options.find((option) => isSameBeside(option.beside, beside))?.name ?? 'lap'
  const trace = useMemo((): LapTrace | null => {
    if (beside.kind === 'plan') return planTrace(plan)
    if (beside.kind === 'bank') return bank ? splicedTrace(plan.circuit, bank.pieces, pieces) : null
    return other.data ? traceOfWire(other.data) : null
  }, [beside, plan, other.data, bank, pieces])
  const reference = useMemo((): ChartLap | null => (trace ? chartLap(name, trace, plan) : null), [trace, name, plan])
  return { options, reference, error: references.error ?? other.error }
}

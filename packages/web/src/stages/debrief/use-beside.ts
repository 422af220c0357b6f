import type { Debrief, ReferenceLap, Run } from '@ochote/contract'
import { formatLapTime, type LapTrace, type Plan, planTrace, splicedTrace } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { referencesQuery, traceQuery } from '../../data/api/queries.ts'
import { type ChartLap, chartLap, traceOfWire } from './trace-columns.ts'
import { useTraces } from './use-traces.ts'

/** What a lap is held against: the plan, the best of each corner, another lap of this log, or a lap of another run. */
export type Beside = 'plan' | 'bank' | `lap ${number}` | `run ${string} ${number}`

const kindWords: Record<ReferenceLap['kind'], (r: ReferenceLap) => string> = {
  own: (r) => `own lap ${r.lap} of ${r.date}`,
  instructor: (r) => `instructor’s lap of ${r.date}`,
  other: (r) => `${r.studentName}, ${r.date}`,
}

/** Lap and run of a choice, where it is one. */
const lapOf = (run: Run, beside: Beside): { runId: string; lap: number } | null => {
  if (beside === 'plan' || beside === 'bank') return null
  const parts = beside.split(' ')
  return parts[0] === 'lap' ? { runId: run.id, lap: Number(parts[1]) } : { runId: parts[1], lap: Number(parts[2]) }
}

/** What a lap can be held against, and the one chosen as columns; null while it is read. */
export const useBeside = (run: Run, plan: Plan, debrief: Debrief, lap: number, beside: Beside, byInstructor: ReadonlySet<number>) => {
  const references = useQuery(referencesQuery(run.id))
  const chosen = lapOf(run, beside)
  const other = useQuery({ ...traceQuery(chosen?.runId ?? run.id, chosen?.lap ?? lap), enabled: chosen !== null })
  const { bank } = debrief.review
  const bankLaps = useMemo(() => (beside === 'bank' && bank ? [...new Set(bank.pieces.map((p) => p.lap))] : []), [beside, bank])
  const pieces = useTraces(run.id, bankLaps)
  const options = useMemo((): [Beside, string][] => {
    const own = (references.data ?? []).filter((r) => r.kind === 'own')
    const best = own.reduce<ReferenceLap | null>((least, r) => (least === null || r.time_s < least.time_s ? r : least), null)
    const here = Math.min(...debrief.laps.filter((l) => !byInstructor.has(l.lap)).map((l) => l.time_s))
    return [
      ['plan', `the plan, ${formatLapTime(plan.profile.lapTime_s)}`],
      ...(bank ? [['bank', `best of each corner, ${formatLapTime(bank.ideal_s)}`] as [Beside, string]] : []),
      ...debrief.laps
        .filter((l) => l.lap !== lap)
        .map((l): [Beside, string] => [
          `lap ${l.lap}`,
          `${byInstructor.has(l.lap) ? 'instructor’s lap' : 'lap'} ${l.lap}, ${formatLapTime(l.time_s)}`,
        ]),
      ...(references.data ?? []).map((r): [Beside, string] => [
        `run ${r.runId} ${r.lap}`,
        `${r === best && r.time_s < here ? 'own best, ' : ''}${kindWords[r.kind](r)}, ${formatLapTime(r.time_s)}`,
      ]),
    ]
  }, [plan, bank, debrief.laps, lap, references.data, byInstructor])
  const name =
    beside === 'plan'
      ? 'the plan'
      : beside === 'bank'
        ? 'best of each corner'
        : (options.find(([o]) => o === beside)?.[1].replace(/, [^,]*$/, '') ?? 'lap')
  const trace = useMemo((): LapTrace | null => {
    if (beside === 'plan') return planTrace(plan)
    if (beside === 'bank') return bank ? splicedTrace(plan.circuit, bank.pieces, pieces) : null
    return other.data ? traceOfWire(other.data) : null
  }, [beside, plan, other.data, bank, pieces])
  const reference = useMemo((): ChartLap | null => (trace ? chartLap(name, trace, plan) : null), [trace, name, plan])
  return { options, reference, error: references.error ?? other.error }
}

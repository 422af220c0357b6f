import { type Debrief, type ReferenceLap, type Run, traceFromWire } from '@ochote/contract'
import { bestLapTime, formatDate, formatLapTime, type LapTrace, type Plan, planTrace, splicedTrace } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { referencesQuery, traceQuery } from '../../data/api/queries.ts'
import { say, staffLanguage } from '../../language/say.ts'
import { type ChartLap, chartLap } from './trace-columns.ts'
import { useTraces } from './use-traces.ts'

/** Comparisons of a lap: the plan, the best of each corner, another lap of this log, or a lap of another run. */
export type ComparedWith = { kind: 'plan' } | { kind: 'bank' } | { kind: 'lap'; lap: number } | { kind: 'run'; runId: string; lap: number }

/** One choice: `name` for charts and sentences, `words` for the list, with the lap time. */
export type ComparisonOption = { comparedWith: ComparedWith; name: string; words: string }

/** True if two choices are the same. */
const isSameComparison = (a: ComparedWith, b: ComparedWith): boolean => JSON.stringify(a) === JSON.stringify(b)

const kindWords: Record<ReferenceLap['kind'], (r: ReferenceLap) => string> = {
  own: (r) => say`own lap ${r.lap} of ${formatDate(r.date, staffLanguage)}`,
  instructor: (r) => say`instructor’s lap of ${formatDate(r.date, staffLanguage)}`,
  other: (r) => `${r.studentName}, ${r.date}`,
}

/** Lap and run of a choice, where it is one. */
const lapOf = (run: Run, comparedWith: ComparedWith): { runId: string; lap: number } | null => {
  if (comparedWith.kind === 'lap') return { runId: run.id, lap: comparedWith.lap }
  return comparedWith.kind === 'run' ? { runId: comparedWith.runId, lap: comparedWith.lap } : null
}

/** Comparisons on offer, and the chosen one as columns; null while it is loading. */
export const useComparison = (
  run: Run,
  plan: Plan,
  { debrief, counted }: { debrief: Debrief; counted: Debrief },
  lap: number,
  comparedWith: ComparedWith,
  byInstructor: ReadonlySet<number>,
) => {
  const references = useQuery(referencesQuery(run.id))
  const chosen = lapOf(run, comparedWith)
  const other = useQuery({ ...traceQuery(chosen?.runId ?? run.id, chosen?.lap ?? lap), enabled: chosen !== null })
  const { theoreticalBest } = counted.review
  const bestLaps = useMemo(
    () => (comparedWith.kind === 'bank' && theoreticalBest ? [...new Set(theoreticalBest.pieces.map((p) => p.lap))] : []),
    [comparedWith, theoreticalBest],
  )
  const pieces = useTraces(run.id, bestLaps)
  const options = useMemo((): ComparisonOption[] => {
    const ownLaps = (references.data ?? []).filter((r) => r.kind === 'own')
    const best = ownLaps.reduce<ReferenceLap | null>((min, r) => (min === null || r.time_s < min.time_s ? r : min), null)
    const here = bestLapTime(counted.laps) ?? Number.POSITIVE_INFINITY
    const option = (comparedWith: ComparedWith, name: string, time_s: number): ComparisonOption => ({
      comparedWith,
      name,
      words: `${name}, ${formatLapTime(time_s)}`,
    })
    return [
      option({ kind: 'plan' }, say`the plan`, plan.profile.lapTime_s),
      ...(theoreticalBest ? [option({ kind: 'bank' }, say`best of each corner`, theoreticalBest.ideal_s)] : []),
      ...debrief.laps
        .filter((l) => l.lap !== lap)
        .map((l) =>
          option({ kind: 'lap', lap: l.lap }, `${byInstructor.has(l.lap) ? say`instructor’s lap` : say`lap`} ${l.lap}`, l.time_s),
        ),
      ...(references.data ?? []).map((r) =>
        option(
          { kind: 'run', runId: r.runId, lap: r.lap },
          `${r === best && r.time_s < here ? say`own best, ` : ''}${kindWords[r.kind](r)}`,
          r.time_s,
        ),
      ),
    ]
  }, [plan, theoreticalBest, debrief.laps, counted.laps, lap, references.data, byInstructor])
  const name = options.find((option) => isSameComparison(option.comparedWith, comparedWith))?.name ?? say`lap`
  const trace = useMemo((): LapTrace | null => {
    if (comparedWith.kind === 'plan') return planTrace(plan)
    if (comparedWith.kind === 'bank') return theoreticalBest ? splicedTrace(plan.circuit, theoreticalBest.pieces, pieces) : null
    return other.data ? traceFromWire(other.data) : null
  }, [comparedWith, plan, other.data, theoreticalBest, pieces])
  const reference = useMemo((): ChartLap | null => (trace ? chartLap(name, trace, plan) : null), [trace, name, plan])
  return { options, reference, error: references.error ?? other.error }
}

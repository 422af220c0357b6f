import { traceFromWire, type WireTrace } from '@ochote/contract'
import type { LapTrace } from '@ochote/core'
import { type UseQueryResult, useQueries } from '@tanstack/react-query'
import { useMemo } from 'react'
import { traceQuery } from '../../data/api/queries.ts'

/** Kept outside of the hook: the same function gives the same list until an answer changes. */
const answered = (results: UseQueryResult<WireTrace>[]): WireTrace[] => results.flatMap((r) => (r.data ? [r.data] : []))

/** Several laps of a run as columns, by lap; those that have not come yet are missing. */
export const useTraces = (runId: string, laps: readonly number[]): ReadonlyMap<number, LapTrace> => {
  const wires = useQueries({ queries: laps.map((lap) => traceQuery(runId, lap)), combine: answered })
  return useMemo(() => new Map(wires.map((wire) => [wire.lap, traceFromWire(wire)])), [wires])
}

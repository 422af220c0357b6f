import type { StoredCircuit, StoredPlan } from '@ochote/contract'
import { type LineMethod, type Pin, type Plan, type PlanChoice, timedMethods } from '@ochote/core'
import { keepPreviousData, useQueries, useQuery } from '@tanstack/react-query'
import { useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import type { PlanNumbers } from '../../workers/plan.worker.ts'
import { secondPlanner, solvePlan, thePlanner } from '../../workers/planner.ts'
import { circuitQuery, queryClient, vehiclesQuery } from '../api/queries.ts'

/** A plan with how fresh it is: `computing` while newer numbers are on their way, `step` of the solver where it takes a while. */
export type PlanState = { plan: Plan | undefined; computing: boolean; step: number; error: Error | null }

/** What is computed from its key alone: it never grows old, and needs no network. */
export const forGood = {
  staleTime: Number.POSITIVE_INFINITY,
  gcTime: 120_000,
  retry: false,
  networkMode: 'always',
  structuralSharing: false,
} as const

/** By what a plan is kept. */
const keyOf = (stored: StoredPlan & { circuit: StoredCircuit }): readonly unknown[] => [
  stored.circuit.id,
  stored.circuit.version,
  stored.vehicle,
  stored.settings.surface,
  stored.settings.pace,
  stored.settings.school,
  stored.settings.method,
]

const isTimed = (settings: PlanChoice | undefined): boolean => timedMethods.includes(settings?.method ?? 'smoothest')

/**
 * Asks for a plan before the pages are drawn anew for its settings: the worker computes while they are. Nothing happens
 * where circuit or vehicle are not here yet.
 */
export const askAhead = (settings: PlanChoice): void => {
  const circuit = queryClient.getQueryData(circuitQuery(settings.circuitId).queryKey)
  const vehicle = queryClient.getQueryData(vehiclesQuery.queryKey)?.find((v) => v.id === settings.vehicleId)
  if (!circuit || !vehicle) return
  const stored = { circuit, vehicle, settings }
  const timed = isTimed(settings)
  void queryClient.prefetchQuery({
    queryKey: ['plan', timed ? 'quick' : 'full', keyOf(stored)],
    queryFn: () => (timed ? thePlanner().quick(stored) : thePlanner().plan(stored)),
    ...forGood,
  })
}

/** A line while a mark is dragged: its offsets (m) and lap time (s). */
export type FollowedLine = { offset_m: Float64Array; lapTime_s: number }

/**
 * Lines that follow a dragged mark, computed beside the interface: one at a time, of places that came meanwhile only the newest.
 * `follow(null)` lets the mark go.
 */
export const useFollowedLine = (settings: PlanChoice | undefined) => {
  const { stored } = useStoredPlan(settings)
  const [line, setLine] = useState<FollowedLine | null>(null)
  const wanted = useRef<{ pins: readonly Pin[]; station_m: number } | null>(null)
  const busy = useRef(false)
  const held = useRef(false)
  const follow = (next: { pins: readonly Pin[]; station_m: number } | null): void => {
    wanted.current = next
    held.current = next !== null
    if (!held.current) setLine(null)
    if (busy.current || !stored || !held.current) return
    busy.current = true
    void (async () => {
      for (let now = wanted.current; now !== null; now = wanted.current) {
        wanted.current = null
        // Where the road has no such place nothing follows; what is let go there is told in words.
        const found = await thePlanner()
          .follow(stored, now.pins, now.station_m)
          .catch(() => null)
        if (held.current) setLine(found)
      }
      busy.current = false
    })()
  }
  return { line, follow }
}

/** All that is stored of a plan's inputs, once it is here. */
const useStoredPlan = (settings: PlanChoice | undefined) => {
  const circuit = useQuery({ ...circuitQuery(settings?.circuitId ?? ''), enabled: Boolean(settings?.circuitId) })
  const vehicles = useQuery(vehiclesQuery)
  const vehicle = vehicles.data?.find((v) => v.id === settings?.vehicleId)
  const stored = settings && circuit.data && vehicle ? { circuit: circuit.data, vehicle, settings } : null
  const key = stored && keyOf(stored)
  return { stored, key, error: circuit.error ?? vehicles.error }
}

/**
 * The plan for some settings, computed in a worker and kept by its inputs. Where the line itself takes a while, numbers
 * on the last line of that method come at once and the line follows; the last plan stays until the next is there.
 */
export const usePlan = (settings: PlanChoice | undefined): PlanState => {
  const { stored, key, error } = useStoredPlan(settings)
  const [step, setStep] = useState(0)
  const timed = isTimed(settings)
  const asked = <T>(work: (inputs: StoredPlan) => Promise<T>): Promise<T> =>
    stored ? work(stored) : Promise.reject(new Error(say`Nothing to plan`))
  const quick = useQuery({
    queryKey: ['plan', 'quick', key],
    queryFn: () => asked((inputs) => thePlanner().quick(inputs)),
    enabled: stored !== null && timed,
    ...forGood,
  })
  const plan = useQuery({
    queryKey: ['plan', 'full', key],
    queryFn: ({ signal }) => asked((inputs) => (timed ? solvePlan(inputs, signal, setStep) : thePlanner().plan(inputs))),
    enabled: stored !== null,
    placeholderData: keepPreviousData,
    ...forGood,
  })
  const late = plan.isFetching || plan.isPlaceholderData
  return {
    plan: late && quick.data ? quick.data : plan.data,
    computing: late,
    step: late && timed ? step : 0,
    error: plan.error ?? error,
  }
}

/** Plans for the same circuit with other settings, in their order, once all of them are computed; undefined until then. */
export const usePlansFor = (settings: PlanChoice | undefined, changes: readonly Partial<PlanChoice>[]): Plan[] | undefined => {
  const circuit = useQuery({ ...circuitQuery(settings?.circuitId ?? ''), enabled: Boolean(settings?.circuitId) })
  const vehicles = useQuery(vehiclesQuery)
  return useQueries({
    queries: changes.map((change) => {
      const changed = settings && { ...settings, ...change }
      const vehicle = vehicles.data?.find((v) => v.id === changed?.vehicleId)
      const stored = changed && circuit.data && vehicle ? { circuit: circuit.data, vehicle, settings: changed } : null
      return {
        queryKey: ['plan', 'beside', stored && keyOf(stored)],
        queryFn: () => (stored ? secondPlanner().plan(stored) : Promise.reject(new Error(say`Nothing to plan`))),
        enabled: stored !== null,
        ...forGood,
      }
    }),
    combine: allOf,
  })
}

const allOf = (results: readonly { data: Plan | undefined }[]): Plan[] | undefined => {
  const plans = results.flatMap((r) => r.data ?? [])
  return plans.length === results.length ? plans : undefined
}

/** The same plan on lines by other methods, as far as they are computed. */
export const usePlansBy = (settings: PlanChoice | undefined, methods: readonly LineMethod[]): Plan[] => {
  const { stored } = useStoredPlan(settings)
  return useQueries({
    queries: methods.map((method) => {
      const withMethod = stored && { ...stored, settings: { ...stored.settings, method } }
      return {
        queryKey: ['plan', 'beside', withMethod && keyOf(withMethod)],
        queryFn: () => (withMethod ? secondPlanner().plan(withMethod) : Promise.reject(new Error(say`Nothing to plan`))),
        enabled: withMethod !== null,
        ...forGood,
      }
    }),
    combine: thoseThere,
  })
}

const thoseThere = (results: readonly { data: Plan | undefined }[]): Plan[] => results.flatMap((r) => r.data ?? [])

/** What tells one plan from another, in keys. */
export const planInWords = (plan: Plan | undefined): unknown[] => [
  plan?.circuit.name,
  plan?.vehicle,
  plan?.settings,
  plan?.profile.lapTime_s,
  plan?.ground,
  plan?.corners,
]

/** Worth, safety, gears and sight of a plan; undefined until they are there. */
export const useNumbers = (plan: Plan | undefined): PlanNumbers | undefined => {
  const numbers = useQuery({
    queryKey: ['plan', 'numbers', ...planInWords(plan)],
    queryFn: () => (plan ? secondPlanner().numbers(plan) : Promise.reject(new Error(say`Nothing to compute`))),
    enabled: plan !== undefined,
    placeholderData: keepPreviousData,
    ...forGood,
  })
  return numbers.data
}

import type { PlanChoice } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { circuitQuery, vehiclesQuery } from '../../app/queries.ts'
import { thePlanner } from '../../workers/planner.ts'

/** A plan with how fresh it is: `computing` while newer numbers are on their way. */
export type PlanState = { plan: Plan | undefined; computing: boolean; error: Error | null }

/** The plan for some settings, computed in the worker and kept by its inputs; the last one stays until the next is there. */
export const usePlan = (settings: PlanChoice | undefined): PlanState => {
  const circuit = useQuery({ ...circuitQuery(settings?.circuitId ?? ''), enabled: Boolean(settings?.circuitId) })
  const vehicles = useQuery(vehiclesQuery)
  const vehicle = vehicles.data?.find((v) => v.id === settings?.vehicleId)
  const ready = settings !== undefined && circuit.data !== undefined && vehicle !== undefined
  const plan = useQuery({
    queryKey: ['plan', circuit.data?.id, circuit.data?.cornerNames, vehicle, settings?.surface, settings?.pace, settings?.school],
    queryFn: async () => {
      if (!circuit.data || !vehicle || !settings) throw new Error('Nothing to plan')
      return thePlanner().plan({ circuit: circuit.data, vehicle, settings })
    },
    enabled: ready,
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 120_000,
    retry: false,
    networkMode: 'always',
    structuralSharing: false,
  })
  return {
    plan: plan.data,
    computing: plan.isFetching || plan.isPlaceholderData,
    error: plan.error ?? circuit.error ?? vehicles.error,
  }
}

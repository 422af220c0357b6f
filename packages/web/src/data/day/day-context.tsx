import { api, type Day, type DayPlan } from '@ochote/contract'
import type { PlanChoice } from '@ochote/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { createContext, type ReactNode, useCallback, useContext, useDeferredValue, useMemo, useState } from 'react'
import { call } from '../api/api-client.ts'
import { circuitsQuery, dayQuery, daysQuery, vehiclesQuery } from '../api/queries.ts'

/** The day that is being worked on, and the settings for which the numbers on every screen hold. */
export type DayContext = {
  day: Day | undefined
  settings: PlanChoice | undefined
  loading: boolean
  error: Error | null
  chooseDay: (dayId: string) => void
  changeSettings: (change: Partial<PlanChoice>) => void
  changePlan: (change: (plan: DayPlan) => DayPlan) => void
}

const Context = createContext<DayContext | null>(null)
const WRITE_DAY = ['write-day']
const CHOSEN = 'ochote.day'
const LOOSE = 'ochote.settings'

const storedSettings = (): Partial<PlanChoice> => {
  try {
    return JSON.parse(localStorage.getItem(LOOSE) ?? '{}') as Partial<PlanChoice>
  } catch {
    return {}
  }
}

/**
 * Provides the day and its settings. A change shows at once and is written to the day's document; where somebody else
 * was faster, the newer plan is shown with a word. Without any day the settings stay on this device.
 */
export const DayProvider = ({ children }: { children: ReactNode }) => {
  const client = useQueryClient()
  const days = useQuery(daysQuery)
  const [chosen, setChosen] = useState(() => localStorage.getItem(CHOSEN))
  const dayId = days.data?.find((d) => d.id === chosen)?.id ?? days.data?.[0]?.id
  const day = useQuery({ ...dayQuery(dayId ?? ''), enabled: dayId !== undefined })
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const [loose, setLoose] = useState(storedSettings)

  const write = useMutation({
    scope: { id: 'day' },
    mutationKey: WRITE_DAY,
    mutationFn: (plan: DayPlan) => {
      const latest = client.getQueryData<Day>(dayQuery(dayId ?? '').queryKey)
      return call(api.changeDay, { params: { dayId: dayId ?? '' }, body: { version: latest?.version ?? 0, plan } })
    },
    // What is on screen is newer than what was written only while another change waits behind this one.
    onSuccess: (written) =>
      client.setQueryData<Day>(dayQuery(written.id).queryKey, (now) =>
        now && client.isMutating({ mutationKey: WRITE_DAY }) > 1 ? { ...written, plan: now.plan } : written,
      ),
    onError: () => client.invalidateQueries({ queryKey: dayQuery(dayId ?? '').queryKey }),
  })
  const { mutate } = write

  const changePlan = useCallback(
    (change: (plan: DayPlan) => DayPlan): void => {
      if (!dayId) return
      const key = dayQuery(dayId).queryKey
      const now = client.getQueryData<Day>(key)
      if (!now) return
      const plan = change(now.plan)
      // An answer that is under way is older than this change and must not undo it on screen.
      void client.cancelQueries({ queryKey: key }, { revert: false })
      client.setQueryData<Day>(key, { ...now, plan })
      mutate(plan)
    },
    [client, dayId, mutate],
  )

  const looseSettings = useMemo((): PlanChoice | undefined => {
    const circuitId = circuits.data?.find((c) => c.id === loose.circuitId)?.id ?? circuits.data?.[0]?.id
    const vehicleId = vehicles.data?.find((v) => v.id === loose.vehicleId)?.id ?? vehicles.data?.[0]?.id
    if (!circuitId || !vehicleId) return undefined
    return {
      surface: 'dry',
      pace: 0.6,
      school: 'straight',
      method: 'smoothest',
      schemeId: 'pairs-and-colours',
      ...loose,
      circuitId,
      vehicleId,
    }
  }, [circuits.data, vehicles.data, loose])

  const value = useMemo(
    (): DayContext => ({
      day: day.data,
      settings: dayId ? day.data?.plan.settings : looseSettings,
      loading: days.isPending || circuits.isPending || vehicles.isPending || (dayId !== undefined && day.isPending),
      error: days.error ?? day.error ?? circuits.error ?? vehicles.error ?? write.error,
      chooseDay: (id) => {
        localStorage.setItem(CHOSEN, id)
        setChosen(id)
      },
      changeSettings: (change) => {
        if (dayId) {
          changePlan((plan) => ({ ...plan, settings: { ...plan.settings, ...change } }))
          return
        }
        const next = { ...loose, ...change }
        localStorage.setItem(LOOSE, JSON.stringify(next))
        setLoose(next)
      },
      changePlan,
    }),
    [
      day.data,
      day.isPending,
      day.error,
      dayId,
      looseSettings,
      days.isPending,
      days.error,
      circuits.isPending,
      circuits.error,
      vehicles.isPending,
      vehicles.error,
      write.error,
      changePlan,
      loose,
    ],
  )
  return <Context value={value}>{children}</Context>
}

/**
 * Gives the pages below the day a moment later than the rest: while they are drawn for it, in slices, what is computed for it
 * meanwhile is shown at once.
 */
export const Following = ({ children }: { children: ReactNode }) => {
  const context = useDeferredValue(useContext(Context))
  return <Context value={context}>{children}</Context>
}

/** The day and its settings. */
export const useDay = (): DayContext => {
  const context = useContext(Context)
  if (!context) throw new Error('No day around this component')
  return context
}

import { api, type Day, type DayPlan } from '@ochote/contract'
import { changedSettings, likelyDay, type PlanChoice } from '@ochote/core'
import { type QueryClient, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { createContext, type ReactNode, useCallback, useContext, useDeferredValue, useEffect, useMemo, useState } from 'react'
import { ApiProblem, call } from '../api/api-client.ts'
import { keepServerDay, readDay, serverDay } from '../api/as-on-server.ts'
import { circuitsQuery, dayQuery, daysQuery, vehiclesQuery } from '../api/queries.ts'
import { type LostField, mergeFields } from '../merge/merge-fields.ts'
import { writeMerged } from '../merge/write-merged.ts'
import { forgetUnsent, keepUnsent, takeUnsent } from './unsent-changes.ts'

/** The day that is being worked on, and the settings for which the numbers on every screen hold. */
export type DayContext = {
  day: Day | undefined
  /** What the pages show: the day's own settings, or others that somebody looks at here. */
  settings: PlanChoice | undefined
  /** Settings that are looked at here and differ from the day's plan. */
  lookedAt: readonly (keyof PlanChoice)[]
  loading: boolean
  error: Error | null
  /** A change that waits because the server is away. */
  waiting: Error | null
  /** Fields of a change that somebody else had changed meanwhile: theirs were kept. */
  lost: readonly LostField[]
  forgetLost: () => void
  chooseDay: (dayId: string) => void
  /** Shows the pages for other settings; nobody else sees anything of it. */
  lookAt: (change: Partial<PlanChoice>) => void
  /** Back to the day's own settings. */
  lookBack: () => void
  /** Changes the day's plan, for everybody. */
  changeSettings: (change: Partial<PlanChoice>) => void
  changePlan: (change: (plan: DayPlan) => DayPlan) => void
}

const Context = createContext<DayContext | null>(null)
const WRITE_DAY = ['write-day']
const CHOSEN = 'ochote.day'
const LOOSE = 'ochote.settings'
/** Time (ms) after which a change is sent again while the server is away. */
const AGAIN_MS = 3000

const storedSettings = (): Partial<PlanChoice> => {
  try {
    return JSON.parse(localStorage.getItem(LOOSE) ?? '{}') as Partial<PlanChoice>
  } catch {
    return {}
  }
}

/** True for a server that is away: a change can be sent again. */
const isAway = (error: Error): boolean => error instanceof ApiProblem && (error.problem.status === 0 || error.problem.status >= 502)

/** Whether no other change of a day waits behind the one that has just come back. */
const isLastWrite = (client: QueryClient): boolean => client.isMutating({ mutationKey: WRITE_DAY }) <= 1

/** Writes changes of a day: each shows at once; what others changed meanwhile and what was changed here come together. */
const useDayWrites = (dayId: string | undefined) => {
  const client = useQueryClient()
  const [lost, setLost] = useState<readonly LostField[]>([])
  const write = useMutation({
    scope: { id: 'day' },
    mutationKey: WRITE_DAY,
    networkMode: 'always',
    retry: (_, error) => isAway(error),
    retryDelay: AGAIN_MS,
    mutationFn: async ({ id, base, mine }: { id: string; base: DayPlan; mine: DayPlan }) => {
      const known = serverDay(id) ?? (await readDay(id))
      // What an earlier change brought along from others is in what the server has, and not in what was typed on.
      const { merged } = mergeFields(base, mine, known.plan)
      return writeMerged({
        base: known.plan,
        mine: merged,
        version: known.version,
        write: (plan, version) => call(api.changeDay, { params: { dayId: id }, body: { version, plan } }),
        read: async () => {
          const { plan, version } = await readDay(id)
          return { doc: plan, version }
        },
      })
    },
    onSuccess: ({ written, lost: fields }, { mine }) => {
      keepServerDay(written)
      if (isLastWrite(client)) forgetUnsent(written.id)
      if (fields.length > 0) setLost(fields)
      // What is on screen is newer than what was written only while another change waits behind this one.
      client.setQueryData<Day>(dayQuery(written.id).queryKey, (now) =>
        now && !isLastWrite(client) ? { ...written, plan: mergeFields(mine, now.plan, written.plan).merged } : written,
      )
      void client.invalidateQueries({ queryKey: daysQuery.queryKey, exact: true })
    },
    onError: (_, { id }) => {
      if (isLastWrite(client)) forgetUnsent(id)
      return client.invalidateQueries({ queryKey: dayQuery(id).queryKey })
    },
  })
  const { mutate } = write
  useEffect(() => {
    for (const { dayId: id, base, mine } of takeUnsent()) {
      keepUnsent(id, base, mine)
      const key = dayQuery(id).queryKey
      client.setQueryData<Day>(key, (now) => now && { ...now, plan: mergeFields(base, mine, now.plan).merged })
      mutate({ id, base, mine })
    }
  }, [client, mutate])
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
      keepUnsent(dayId, now.plan, plan)
      mutate({ id: dayId, base: now.plan, mine: plan })
    },
    [client, dayId, mutate],
  )
  const forgetLost = useCallback(() => setLost([]), [])
  return { changePlan, lost, forgetLost, error: write.error, waiting: write.isPending ? write.failureReason : null }
}

/** The day that the address names, as a page that was opened beside does; else the one chosen last here, or on this device. */
const firstChosen = (): string | null => {
  const named = new URLSearchParams(window.location.search).get('day')
  if (named) sessionStorage.setItem(CHOSEN, named)
  return named ?? sessionStorage.getItem(CHOSEN) ?? localStorage.getItem(CHOSEN)
}

/** The day chosen on this page; each page of the browser may have its own, and a new one begins with the last choice. `only`: that day. */
const useChosenDay = (only?: string) => {
  const days = useQuery(daysQuery)
  const [chosen, setChosen] = useState(firstChosen)
  const wanted = only ?? chosen
  const dayId = days.data?.find((d) => d.id === wanted && !d.template)?.id ?? likelyDay(days.data ?? [], dayjs().format('YYYY-MM-DD'))?.id
  const chooseDay = useCallback((id: string): void => {
    sessionStorage.setItem(CHOSEN, id)
    localStorage.setItem(CHOSEN, id)
    setChosen(id)
  }, [])
  return { days, dayId, chooseDay }
}

/** Settings of work without any day: they stay on this device. */
const useLooseSettings = () => {
  const circuits = useQuery(circuitsQuery)
  const vehicles = useQuery(vehiclesQuery)
  const [loose, setLoose] = useState(storedSettings)
  const settings = useMemo((): PlanChoice | undefined => {
    const usable = circuits.data?.filter((c) => c.archivedAt === null)
    const circuitId = circuits.data?.find((c) => c.id === loose.circuitId)?.id ?? usable?.[0]?.id
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
  const change = useCallback(
    (next: Partial<PlanChoice>): void =>
      setLoose((now) => {
        localStorage.setItem(LOOSE, JSON.stringify({ ...now, ...next }))
        return { ...now, ...next }
      }),
    [],
  )
  return { settings, change, loading: circuits.isPending || vehicles.isPending, error: circuits.error ?? vehicles.error }
}

type Looked = { dayId: string; change: Partial<PlanChoice> }

/** The settings that pages show: the day's own, changed by what is only looked at here. */
const useShownSettings = (day: Day | undefined) => {
  const [looked, setLooked] = useState<Looked | null>(null)
  const planned = day?.plan.settings
  const shown = useMemo(
    () => (planned && looked && looked.dayId === day?.id ? { ...planned, ...looked.change } : planned),
    [planned, looked, day?.id],
  )
  const lookedAt = useMemo(() => (planned && shown ? changedSettings(planned, shown) : []), [planned, shown])
  const dayId = day?.id
  const lookAt = useCallback(
    (change: Partial<PlanChoice>): void => {
      if (dayId) setLooked((now) => ({ dayId, change: { ...(now?.dayId === dayId ? now.change : {}), ...change } }))
    },
    [dayId],
  )
  const lookBack = useCallback(() => setLooked(null), [])
  return { shown, lookedAt, lookAt, lookBack }
}

/**
 * Provides the day and its settings. A change of the plan shows at once and is written to the day's document; what somebody else
 * changed meanwhile comes along. Other settings can be looked at without changing anything. Without any day the settings stay on this device.
 */
export const DayProvider = ({ dayId: only, children }: { dayId?: string; children: ReactNode }) => {
  const { days, dayId, chooseDay } = useChosenDay(only)
  const day = useQuery({ ...dayQuery(dayId ?? ''), enabled: dayId !== undefined })
  const loose = useLooseSettings()
  const { changePlan, lost, forgetLost, error: writeError, waiting } = useDayWrites(dayId)
  const { shown, lookedAt, lookAt, lookBack } = useShownSettings(day.data)
  const loading = days.isPending || loose.loading || (dayId !== undefined && day.isPending)
  const error = days.error ?? day.error ?? loose.error ?? writeError
  const { settings: looseSettings, change: changeLoose } = loose
  const value = useMemo(
    (): DayContext => ({
      day: day.data,
      // Until it is known whether there is a day, a choice would have nowhere to go.
      settings: dayId ? shown : days.isPending ? undefined : looseSettings,
      lookedAt,
      loading,
      error,
      waiting,
      lost,
      forgetLost,
      chooseDay,
      lookAt: dayId ? lookAt : changeLoose,
      lookBack,
      changeSettings: dayId
        ? (change) => {
            lookBack()
            changePlan((plan) => ({ ...plan, settings: { ...plan.settings, ...change } }))
          }
        : changeLoose,
      changePlan,
    }),
    [
      day.data,
      dayId,
      days.isPending,
      shown,
      looseSettings,
      lookedAt,
      loading,
      error,
      waiting,
      lost,
      forgetLost,
      chooseDay,
      lookAt,
      lookBack,
      changeLoose,
      changePlan,
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

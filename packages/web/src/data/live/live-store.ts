import { api, type CornerPass, type LiveEvent, type LiveFrame, type LivePosition, liveEventSchema } from '@ochote/contract'
import { useEffect, useSyncExternalStore } from 'react'
import { addressOf } from '../api/api-client.ts'
import { queryClient } from '../api/queries.ts'
import { runQueue } from '../events/run-queue.ts'
import { dayQueue } from '../events/use-day-events.ts'

/** A car's newest place, with the moment it came here (ms of this page's clock). */
export type CarNow = LivePosition & { arrivedAt: number }

/** The running day as a screen sees it. */
export type LiveDay = {
  cars: () => ReadonlyMap<string, CarNow>
  /** Corners passed, oldest first; the newest few hundred. */
  passes: () => readonly CornerPass[]
  connected: () => boolean
  subscribe: (listener: () => void) => () => void
}

const KEPT_PASSES = 400

type Handlers = { onEvent: (event: LiveEvent) => void }

/** Follows one day: reconnects by itself and asks for what it missed. */
const followDay = (dayId: string, { onEvent }: Handlers): LiveDay & { close: () => void } => {
  let cars: ReadonlyMap<string, CarNow> = new Map()
  let passes: readonly CornerPass[] = []
  let connected = false
  const listeners = new Set<() => void>()
  const tell = (): void => {
    for (const listener of listeners) listener()
  }
  const source = new EventSource(addressOf(api.live, { dayId }, undefined))
  const setConnected = (now: boolean): void => {
    if (connected === now) return
    connected = now
    tell()
  }
  source.onopen = () => setConnected(true)
  source.onerror = () => setConnected(false)
  source.addEventListener('frame', (message) => {
    // Twenty a second from our own server: taken as they are.
    const frame = JSON.parse((message as MessageEvent<string>).data) as LiveFrame
    if (frame.cars.length === 0) return
    const next = new Map(cars)
    for (const car of frame.cars) next.set(car.carNumber, { ...car, arrivedAt: performance.now() })
    cars = next
    tell()
  })
  source.addEventListener('happened', (message) => {
    const event = liveEventSchema.safeParse(JSON.parse((message as MessageEvent<string>).data))
    if (!event.success) return
    // Cars may have other runs now: those that drive are reported again at once.
    if (event.data.kind === 'runs') cars = new Map()
    if (event.data.kind === 'passed') {
      passes = [...passes.slice(-KEPT_PASSES), event.data]
      tell()
    }
    onEvent(event.data)
  })
  // Too long away: what was missed is not kept there any more, so everything is read anew.
  source.addEventListener('again', () => void queryClient.invalidateQueries())
  return {
    cars: () => cars,
    passes: () => passes,
    connected: () => connected,
    subscribe: (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    close: () => {
      source.close()
    },
  }
}

const nobody: ReadonlyMap<string, CarNow> = new Map()
const nothing: readonly CornerPass[] = []
const empty: LiveDay = { cars: () => nobody, passes: () => nothing, connected: () => false, subscribe: () => () => {} }

/** One connection for all that look at a day on this page. */
let shared: { dayId: string; day: ReturnType<typeof followDay>; users: number } | null = null
const waiting = new Set<() => void>()

const hear = (event: LiveEvent): void => {
  if (event.kind === 'run-event') void runQueue.adopt([event.event])
  else if (event.kind === 'day-event') void dayQueue.adopt([event.event])
  else if (event.kind === 'runs') void queryClient.invalidateQueries({ queryKey: ['runs'] })
  else if (event.kind === 'day') void queryClient.invalidateQueries({ queryKey: ['days', event.dayId], exact: true })
}

/** The running day, connected as long as somebody looks; what others log comes into this device's own record. */
export const useLiveDay = (dayId: string | undefined): LiveDay => {
  useEffect(() => {
    if (!dayId) return
    if (!shared || shared.dayId !== dayId) {
      shared?.day.close()
      shared = { dayId, day: followDay(dayId, { onEvent: hear }), users: 0 }
      for (const wake of waiting) wake()
    }
    const mine = shared
    mine.users++
    return () => {
      mine.users--
      if (mine.users > 0 || shared !== mine) return
      mine.day.close()
      shared = null
      for (const wake of waiting) wake()
    }
  }, [dayId])
  return useSyncExternalStore(
    (wake) => {
      waiting.add(wake)
      return () => waiting.delete(wake)
    },
    () => (shared && shared.dayId === dayId ? shared.day : empty),
  )
}

/** Something read from the running day whenever it changes; drawn again only when the value differs. */
export const useLiveValue = <T>(live: LiveDay, read: (live: LiveDay) => T): T => useSyncExternalStore(live.subscribe, () => read(live))

import { type Plan, planTimeAt, stationAtTime } from '@ochote/core'
import { useEffect, useMemo, useState } from 'react'
import { type CarNow, type LiveDay, useLiveValue } from '../../data/live/live-store.ts'

/** Place of the car by its newest position, carried on along the plan since then. `silent_s`: time without a position. */
export type Position = {
  fix: Pick<CarNow, 'station_m' | 'lap' | 'speed_mps' | 'time_s' | 'factor' | 'fault' | 'inPits'>
  station_m: number
  lap: number
  silent_s: number
}

/** Without a position for this long the plan carries it on no further (s). */
const LONGEST_SILENCE_S = 240
/** A silence shorter than this is the usual way between two positions (s). */
const TYPICAL_S = 0.4
/** A place is kept on this device so often (ms), for a screen that opens again without the server. */
const KEEP_EVERY_MS = 1000

/** A place as it was at a moment of the clock on the wall (ms since 1970). */
type Known = { fix: Position['fix']; at: number }

const keyOf = (runId: string): string => `ochote.place.${runId}`
const readKept = (runId: string): Known | null => {
  try {
    return JSON.parse(localStorage.getItem(keyOf(runId)) ?? 'null') as Known | null
  } catch {
    return null
  }
}

/** A place carried on by the plan for the time since it was known. */
export const placeAfter = (plan: Plan, { fix }: Known, silent_s: number): Position => {
  const carried_s = fix.inPits || silent_s < TYPICAL_S ? 0 : Math.min(silent_s, LONGEST_SILENCE_S) * fix.factor
  if (carried_s === 0) return { fix, station_m: fix.station_m, lap: fix.lap, silent_s }
  const reached = planTimeAt(plan, fix.station_m) + carried_s
  return {
    fix,
    station_m: stationAtTime(plan, reached),
    lap: fix.lap + Math.floor(reached / plan.profile.lapTime_s),
    silent_s,
  }
}

/**
 * Follows a run's car; goes on by the plan through silences and comes back by itself. A screen that opens without any
 * position goes on from the last one that this device saw; `atLine` says by hand that the car crosses the line just now.
 */
export const usePosition = (live: LiveDay, runId: string, plan: Plan): { position: Position | null; atLine: () => void } => {
  const received = useLiveValue(live, (l) => [...l.cars().values()].find((car) => car.runId === runId) ?? null)
  const [byHand, setByHand] = useState<Known | null>(() => readKept(runId))
  const fromLive = useMemo(
    (): Known | null => (received ? { fix: received, at: Date.now() - (performance.now() - received.arrivedAt) } : null),
    [received],
  )
  const newest = fromLive && (!byHand || fromLive.at >= byHand.at) ? fromLive : byHand
  const [now, setNow] = useState(Date.now)
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 100)
    return () => clearInterval(timer)
  }, [])
  useEffect(() => {
    const timer = setInterval(() => {
      const car = [...live.cars().values()].find((c) => c.runId === runId)
      if (car) localStorage.setItem(keyOf(runId), JSON.stringify({ fix: car, at: Date.now() - (performance.now() - car.arrivedAt) }))
    }, KEEP_EVERY_MS)
    return () => clearInterval(timer)
  }, [live, runId])
  const silent_s = newest ? Math.max(0, (Math.max(now, newest.at) - newest.at) / 1000) : 0
  const position = newest && silent_s <= LONGEST_SILENCE_S ? placeAfter(plan, newest, silent_s) : null
  const atLine = (): void => {
    const lap = (position?.lap ?? 0) + 1
    const fix = {
      station_m: 0,
      lap,
      speed_mps: plan.profile.speed_mps[0],
      time_s: position?.fix.time_s ?? 0,
      factor: 1,
      fault: null,
      inPits: false,
    }
    const next = { fix, at: Date.now() }
    localStorage.setItem(keyOf(runId), JSON.stringify(next))
    setByHand(next)
  }
  return { position, atLine }
}

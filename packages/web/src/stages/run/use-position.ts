import { type Plan, planTimeAt, stationAtTime } from '@ochote/core'
import { useEffect, useState } from 'react'
import { type CarNow, type LiveDay, useLiveValue } from '../../shared/live/live-store.ts'

/** Where the car is by its newest position, carried on along the plan since then. `silent_s`: how long none has come. */
export type Position = { fix: CarNow; station_m: number; lap: number; silent_s: number }

/** Without a position for this long the plan carries it on no further (s). */
const LONGEST_SILENCE_S = 240
/** A silence shorter than this is the usual way between two positions (s). */
const USUAL_S = 0.4

/** The station a plan reaches some time after another. */
export const carriedOn = (plan: Plan, station_m: number, after_s: number): number =>
  stationAtTime(plan, planTimeAt(plan, station_m) + after_s)

/** Follows a run's car; goes on by the plan through silences and comes back by itself. */
export const usePosition = (live: LiveDay, runId: string, plan: Plan): Position | null => {
  const fix = useLiveValue(live, (l) => [...l.cars().values()].find((car) => car.runId === runId) ?? null)
  const [silent_s, setSilent] = useState(0)
  useEffect(() => {
    if (!fix || fix.inPits) return setSilent(0)
    setSilent(0)
    const timer = setInterval(() => setSilent((performance.now() - fix.arrivedAt) / 1000), 100)
    return () => clearInterval(timer)
  }, [fix])
  if (!fix) return null
  const carried_s = fix.inPits || silent_s < USUAL_S ? 0 : Math.min(silent_s * fix.factor, LONGEST_SILENCE_S)
  const reached = planTimeAt(plan, fix.station_m) + carried_s
  const lap = fix.lap + Math.floor(reached / plan.profile.lapTime_s)
  return { fix, station_m: carried_s === 0 ? fix.station_m : carriedOn(plan, fix.station_m, carried_s), lap, silent_s }
}

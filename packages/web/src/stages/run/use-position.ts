import { api, type LiveFix, liveFixSchema } from '@ochote/contract'
import { atStation, type Plan, stationAtTime } from '@ochote/core'
import { useEffect, useRef, useState } from 'react'
import { addressOf } from '../../app/api-client.ts'

/** Where the car is by the latest fix, carried on along the plan since then. `silent_s`: how long no fix has come. */
export type Position = { fix: LiveFix; station_m: number; silent_s: number }

const TICK_MS = 100
/** Without a fix for this long the plan carries the position on no further (s). */
const LONGEST_SILENCE_S = 240

/** The station a plan reaches some time after another. */
export const carriedOn = (plan: Plan, station_m: number, after_s: number): number => {
  const { circuit, profile } = plan
  return stationAtTime(plan, atStation(circuit, profile.time_s, Math.min(station_m, circuit.s_m[circuit.count - 1])) + after_s)
}

/** Follows a run's positions; goes on by the plan through silences and comes back by itself. */
export const usePosition = (runId: string, plan: Plan | undefined, speedFactor: number, active: boolean): Position | null => {
  const latest = useRef<{ fix: LiveFix; at: number } | null>(null)
  const [position, setPosition] = useState<Position | null>(null)
  useEffect(() => {
    if (!active) return
    const source = new EventSource(addressOf(api.fixes, { runId }, undefined))
    source.onmessage = (message) => {
      const fix = liveFixSchema.safeParse(JSON.parse(message.data))
      if (!fix.success) return
      latest.current = { fix: fix.data, at: performance.now() }
      if (fix.data.finished) source.close()
    }
    return () => source.close()
  }, [runId, active])
  useEffect(() => {
    if (!plan || !active) return
    const timer = setInterval(() => {
      const known = latest.current
      if (!known) return
      const silent_s = (performance.now() - known.at) / 1000
      const carried_s = known.fix.finished ? 0 : Math.min(silent_s * speedFactor, LONGEST_SILENCE_S)
      setPosition({ fix: known.fix, silent_s, station_m: carriedOn(plan, known.fix.station_m, carried_s) })
    }, TICK_MS)
    return () => clearInterval(timer)
  }, [plan, speedFactor, active])
  return position
}

import { type Plan, signedDistance } from '@ochote/core'
import { useEffect, useRef, useState } from 'react'
import type { CarNow, LiveDay } from '../../data/live/live-store.ts'

/** A car that went by another one, where, and when (ms of the clock on the wall). */
export type Overtake = { by: string; of: string; station_m: number; at: number }

/** Cars further apart than this do not pass each other between two looks (m). */
const NEAR_M = 120
const KEPT = 8
const LOOK_EVERY_MS = 500

type Place = Pick<CarNow, 'carNumber' | 'station_m' | 'inPits' | 'speed_mps'>

/** Cars slower than this stand or roll to a place to stand (m/s): whoever drives by them has passed nobody. */
const STANDS_MPS = 3

/** Who went by whom between two looks at the cars: near each other both times, in the other order. */
export const overtakes = (
  plan: Pick<Plan, 'circuit'>,
  before: ReadonlyMap<string, Place>,
  now: ReadonlyMap<string, Place>,
): Omit<Overtake, 'at'>[] => {
  const { length_m } = plan.circuit
  const driving = [...now.values()].filter((c) => !c.inPits && c.speed_mps > STANDS_MPS && before.get(c.carNumber)?.inPits === false)
  return driving.flatMap((car) =>
    driving.flatMap((other) => {
      const [wasCar, wasOther] = [before.get(car.carNumber), before.get(other.carNumber)]
      if (other === car || !wasCar || !wasOther) return []
      const was_m = signedDistance(wasCar.station_m, wasOther.station_m, length_m)
      const is_m = signedDistance(car.station_m, other.station_m, length_m)
      const passed = was_m > 0 && is_m < 0 && was_m < NEAR_M && is_m > -NEAR_M
      return passed ? [{ by: car.carNumber, of: other.carNumber, station_m: car.station_m }] : []
    }),
  )
}

/** Who passed whom while this page was open, the newest first. */
export const useOvertakes = (live: LiveDay, plan: Plan): readonly Overtake[] => {
  const [seen, setSeen] = useState<readonly Overtake[]>([])
  const before = useRef(live.cars())
  useEffect(() => {
    before.current = live.cars()
    const timer = setInterval(() => {
      const now = live.cars()
      const found = overtakes(plan, before.current, now).map((one) => ({ ...one, at: Date.now() }))
      before.current = now
      if (found.length > 0) setSeen((list) => [...found, ...list].slice(0, KEPT))
    }, LOOK_EVERY_MS)
    return () => clearInterval(timer)
  }, [live, plan])
  return seen
}

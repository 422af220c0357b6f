import { distanceAhead, type Plan, placeAt, receiverAt, seedOf, wrapStation } from '@ochote/core'
import { useEffect, useRef, useState } from 'react'
import { say } from '../../language/say.ts'

/** Place of the simulated receiver (m, in the circuit's plane). */
export type ReceiverFix = { x_m: number; y_m: number; station_m: number; moving: boolean }

const TICK_MS = 200
/** The simulated truck's speed along the road, and within how much of the place it stops and is carried over (m). */
const TRUCK_MPS = 25
const ARRIVED_M = 0.5

/** A simulated receiver on a simulated truck: drives to a place when told, stands there, and errs like a real one. */
export const useSimulatedReceiver = (plan: Plan | undefined, start_m: number, name: string) => {
  const [fix, setFix] = useState<ReceiverFix | null>(null)
  const truck = useRef({ station_m: start_m, offset_m: 0 })
  const target = useRef<{ station_m: number; offset_m: number } | null>(null)
  useEffect(() => {
    truck.current = { station_m: start_m, offset_m: 0 }
    target.current = null
  }, [start_m])
  useEffect(() => {
    if (!plan) return
    const { circuit } = plan
    const seed = seedOf(say`receiver ${name}`)
    const began = performance.now()
    const tick = (): void => {
      const to = target.current
      if (to) {
        const left_m = distanceAhead(truck.current.station_m, to.station_m, circuit.length_m)
        const step_m = (TRUCK_MPS * TICK_MS) / 1000
        if (left_m <= Math.max(step_m, ARRIVED_M) || left_m > circuit.length_m - ARRIVED_M) {
          truck.current = to
          target.current = null
        } else truck.current = { station_m: wrapStation(truck.current.station_m + step_m, circuit.length_m), offset_m: 0 }
      }
      const truth = placeAt(circuit, truck.current.station_m, truck.current.offset_m)
      setFix({
        ...receiverAt(truth, (performance.now() - began) / 1000, seed),
        station_m: truck.current.station_m,
        moving: target.current !== null,
      })
    }
    tick()
    const timer = setInterval(tick, TICK_MS)
    return () => clearInterval(timer)
  }, [plan, name])
  return {
    fix,
    driveTo: (station_m: number, offset_m: number) => {
      target.current = { station_m, offset_m }
    },
  }
}

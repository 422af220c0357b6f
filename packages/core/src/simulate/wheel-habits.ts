import { distanceAhead, stationIndex } from '../circuit/station.ts'
import { type MarkKind, markOf } from '../marks/mark.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'

/** Actions of the hands: gear, and the wheel as the curvature (1/m) that its angle stands for. */
type Hands = { gear: Uint8Array; wheel_1pm: Float64Array }

/** One mistake of the hands; false where the corner has none of that kind to make. */
type WheelHabit = (plan: Plan, cornerId: string, size: number, hands: Hands, speed_mps: Float64Array) => boolean

/** Stations from some seconds after one mark to some seconds after another. */
const span = (
  plan: Plan,
  cornerId: string,
  from: { kind: MarkKind; later_s: number },
  to: { kind: MarkKind; later_s: number },
): number[] | null => {
  const { circuit } = plan
  const place = ({ kind, later_s }: { kind: MarkKind; later_s: number }): number | null => {
    const mark = markOf(plan.marks, cornerId, kind)
    return mark ? mark.station_m + later_s * mark.speed_mps : null
  }
  const [from_m, to_m] = [place(from), place(to)]
  if (from_m === null || to_m === null) return null
  const first = stationIndex(circuit, from_m)
  const count = Math.round(distanceAhead(from_m, to_m, circuit.length_m) / circuit.step_m)
  return Array.from({ length: count + 1 }, (_, k) => (first + k) % circuit.count)
}

/** First station of a list at which the gear changes, as an index into the list; −1 where it does not. */
const shiftIn = (stations: readonly number[], gear: Uint8Array, up: boolean): number =>
  stations.findIndex((i, k) => k > 0 && (up ? gear[i] > gear[stations[k - 1]] : gear[i] < gear[stations[k - 1]]))

/** Hands of each mistake; sizes in seconds, for a caught slide a share of the peak curvature. */
export const wheelHabits: Partial<Record<LogCode, WheelHabit>> = {
  'wrong-gear': (plan, cornerId, size, { gear }) => {
    const stations = span(plan, cornerId, { kind: 'turn-in', later_s: -0.6 }, { kind: 'throttle', later_s: size })
    if (!stations) return false
    const max = plan.vehicle.gears.length
    if (gear[stations[stations.length >> 1]] >= max) return false
    for (const i of stations) gear[i] = Math.min(max, gear[i] + 1)
    return true
  },
  'shift-late': (plan, cornerId, size, { gear }) => {
    const stations = span(plan, cornerId, { kind: 'brake', later_s: 0 }, { kind: 'turn-in', later_s: size })
    const high = stations ? gear[stations[0]] : 0
    const turning = span(plan, cornerId, { kind: 'brake', later_s: 0 }, { kind: 'turn-in', later_s: -0.2 })
    if (stations && turning && gear[turning[turning.length - 1]] !== gear[stations[stations.length - 1]]) return false
    if (!stations || gear[stations[stations.length - 1]] >= high) return false
    // The last change down waits until some time after turn-in.
    const low = gear[stations[stations.length - 1]]
    for (const i of stations) gear[i] = Math.max(gear[i], low + 1)
    return true
  },
  // Both hands wait for the next gear, and what comes after it waits too.
  'shift-slow': (plan, cornerId, size, { gear }, speed_mps) => {
    const stations = span(plan, cornerId, { kind: 'brake', later_s: 0 }, { kind: 'turn-in', later_s: 0 })
    if (!stations) return false
    const downs = stations.flatMap((i, k) => (k > 0 && gear[i] < gear[stations[k - 1]] ? [k] : []))
    if (downs.length < 2) return false
    const before = gear[stations[downs[1] - 1]]
    let waited_s = 0
    let k = downs[1]
    for (; k < stations.length && waited_s < size; k++) waited_s += plan.circuit.step_m / speed_mps[stations[k]]
    if (waited_s < size) return false
    for (let j = downs[1]; j < k; j++) gear[stations[j]] = before
    return true
  },
  'shift-early': (plan, cornerId, size, { gear }, speed_mps) => {
    const stations = span(plan, cornerId, { kind: 'throttle', later_s: 0 }, { kind: 'exit', later_s: 2.5 })
    if (!stations) return false
    const at = shiftIn(stations, gear, true)
    const exit = span(plan, cornerId, { kind: 'throttle', later_s: 0 }, { kind: 'exit', later_s: 0 })
    if (at < 2 || !exit || at < exit.length) return false
    const from = Math.max(1, Math.min(at - Math.round((size * speed_mps[stations[at]]) / plan.circuit.step_m), exit.length - 12))
    for (let k = from; k < at; k++) gear[stations[k]] = gear[stations[at]]
    return true
  },
  'steer-caught': (plan, cornerId, size, { wheel_1pm }) => {
    const stations = span(plan, cornerId, { kind: 'throttle', later_s: 0.2 }, { kind: 'throttle', later_s: 1 })
    const k = plan.corners.findIndex((c) => c.id === cornerId)
    if (!stations || k < 0) return false
    const outward = plan.corners[k].side === 'left' ? -1 : 1
    stations.forEach((i, j) => {
      const share = Math.sin((Math.PI * j) / Math.max(1, stations.length - 1))
      wheel_1pm[i] = (1 - share) * wheel_1pm[i] + share * outward * size * plan.turnings[k].peakKappa_1pm
    })
    return true
  },
}

import type { LapTrace } from '@ochote/core'
import type { WireTrace } from '../debrief.ts'

/** Decimals that each column of a trace keeps on the wire: more than any log can tell. */
const digits = { time_s: 3, speed_mps: 2, offset_m: 2, brake: 3, throttle: 3, kappa_1pm: 5, wheel_1pm: 5, gear: 0 } as const

const rounded = (column: ArrayLike<number>, decimals: number): number[] => {
  const scale = 10 ** decimals
  return Array.from(column, (v) => Math.round(v * scale) / scale)
}

/** A lap's columns as plain arrays, for JSON. */
export const traceToWire = (lap: number, trace: LapTrace): WireTrace => ({
  lap,
  lapTime_s: trace.lapTime_s,
  time_s: rounded(trace.time_s, digits.time_s),
  speed_mps: rounded(trace.speed_mps, digits.speed_mps),
  offset_m: rounded(trace.offset_m, digits.offset_m),
  brake: rounded(trace.brake, digits.brake),
  throttle: rounded(trace.throttle, digits.throttle),
  kappa_1pm: rounded(trace.kappa_1pm, digits.kappa_1pm),
  wheel_1pm: rounded(trace.wheel_1pm, digits.wheel_1pm),
  gear: Array.from(trace.gear),
})

/** A lap out of JSON, in columns; those that an older log does not hold are empty. */
export const traceFromWire = (wire: WireTrace): LapTrace => ({
  time_s: Float64Array.from(wire.time_s),
  speed_mps: Float64Array.from(wire.speed_mps),
  offset_m: Float64Array.from(wire.offset_m),
  kappa_1pm: Float64Array.from(wire.kappa_1pm),
  wheel_1pm: Float64Array.from(wire.wheel_1pm),
  brake: Float64Array.from(wire.brake),
  throttle: Float64Array.from(wire.throttle),
  gear: Uint8Array.from(wire.gear),
  known: new Uint8Array(wire.time_s.length).fill(1),
  lapTime_s: wire.lapTime_s,
})

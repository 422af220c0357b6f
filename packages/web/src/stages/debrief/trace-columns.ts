import type { WireTrace } from '@ochote/contract'
import { kmh, type LapTrace } from '@ochote/core'

/** The columns of a lap that charts draw; planned laps and driven ones alike. */
export type ChartLap = {
  name: string
  time_s: ArrayLike<number>
  speed_mps: ArrayLike<number>
  brake: ArrayLike<number>
  throttle: ArrayLike<number>
  /** Empty where an older log does not hold them. */
  offset_m: ArrayLike<number>
  wheel_1pm: ArrayLike<number>
  gear: ArrayLike<number>
}

/** A driven lap as the charts want it. */
export const chartLap = (name: string, trace: WireTrace | LapTrace): ChartLap => ({
  name,
  time_s: trace.time_s,
  speed_mps: trace.speed_mps,
  brake: trace.brake,
  throttle: trace.throttle,
  offset_m: trace.offset_m,
  wheel_1pm: trace.wheel_1pm,
  gear: trace.gear,
})

/** Points [station, value] of a column, every `stride`-th. */
export const points = (station_m: ArrayLike<number>, value: (i: number) => number, stride: number): [number, number][] => {
  const out: [number, number][] = []
  for (let i = 0; i < station_m.length; i += stride) out.push([Math.round(station_m[i]), value(i)])
  return out
}

/** Speed in km/h against station. */
export const speedPoints = (station_m: ArrayLike<number>, lap: ChartLap, stride: number) =>
  points(station_m, (i) => Math.round(kmh(lap.speed_mps[i]) * 10) / 10, stride)

/** How much later a lap is than another at each station (s). */
export const differencePoints = (station_m: ArrayLike<number>, lap: ChartLap, other: ChartLap, stride: number) =>
  points(station_m, (i) => Math.round((lap.time_s[i] - other.time_s[i]) * 1000) / 1000, stride)

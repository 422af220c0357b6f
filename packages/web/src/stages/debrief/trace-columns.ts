import { gripOfTrace, type LapTrace, type Plan } from '@ochote/core'
import { speedOf } from '../../language/staff-units.ts'

/** A lap as charts, ground view and playback use it; columns that an older log does not hold are empty. */
export type ChartLap = LapTrace & { name: string; grip: Float64Array }

/** A driven lap, or a planned one, as the charts want it. */
export const chartLap = (name: string, trace: LapTrace, plan: Pick<Plan, 'circuit' | 'vehicle'>): ChartLap => ({
  ...trace,
  name,
  grip: gripOfTrace(plan, trace),
})

/** Points [station, value] of a column, every `stride`-th. */
export const points = (station_m: ArrayLike<number>, value: (i: number) => number, stride: number): [number, number][] => {
  const out: [number, number][] = []
  for (let i = 0; i < station_m.length; i += stride) out.push([Math.round(station_m[i]), value(i)])
  return out
}

/** Speed in the staff's units against station. */
export const speedPoints = (station_m: ArrayLike<number>, lap: Pick<LapTrace, 'speed_mps'>, stride: number) =>
  points(station_m, (i) => Math.round(speedOf(lap.speed_mps[i]) * 10) / 10, stride)

/** Time of a lap behind another at each station (s). */
export const differencePoints = (
  station_m: ArrayLike<number>,
  lap: Pick<LapTrace, 'time_s'>,
  other: Pick<LapTrace, 'time_s'>,
  stride: number,
) => points(station_m, (i) => Math.round((lap.time_s[i] - other.time_s[i]) * 1000) / 1000, stride)

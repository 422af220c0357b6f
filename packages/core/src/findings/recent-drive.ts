import type { LogColumnName } from '../log/channels.ts'
import type { LivePlace } from '../log/follow.ts'
import type { Log } from '../log/log.ts'
import type { MatchedLog } from '../log/matched-log.ts'
import type { ReceivedFix } from '../log/received-fix.ts'

/** Columns of a running drive: those of the log that are judged, with the place on the circuit. */
const columns = [
  'time_s',
  'lat_deg',
  'lon_deg',
  'ele_m',
  'speed_mps',
  'throttle_pct',
  'brake_bar',
  'steer_deg',
  'gear',
  'travel_m',
  'offset_m',
] as const satisfies readonly (LogColumnName | 'travel_m' | 'offset_m')[]
type Column = (typeof columns)[number]

/** Maximum number of positions held: a long lap at a high rate. */
const CAPACITY = 16_384
/** A longer gap between positions inside a corner leaves nothing to judge (s). */
const MAX_GAP_S = 0.6

/** The last positions of a running car, as columns that read like a log. */
export type RecentDrive = {
  push: (place: LivePlace, fix: ReceivedFix) => void
  /** Index of the first position of the last stretch that lies past `travel_m`; at least one position is held. */
  firstAfter: (travel_m: number) => number
  /** True if positions from `first` on reach back to `reach_m` and leave no gap after `from_m` (both in travelled m). */
  covers: (first: number, reach_m: number, from_m: number) => boolean
  /** The positions from `first` on as a log, with the channels that every position so far has carried. */
  logFrom: (first: number) => { log: Log; matched: MatchedLog }
}

/** An empty recent drive. Cost of a position: constant, spread over the moves that make room. */
export const recentDrive = (): RecentDrive => {
  const buffers = Object.fromEntries(columns.map((name) => [name, new Float64Array(CAPACITY)])) as Record<Column, Float64Array>
  const recorded = { pedals: true, steering: true, gears: true }
  let count = 0
  const dropOldest = (): void => {
    const dropped = CAPACITY / 4
    for (const name of columns) buffers[name].copyWithin(0, dropped)
    count -= dropped
  }
  return {
    push: (place, fix) => {
      if (count === CAPACITY) dropOldest()
      recorded.pedals &&= fix.throttle_pct !== undefined && fix.brake_bar !== undefined
      recorded.steering &&= fix.steer_deg !== undefined
      recorded.gears &&= fix.gear !== undefined
      const { lat_deg, lon_deg, ele_m = 0, throttle_pct = 0, brake_bar = 0, steer_deg = 0, gear = 0 } = fix
      const { time_s, travel_m, offset_m, speed_mps } = place
      const row = { time_s, travel_m, offset_m, speed_mps, lat_deg, lon_deg, ele_m, throttle_pct, brake_bar, steer_deg, gear }
      for (const name of columns) buffers[name][count] = row[name]
      count++
    },
    firstAfter: (travel_m) => {
      let first = count - 1
      while (first > 0 && buffers.travel_m[first - 1] > travel_m) first--
      return first
    },
    covers: (first, reach_m, from_m) => {
      if (buffers.travel_m[first] > reach_m) return false
      for (let i = count - 1; i > first && buffers.travel_m[i] > from_m; i--)
        if (buffers.time_s[i] - buffers.time_s[i - 1] > MAX_GAP_S) return false
      return true
    },
    logFrom: (first) => {
      const slice = (name: Column): Float64Array => buffers[name].slice(first, count)
      const log: Log = {
        time_s: slice('time_s'),
        lat_deg: slice('lat_deg'),
        lon_deg: slice('lon_deg'),
        ele_m: slice('ele_m'),
        speed_mps: slice('speed_mps'),
        ...(recorded.pedals ? { throttle_pct: slice('throttle_pct'), brake_bar: slice('brake_bar') } : {}),
        ...(recorded.steering ? { steer_deg: slice('steer_deg') } : {}),
        ...(recorded.gears ? { gear: slice('gear') } : {}),
      }
      const onCircuit = new Uint8Array(count - first).fill(1)
      return { log, matched: { travel_m: slice('travel_m'), offset_m: slice('offset_m'), onCircuit, positionUncertainty_m: 0 } }
    },
  }
}

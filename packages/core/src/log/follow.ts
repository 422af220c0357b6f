import type { Circuit } from '../circuit/circuit.ts'
import { wrapStation } from '../circuit/station.ts'
import { placeFollower } from './match.ts'
import type { ReceivedFix } from './received-fix.ts'

/**
 * Why a position was not taken, or taken with reserve: `late`: older than one before; `future`: far ahead of the
 * receiver's own clock; `elsewhere`: not on this circuit; `frozen`: the same place again and again at speed; `slow`: too
 * few a second for marks.
 */
export const receiverFaults = ['late', 'future', 'elsewhere', 'frozen', 'slow'] as const
export type ReceiverFault = (typeof receiverFaults)[number]

/** Place of a car. `lap`: 0 before its first crossing of the line, then from 1; `travel_m` counts on over laps. */
export type LivePlace = {
  time_s: number
  travel_m: number
  station_m: number
  offset_m: number
  speed_mps: number
  lap: number
}

/** Result of one position. `crossed`: the lap that began with it, the moment, and the time of the lap that ended (null for the first). */
export type FollowStep = {
  place: LivePlace | null
  fault: ReceiverFault | null
  crossed: { lap: number; time_s: number; lapTime_s: number | null } | null
}

/** A stamp may run ahead of the receiver's clock as it was known by this much (s). */
const FUTURE_S = 2
/** After this many consecutive timestamps in the future the receiver's clock is assumed to have been set. */
const RESET_AFTER = 20
/** A timestamp this far behind the last one means that the receiver's clock was set back, not that the position is late (s). */
const CLOCK_SET_BACK_S = 600
/** A receiver is frozen if its position stays the same this long (s) while it reports more than this speed (m/s). */
const FROZEN_S = 1.5
const WALKING_MPS = 2
/** Fewer positions a second than this show places and laps, not marks. */
const MIN_RATE_HZ = 4

/** Follows one car. `now_s`: when the position arrived by our clock. */
export type CarFollower = {
  take: (fix: ReceivedFix, now_s: number) => FollowStep
  /** A sender is new, or was known from a recording only: its clock is learnt again. `factor`: its speed in multiples of real time. */
  newClock: (factor: number) => void
  /** Lead of the receiver's clock over ours (s), as far as known. */
  clockAhead_s: () => number
  /** Positions a second of the receiver's own time, over the last few. */
  rate_hz: () => number
}

/**
 * Follows the positions of one car on a circuit as they come, in whatever order and state. Positions that cannot be right are named
 * and left out; the rest give place, lap and crossings of the line (interpolated between the two positions around it).
 */
export const carFollower = (circuit: Circuit): CarFollower => {
  const follow = placeFollower(circuit, circuit.origin ?? { lat_deg: 0, lon_deg: 0 })
  const clock = receiverClock()
  const isFrozen = freezeWatch()
  let last: LivePlace | null = null
  let lastStamp_s = Number.NEGATIVE_INFINITY
  let interval_s = 0
  let lapStart_s: number | null = null
  let furthestLap = 0
  const speedOf = (fix: ReceivedFix, travel_m: number): number => {
    if (fix.speed_mps !== undefined) return fix.speed_mps
    return last && fix.time_s > last.time_s ? Math.max(0, (travel_m - last.travel_m) / (fix.time_s - last.time_s)) : 0
  }
  const faultOf = (fix: ReceivedFix, now_s: number): ReceiverFault | null => {
    if (clock.isFuture(fix.time_s, now_s)) return 'future'
    if (fix.time_s <= lastStamp_s && lastStamp_s - fix.time_s < CLOCK_SET_BACK_S) return 'late'
    const since_s = fix.time_s - lastStamp_s
    if (since_s > 0 && since_s < 5) interval_s = interval_s === 0 ? since_s : interval_s + 0.2 * (since_s - interval_s)
    lastStamp_s = fix.time_s
    return isFrozen(fix, fix.speed_mps ?? last?.speed_mps ?? 0) ? 'frozen' : null
  }
  const crossing = (before: LivePlace, after: LivePlace): FollowStep['crossed'] => {
    const line_m = after.lap * circuit.length_m
    const share = (line_m - before.travel_m) / (after.travel_m - before.travel_m)
    const time_s = before.time_s + share * (after.time_s - before.time_s)
    const lapTime_s = lapStart_s !== null && after.lap === before.lap + 1 ? time_s - lapStart_s : null
    lapStart_s = time_s
    return { lap: after.lap, time_s, lapTime_s }
  }
  const take = (fix: ReceivedFix, now_s: number): FollowStep => {
    const none = (fault: ReceiverFault): FollowStep => ({ place: null, fault, crossed: null })
    const fault = faultOf(fix, now_s)
    if (fault) return none(fault)
    const { travel_m, offset_m } = follow(fix.time_s, fix.lat_deg, fix.lon_deg, fix.ele_m ?? 0)
    if (Number.isNaN(travel_m)) return none('elsewhere')
    // Noise at the line may step back over it: a lap begins once.
    furthestLap = Math.max(furthestLap, Math.floor(travel_m / circuit.length_m))
    const place: LivePlace = {
      time_s: fix.time_s,
      travel_m,
      station_m: wrapStation(travel_m, circuit.length_m),
      offset_m,
      speed_mps: speedOf(fix, travel_m),
      lap: furthestLap,
    }
    const crossed = last && place.lap > last.lap && place.time_s > last.time_s ? crossing(last, place) : null
    last = place
    return { place, fault: interval_s > 1 / MIN_RATE_HZ ? 'slow' : null, crossed }
  }
  return {
    take,
    newClock: clock.reset,
    clockAhead_s: clock.ahead_s,
    rate_hz: () => (interval_s > 0 ? 1 / interval_s : 0),
  }
}

/** A receiver's clock beside ours, as learnt from its positions. */
type ReceiverClock = {
  /** True if a timestamp lies in the future of the receiver's own clock; many in a row set that clock again. */
  isFuture: (timestamp_s: number, now_s: number) => boolean
  reset: (factor: number) => void
  ahead_s: () => number
}

const receiverClock = (): ReceiverClock => {
  let factor = 1
  let clock: { timestamp_s: number; now_s: number } | null = null
  let futureInRow = 0
  return {
    isFuture: (timestamp_s, now_s) => {
      clock ??= { timestamp_s, now_s }
      const early_s = timestamp_s - (clock.timestamp_s + (now_s - clock.now_s) * factor)
      if (early_s < 0 || futureInRow >= RESET_AFTER) {
        // The position that came with the least delay shows the clock best; a clock set back shows the same way.
        if (early_s < -CLOCK_SET_BACK_S || futureInRow >= RESET_AFTER) clock = { timestamp_s, now_s }
        futureInRow = 0
        return false
      }
      if (early_s <= FUTURE_S * Math.max(1, factor)) {
        clock = { timestamp_s, now_s }
        futureInRow = 0
        return false
      }
      futureInRow++
      return true
    },
    reset: (senders) => {
      factor = senders
      clock = null
      futureInRow = 0
    },
    ahead_s: () => (clock ? clock.timestamp_s - clock.now_s : 0),
  }
}

/** True for a position that has stayed the same for too long while the car is said to move. */
const freezeWatch = (): ((fix: ReceivedFix, speed_mps: number) => boolean) => {
  let still: { lat_deg: number; lon_deg: number; since_s: number } | null = null
  return ({ lat_deg, lon_deg, time_s }, speed_mps) => {
    if (still && still.lat_deg === lat_deg && still.lon_deg === lon_deg) return time_s - still.since_s > FROZEN_S && speed_mps > WALKING_MPS
    still = { lat_deg, lon_deg, since_s: time_s }
    return false
  }
}

import {
  distanceAhead,
  gapsOnTrack,
  isWithin,
  lapOfRotation,
  planTimeAt,
  type RotationPlace,
  rotationPlaces,
  rotationTable,
} from '@ochote/core'
import { useMemo } from 'react'
import { type CarNow, useLiveValue } from '../../data/live/live-store.ts'
import type { TrackDay, TrackRun } from './use-track-day.ts'

/** One student in the train: where the car is, and the gap to the car ahead in it. */
export type TrainMember = TrackRun & { car: CarNow | undefined; gap_s: number | null }

/** Gap between cars of a train that closes up to rotate (s). */
const CLOSED_UP_S = 1.5
/** Distance before the stretch at which the leader is asked to rotate (m). */
const ASKED_BEFORE_M = 250

/** Slower than this a car is parked (m/s). */
const PARKED_MPS = 2
const isParked = (car: CarNow): boolean => car.inPits || car.speed_mps < PARKED_MPS

/** The train behind the leader as the last rotation left it, with gaps. */
export const useTrain = (track: TrackDay): TrainMember[] => {
  const cars = useLiveValue(track.live, (l) => l.cars())
  const row = track.events.findLast((e) => e.kind === 'row')
  const ids = row?.runIds ?? []
  const leader = row?.leader
  return useMemo(() => {
    const train = ids.flatMap((id) => track.open.filter((r) => r.run.id === id))
    const onRoad = train.map((r) => [...cars.values()].find((car) => car.runId === r.run.id))
    return train.map((r, i) => {
      const car = onRoad[i]
      // The first one follows the leader's own car, where it has a receiver.
      const ahead = i === 0 ? (leader === undefined ? undefined : cars.get(leader)) : onRoad[i - 1]
      if (!car || !ahead) return { ...r, car, gap_s: null }
      const between = gapsOnTrack(
        track.plan,
        [car, ahead].map((c) => ({ id: c.carNumber, station_m: c.station_m, lap: c.lap, lapTime_s: c.lapTime_s })),
      ).find((g) => g.id === car.carNumber)
      // A car that is parked follows nobody, and nobody follows it.
      if (isParked(car) || isParked(ahead)) return { ...r, car, gap_s: null }
      // More than half a lap is no gap in a train: the car ahead has not come by yet.
      return { ...r, car, gap_s: between && between.gap_s < car.lapTime_s / 2 ? between.gap_s : null }
    })
  }, [ids, leader, track.open, track.plan, cars])
}

/** The next rotation, and whether it is due now. */
export const useRotation = (track: TrackDay, train: readonly TrainMember[]) => {
  const laps = Math.max(2, train[0]?.state.programme?.coached ?? 6)
  const every = laps >= 2 * train.length ? 2 : 1
  const table = useMemo(() => (train.length >= 2 ? rotationTable(firstTrain(track, train), laps, every) : []), [track, train, laps, every])
  const places = useMemo(() => rotationPlaces(track.plan, train.length - 1, CLOSED_UP_S), [track.plan, train.length])
  const lap = train[0]?.car?.lap ?? 0
  const now = train.map((r) => r.run.id).join(' ')
  const place: RotationPlace | undefined = places[0]
  // Turns are as long as promised only where a place before the line takes up the row of the lap to come.
  const share = place ? planTimeAt(track.plan, place.from_m) / track.plan.profile.lapTime_s : 0
  const wanted = table.find((t) => t.lap === Math.max(1, lapOfRotation(lap, share)))?.row ?? []
  const next = table.find((t) => t.lap > Math.max(1, lap) && t.row[0] !== train[0]?.run.id)
  const due = wanted.length > 0 && wanted.join(' ') !== now && wanted[0] !== train[0]?.run.id
  const station_m = train[0]?.car?.station_m
  const near =
    place !== undefined &&
    station_m !== undefined &&
    (isWithin(station_m, place.from_m, place.from_m + place.length_m - place.needed_m, track.plan.circuit.length_m) ||
      distanceAhead(station_m, place.from_m, track.plan.circuit.length_m) < ASKED_BEFORE_M)
  return { table, place, lap, laps, due, near, next }
}

/** The train as it was when the group set off: turns are counted from there. */
const firstTrain = (track: TrackDay, train: readonly TrainMember[]): string[] => {
  const ids = new Set(train.map((r) => r.run.id))
  const first = track.events.find((e) => e.kind === 'row' && e.runIds.some((id) => ids.has(id)))
  return first?.kind === 'row' ? first.runIds.filter((id) => ids.has(id)) : train.map((r) => r.run.id)
}

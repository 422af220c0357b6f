import { atStation, distanceAhead, isWithin, signedDistance, stationIndex, wrapStation } from '../src/circuit/station.ts'
import { markOf } from '../src/marks/mark.ts'
import { lineFromOffsets } from '../src/path/line.ts'
import type { Plan } from '../src/plan/plan.ts'
import type { Drive } from '../src/simulate/drive.ts'
import { type DriveOptions, DT_S, driveBy, FELT_M, type Law } from './own-car.ts'

/**
 * A driver by places: drives a path of its own from cone to cone, corrects by how far off and how askew the car is, brakes at a
 * remembered place with one even pressure until it is slow enough, holds that speed, and opens the throttle as the wheel opens.
 */
type Manner = {
  /** Share of the plan's slowest speed that is enough. */
  enough: number
  /** The brake fades from turn-in to the apex, or is let go before it. */
  trails: boolean
  /** The apex is aimed at so much sooner (m). */
  sooner_m: number
  /** The brake's place, before the mark (m). */
  before_m: number
}

const manners: readonly Manner[] = [
  // Trails the brake.
  { enough: 0.99, trails: true, sooner_m: 0, before_m: 2 },
  // Early apex.
  { enough: 0.985, trails: false, sooner_m: 9, before_m: 3 },
  // Over-slow, from too soon.
  { enough: 0.92, trails: false, sooner_m: 0, before_m: 10 },
]

/** From cone to cone with an even swing. */
const ownPath = ({ circuit, corners, turnings, line }: Plan, sooner_m: number): Float64Array => {
  const L = circuit.length_m
  const cones = corners
    .flatMap((_, k) => {
      const { turnIn, apex, exit } = turnings[k]
      const early = wrapStation(circuit.s_m[apex] - Math.min(sooner_m, 0.4 * distanceAhead(circuit.s_m[turnIn], circuit.s_m[apex], L)), L)
      const places = [
        { s_m: circuit.s_m[turnIn], offset_m: line.offset_m[turnIn] },
        { s_m: early, offset_m: line.offset_m[apex] },
      ]
      return exit === null ? places : [...places, { s_m: circuit.s_m[exit], offset_m: line.offset_m[exit] }]
    })
    .sort((a, b) => a.s_m - b.s_m)
  const swung = Float64Array.from(circuit.s_m, (s) => {
    const next = cones.findIndex((cone) => cone.s_m > s)
    const to = cones[next < 0 ? 0 : next]
    const from = cones[((next < 0 ? 0 : next) - 1 + cones.length) % cones.length]
    const way_m = Math.max(1, distanceAhead(from.s_m, to.s_m, L))
    const share = Math.min(1, distanceAhead(from.s_m, s, L) / way_m)
    return from.offset_m + ((to.offset_m - from.offset_m) * (1 - Math.cos(Math.PI * share))) / 2
  })
  // Nobody's hands follow a kink in the path.
  const by = Math.round(14 / circuit.step_m)
  const mean = (column: Float64Array): Float64Array =>
    column.map((_, i) => {
      let sum = 0
      for (let j = -by; j <= by; j++) sum += column[(i + j + column.length) % column.length]
      return sum / (2 * by + 1)
    })
  return mean(mean(swung))
}

/** Quickest turn of the wheel, as a change of curvature (1/m a second). */
const HANDS_1PMS = 0.06
/** An error is steered away in about this time (s). */
const PATIENCE_S = 0.7
/** The path is steered by this far ahead (s), since a car follows its wheel a little late. */
const AHEAD_S = 0.12

const lawOf = (plan: Plan, manner: Manner) => (): Law => {
  const { circuit, corners, turnings, profile, marks } = plan
  const L = circuit.length_m
  const path = lineFromOffsets(circuit, ownPath(plan, manner.sooner_m))
  const mostWheel = corners.map((_, k) => Math.max(...around(path.kappa_1pm, turnings[k].apex, 20)))
  // What the plan's own corners ask of the tyres at this pace and on this surface.
  const grip_mps2 = Math.max(...profile.speed_mps.map((v, i) => v * v * Math.abs(plan.line.kappa_1pm[i]))) / plan.settings.pace
  const places = corners.map((corner, k) => {
    const planned_mps = markOf(marks, corner.id, 'slowest')?.speed_mps ?? profile.speed_mps[turnings[k].apex]
    // No faster than the own path bears at this pace.
    const bears_mps = Math.sqrt((plan.settings.pace * grip_mps2) / mostWheel[k])
    const slow_mps = Math.min(planned_mps * manner.enough, bears_mps)
    const brake = markOf(marks, corner.id, 'brake') ?? markOf(marks, corner.id, 'lift')
    const [turnIn_m, apex_m] = [circuit.s_m[turnings[k].turnIn], circuit.s_m[turnings[k].apex]]
    // A brake that fades to the apex takes off half as much from the turn-in on.
    const fades_m = manner.trails ? 0.55 * distanceAhead(turnIn_m, apex_m, L) : 0
    const way_m = brake ? Math.max(10, signedDistance(brake.station_m, turnIn_m, L) + fades_m) : 0
    return { at_m: brake ? wrapStation(brake.station_m - manner.before_m, L) : null, slow_mps, way_m, turnIn_m, apex_m }
  })
  let wheel = 0
  let braked = { corner: -1, pressure: 0 }
  return ({ s, offset_m, askew_rad, speed_mps }, { resist_mps2, engine_mps2 }, wrong, mood) => {
    const there = wrapStation(s + AHEAD_S * speed_mps, L)
    const aside_m = wrong.aside_m(s) + mood.aside_m
    const error_m = atStation(circuit, path.offset_m, s) + aside_m - offset_m
    const i = stationIndex(circuit, s)
    const slope = (path.offset_m[(i + 1) % circuit.count] - path.offset_m[i]) / circuit.step_m
    const gone_m = Math.max(8, PATIENCE_S * speed_mps)
    const ask = atStation(circuit, path.kappa_1pm, there) + (1.6 * (slope - askew_rad)) / gone_m + error_m / gone_m ** 2
    wheel += Math.min(HANDS_1PMS * DT_S, Math.max(-HANDS_1PMS * DT_S, ask - wheel))
    // The corner that is coming, or that the car is still in.
    const k = places.reduce(
      (best, place, j) => (distanceAhead(s, place.apex_m, L) < distanceAhead(s, places[best].apex_m, L) ? j : best),
      0,
    )
    const { at_m, slow_mps, way_m, turnIn_m, apex_m } = places[k]
    const enough_mps = slow_mps * mood.speed * wrong.speed(s)
    const moved_m = (1 - mood.near * wrong.near(s)) * 22
    const begin_m = at_m === null ? null : wrapStation(at_m - moved_m, L)
    if (begin_m !== null && isWithin(s, begin_m, apex_m, L) && distanceAhead(begin_m, apex_m, L) < 2 * FELT_M) {
      // As hard as this arrival asks for, and then evenly.
      if (braked.corner !== k) braked = { corner: k, pressure: Math.max(1, (1.05 * (speed_mps ** 2 - enough_mps ** 2)) / (2 * way_m)) }
      const turned = isWithin(s, turnIn_m, apex_m, L)
      const left = turned ? distanceAhead(s, apex_m, L) / Math.max(1, distanceAhead(turnIn_m, apex_m, L)) : 1
      if (speed_mps > enough_mps && (manner.trails || !turned || speed_mps > 1.05 * enough_mps))
        return { wheel_1pm: wheel, demand_mps2: -braked.pressure * (manner.trails ? Math.max(0.15, left) : 1) }
      if (wrong.off(s)) return { wheel_1pm: wheel, demand_mps2: 0 }
      return { wheel_1pm: wheel, demand_mps2: Math.min(engine_mps2, resist_mps2 + Math.max(0, enough_mps - speed_mps)) }
    }
    if (wrong.off(s)) return { wheel_1pm: wheel, demand_mps2: 0 }
    const before = (k - 1 + places.length) % places.length
    const opened = 1 - Math.min(0.85, Math.abs(wheel) / Math.max(1e-4, mostWheel[before]))
    return { wheel_1pm: wheel, demand_mps2: engine_mps2 * opened }
  }
}

/** Magnitudes of a column about a station. */
const around = (column: Float64Array, at: number, by: number): number[] =>
  Array.from({ length: 2 * by + 1 }, (_, j) => Math.abs(column[(at - by + j + column.length) % column.length]))

/** Drives by places, in one of three manners by the seed. */
export const driveByPlaces = (plan: Plan, options: DriveOptions): Drive => {
  const manner = manners[options.seed % manners.length]
  return driveBy(plan, options, { speed: manner.enough }, lawOf(plan, manner))
}

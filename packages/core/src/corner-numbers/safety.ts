import type { Corner } from '../circuit/corners.ts'
import type { GroundItem, RunOffSurface } from '../circuit/ground.ts'
import { placeOn } from '../circuit/place.ts'
import { atStation, distanceAhead, isWithin, signedDistance, stationIndex, wrapStation } from '../circuit/station.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import { planOnLine } from '../plan/make-plan.ts'
import type { Plan } from '../plan/plan.ts'
import { type GripShare, type Surface, stoppieShare, surfaces, uniformGrip } from '../profile/grip.ts'
import { brakeForward, latestBraking, type PassInput, rollForward } from '../profile/passes.ts'
import { GRAVITY_MPS2 } from '../units/constants.ts'
import { maxEngineForce } from '../vehicle/engine.ts'

/** Share of the full surface grip that an emergency stop is taken to use. */
export const EMERGENCY_SHARE = 0.9
/** Grace below which a corner is flagged and no later braking is advised (s). */
export const MIN_GRACE_S = 0.5
/** Grace below which a corner gets a warning (s): a warning that stands at most corners warns of nothing. */
export const WARN_GRACE_S = 0.25
/** Delays of the brakes in the straight-on check (s); the middle one decides on a fix. */
const LATE_S = [0.5, 1, 1.5] as const
const DECIDING_S = 1

/** Friction of a run-off by its surface, dry and wet (first values; a venue's own are better). */
export const runOffFriction: Record<RunOffSurface, { dry: number; wet: number }> = {
  asphalt: { dry: 0.8, wet: 0.5 },
  gravel: { dry: 0.5, wet: 0.45 },
  grass: { dry: 0.35, wet: 0.2 },
}

/** Room left after a missed brake point: metres, and seconds at the speed there. */
export type Grace = { metres_m: number; time_s: number }

/** One case of the straight-on check. `needs_m`: depth of run-off in which it stops; `stops`: null where none is known. */
export type StraightOnCase = { late_s: number; turnInSpeed_mps: number; edgeSpeed_mps: number; needs_m: number; stops: boolean | null }

/** Outcome of braking late and going straight on, and the fix for it (null where nothing helps). */
export type StraightOn = {
  toEdge_m: number
  runOff: { surface: RunOffSurface; length_m: number } | null
  cases: StraightOnCase[]
  mitigation: { brakeEarlier_m: number | null; pace: number | null } | null
}

const emergency = (surface: Surface): GripShare => uniformGrip(EMERGENCY_SHARE * surfaces[surface])

const passOf = (plan: Plan): PassInput => ({
  circuit: plan.circuit,
  line: plan.line,
  vehicle: plan.vehicle,
  grip: new Array<GripShare>(plan.circuit.count).fill(emergency(plan.settings.surface)),
})

/** Brake and turn-in of a corner that is braked for before it turns. */
const entryOf = (plan: Plan, corner: Corner): { brake: Mark; turnIn: Mark; between_m: number } | null => {
  const brake = markOf(plan.marks, corner.id, 'brake')
  const turnIn = markOf(plan.marks, corner.id, 'turn-in')
  if (!brake || !turnIn) return null
  const between_m = distanceAhead(brake.station_m, turnIn.station_m, plan.circuit.length_m)
  return between_m > plan.circuit.length_m / 2 ? null : { brake, turnIn, between_m }
}

/** Time before the brake mark in which the plan's widest throttle counts as the one that is kept (s). */
const KEPT_BEFORE_S = 1

/** The share of the engine that a plan uses just before a brake mark: its widest throttle in the last second, the less favourable reading. */
const keptThrottle = ({ profile, circuit, vehicle }: Plan, brake: number): number => {
  let share = 0
  for (let back = 1, time_s = 0; time_s < KEPT_BEFORE_S && back < circuit.count; back++) {
    const i = (brake - back + circuit.count) % circuit.count
    share = Math.max(share, profile.ax_mps2[i] / maxEngineForce(vehicle, profile.speed_mps[i]))
    time_s += circuit.step_m / profile.speed_mps[i]
  }
  return Math.min(1, share)
}

/** Speeds (m/s) at `count` + 1 stations from one on where the brakes do not come and the throttle is kept as the plan had it. */
const unbrakedFrom = (plan: Plan, from: number, speed_mps: number, throttle: number, count: number): Float64Array => {
  const { circuit, line, vehicle } = plan
  const grip = new Array<GripShare>(circuit.count).fill(uniformGrip(surfaces[plan.settings.surface]))
  const ceiling = new Float64Array(circuit.count).fill(Number.POSITIVE_INFINITY)
  return rollForward({ circuit, line, vehicle, grip, throttle }, from, speed_mps, ceiling, count)
}

/**
 * Grace of a corner: from the planned brake point on to the last place from which braking at 0.9 of the full surface grip
 * and brake limit still reaches the turn-in speed, with the throttle kept until then as the plan has it before the brake point;
 * null where nothing is braked before the turn-in.
 */
export const graceOf = (plan: Plan, corner: Corner): Grace | null => {
  const entry = entryOf(plan, corner)
  if (!entry) return null
  const { circuit, profile } = plan
  const turnIn = stationIndex(circuit, entry.turnIn.station_m)
  const brake = stationIndex(circuit, entry.brake.station_m)
  const between = (turnIn - brake + circuit.count) % circuit.count
  const rolled = unbrakedFrom(plan, brake, profile.speed_mps[brake], keptThrottle(plan, brake), between)
  const unbraked = Float64Array.from(profile.speed_mps)
  rolled.forEach((speed, k) => {
    unbraked[(brake + k) % circuit.count] = speed
  })
  const back_m = latestBraking(passOf(plan), turnIn, profile.speed_mps[turnIn], unbraked, circuit.count >> 1)
  if (back_m === null) return null
  const metres_m = Math.max(0, entry.between_m - back_m)
  return { metres_m, time_s: metres_m / entry.brake.speed_mps }
}

/** Distance (m) straight on from a corner's turn-in to the end of the road, along the line's heading there, at most 300 m. */
const roadStraightOn = (plan: Plan, turnIn: number): number => {
  const { circuit, line } = plan
  const cos = Math.cos(line.heading_rad[turnIn])
  const sin = Math.sin(line.heading_rad[turnIn])
  for (let d = 2; d < 300; d += 2) {
    const place = placeOn(circuit, line.x_m[turnIn] + d * cos, line.y_m[turnIn] + d * sin, {
      station_m: circuit.s_m[turnIn] + d * 0.8,
      reach_m: 20 + d / 2,
    })
    if (place.offset_m > atStation(circuit, circuit.widthLeft_m, place.station_m)) return d
    if (-place.offset_m > atStation(circuit, circuit.widthRight_m, place.station_m)) return d
  }
  return 300
}

/** The shallowest run-off noted on a corner's outer side between turn-in and exit. */
const runOffOf = (plan: Plan, corner: Corner, turnIn: number): GroundItem['runOff'] | null => {
  const { circuit } = plan
  const outside = corner.side === 'left' ? 'right' : 'left'
  const start_m = circuit.s_m[turnIn]
  const overlaps = (item: GroundItem): boolean =>
    isWithin(item.from_m, start_m, corner.end_m, circuit.length_m) || isWithin(start_m, item.from_m, item.to_m, circuit.length_m)
  const ofCorner = plan.ground.filter(
    (g) => g.kind === 'run-off' && g.runOff && g.side !== corner.side && (g.side === outside || g.side === 'both'),
  )
  const depths = ofCorner.filter(overlaps).map((g) => g.runOff as NonNullable<GroundItem['runOff']>)
  return depths.sort((a, b) => a.length_m - b.length_m)[0] ?? null
}

/** A stretch beside the road that has to stay free, and the corner whose run-off it is. */
export type NeededRunOff = { cornerId: string; side: 'left' | 'right'; from_m: number; to_m: number }

/**
 * The run-offs that somebody who goes straight on or runs wide would need: on each corner's outer side, from half way
 * between turn-in and where straight on leaves the road, to the end of the run-off there.
 */
export const neededRunOffs = (plan: Plan): NeededRunOff[] =>
  plan.corners.flatMap((corner, k) => {
    const { circuit } = plan
    const turnIn = plan.turnings[k].turnIn
    const side = corner.side === 'left' ? 'right' : 'left'
    const from_m = wrapStation(circuit.s_m[turnIn] + roadStraightOn(plan, turnIn) / 2, circuit.length_m)
    return plan.ground
      .filter((g) => g.kind === 'run-off' && (g.side === side || g.side === 'both'))
      .filter(
        (g) =>
          isWithin(g.from_m, circuit.s_m[turnIn], corner.end_m, circuit.length_m) || isWithin(from_m, g.from_m, g.to_m, circuit.length_m),
      )
      .filter((g) => distanceAhead(from_m, g.to_m, circuit.length_m) < circuit.length_m / 2)
      .map((g) => ({
        cornerId: corner.id,
        side: side as 'left' | 'right',
        from_m: isWithin(from_m, g.from_m, g.to_m, circuit.length_m) ? from_m : g.from_m,
        to_m: g.to_m,
      }))
  })

/** Deceleration (m/s²) straight on at some friction: never more than 0.9 of the brake limit, nor than a motorcycle can do on its front wheel. */
const straightBraking = ({ vehicle }: Plan, friction: number): number =>
  Math.min(friction * GRAVITY_MPS2, stoppieShare(vehicle) * GRAVITY_MPS2, EMERGENCY_SHARE * vehicle.maxBrake_mps2)

/** Where a vehicle is some time after a station, and how fast, by its speeds at the stations from there on. */
const afterTime = ({ circuit, line }: Plan, from: number, speeds: Float64Array, time_s: number): { along_m: number; speed_mps: number } => {
  let left_s = time_s
  for (let k = 0; k + 1 < speeds.length; k++) {
    const step_s = (2 * line.stepPath_m[(from + k) % circuit.count]) / (speeds[k] + speeds[k + 1])
    if (step_s >= left_s) {
      const share = left_s / step_s
      return { along_m: (k + share) * circuit.step_m, speed_mps: speeds[k] + share * (speeds[k + 1] - speeds[k]) }
    }
    left_s -= step_s
  }
  return { along_m: (speeds.length - 1) * circuit.step_m, speed_mps: speeds[speeds.length - 1] }
}

/** Stations that a vehicle passes at most before late brakes come. */
const LATE_REACH_M = 220

/** The cases of late brakes at a brake point, `shift_m` before the planned one. */
const casesFrom = (plan: Plan, brake_m: number, shift_m: number, turnIn: number, toEdge_m: number, runOff: StraightOn['runOff']) => {
  const { circuit, profile } = plan
  const pass = passOf(plan)
  const wet = plan.settings.surface !== 'dry'
  const friction = runOff ? runOffFriction[runOff.surface][wet ? 'wet' : 'dry'] : runOffFriction.grass[wet ? 'wet' : 'dry']
  const onRoad_mps2 = Math.min(
    straightBraking(plan, EMERGENCY_SHARE * surfaces[plan.settings.surface] * plan.vehicle.muX),
    EMERGENCY_SHARE * surfaces[plan.settings.surface] * plan.vehicle.maxBrake_mps2,
  )
  const from = stationIndex(circuit, brake_m - shift_m)
  const throttle = keptThrottle(plan, stationIndex(circuit, brake_m))
  const rolled = unbrakedFrom(plan, from, profile.speed_mps[from], throttle, Math.ceil(LATE_REACH_M / circuit.step_m))
  return LATE_S.map((late_s): StraightOnCase => {
    const late = afterTime(plan, from, rolled, late_s)
    const left_m = signedDistance(circuit.s_m[from] + late.along_m, circuit.s_m[turnIn], circuit.length_m)
    // Later than the turn-in: nothing is braked before it, and some of the road beyond is gone too.
    const missed_m = Math.max(0, -left_m)
    const stations = missed_m > 0 ? 0 : Math.round(left_m / circuit.step_m)
    const speeds = brakeForward(pass, (turnIn - stations + circuit.count) % circuit.count, late.speed_mps, stations)
    const turnInSpeed_mps = speeds[stations]
    const edge2 = turnInSpeed_mps ** 2 - 2 * onRoad_mps2 * Math.max(0, toEdge_m - missed_m)
    const edgeSpeed_mps = Math.sqrt(Math.max(0, edge2))
    const needs_m = edgeSpeed_mps ** 2 / (2 * straightBraking(plan, friction))
    const stops = edgeSpeed_mps === 0 ? true : runOff ? needs_m <= runOff.length_m : null
    return { late_s, turnInSpeed_mps, edgeSpeed_mps, needs_m, stops }
  })
}

/** Step by which brake cones are moved, and the maximum shift (m). */
const SHIFT_STEP_M = 5
const MAX_SHIFT_M = 100
const PACE_STEP = 0.05
const MIN_PACE = 0.45

/**
 * The straight-on check of a corner: brakes 0.5, 1 and 1.5 s late with the throttle kept until they come, an emergency stop up
 * to the turn-in and on over the road to its edge, then over the run-off with that surface's friction (grass is taken
 * where none is noted, and no verdict given). Where the case of 1 s late does not stop: the least shift of the brake
 * point, in steps of 5 m, and the greatest pace below the planned one, in steps of 0.05, that would.
 */
export const straightOnOf = (plan: Plan, corner: Corner): StraightOn | null => {
  const entry = entryOf(plan, corner)
  if (!entry) return null
  const turnIn = stationIndex(plan.circuit, entry.turnIn.station_m)
  const toEdge_m = roadStraightOn(plan, turnIn)
  const runOff = runOffOf(plan, corner, turnIn) ?? null
  const { station_m } = entry.brake
  const cases = casesFrom(plan, station_m, 0, turnIn, toEdge_m, runOff)
  const fails = (list: StraightOnCase[]): boolean => list.find((c) => c.late_s === DECIDING_S)?.stops === false
  if (!fails(cases)) return { toEdge_m, runOff, cases, mitigation: null }
  let brakeEarlier_m: number | null = null
  for (let shift = SHIFT_STEP_M; shift <= MAX_SHIFT_M && brakeEarlier_m === null; shift += SHIFT_STEP_M)
    if (!fails(casesFrom(plan, station_m, shift, turnIn, toEdge_m, runOff))) brakeEarlier_m = shift
  return { toEdge_m, runOff, cases, mitigation: { brakeEarlier_m, pace: curingPace(plan, corner, toEdge_m, runOff, fails) } }
}

const curingPace = (
  plan: Plan,
  corner: Corner,
  toEdge_m: number,
  runOff: StraightOn['runOff'],
  fails: (cases: StraightOnCase[]) => boolean,
): number | null => {
  for (let pace = plan.settings.pace - PACE_STEP; pace > MIN_PACE - 1e-9; pace -= PACE_STEP) {
    const slower = planOnLine(plan, plan.vehicle, { ...plan.settings, pace }, plan.line)
    const entry = entryOf(slower, corner)
    if (!entry) return Math.round(100 * pace) / 100
    const turnIn = stationIndex(plan.circuit, entry.turnIn.station_m)
    if (!fails(casesFrom(slower, entry.brake.station_m, 0, turnIn, toEdge_m, runOff))) return Math.round(100 * pace) / 100
  }
  return null
}

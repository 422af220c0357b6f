import type { Circuit } from '../circuit/circuit.ts'
import type { Corner } from '../circuit/corners.ts'
import { distanceAhead } from '../circuit/station.ts'
import { atTravel, firstAtOrAbove, gridSpan, isKnown, stationOf, type Trajectory, wheelAt } from '../drive/trajectory.ts'
import { SLOWEST_PAST_APEX_M } from '../marks/touch.ts'
import { findTurnings, innerDistance, outerDistance, TURN_IN_SHARE, type Turning } from '../path/turning.ts'
import { type Braking, brakingOf, coastOf, liftOf, type Moment, type Opening, openingOf } from './pedal-shape.ts'
import { turnInOf } from './wheel-shape.ts'

/** A corner as the reference drives it, in metres from the line of a lap (below 0: before it). All passes are looked at in it. */
export type Frame = {
  corner: Corner
  sign: 1 | -1
  turnIn_m: number
  apex_m: number
  exit_m: number | null
  peak_1pm: number
  /** A brake for this corner is looked for from here on; it ends past the apex of the corner before. */
  from_m: number
  before_m: number
  /** Exit of the corner before, or its apex where the road is not used there. */
  beforeExit_m: number
  /** A brake for this corner is begun before here; one begun later is for the next corner. */
  brakeBy_m: number
  /** Start of the next corner: the reference brakes, lifts or turns in for it. */
  next_m: number
  /** From turn-in to exit, or to twice the distance to the apex. */
  length_m: number
  /**
   * Place where the reference has closed the throttle for it without braking, however little speed that takes off; null where
   * it does not.
   */
  closed_m: number | null
}

/** One pass of a corner as it was driven; places in metres from the line of its lap. */
export type Pass = {
  brake: Braking | null
  lift: Moment | null
  turnIn_m: number | null
  apex_m: number
  apexInner_m: number
  /** Half the stretch (m) along which the path keeps as near to the inner edge, give or take the noise. */
  apexFlat_m: number
  exit_m: number | null
  exitOuter_m: number | null
  /** Distance to the outer edge at the own turn-in. */
  setupOuter_m: number | null
  slowest_m: number
  slowest_mps: number
  opening: Opening
  coast: { time_s: number; at: Moment } | null
  /** Throttle at the reference's exit or a little past it, 0 … 1. */
  exitThrottle: number
}

/**
 * What a log's noise does to measures. `blur_m`: by the time between two places (s), how much nearer (m) one of them must
 * be to be nearer; `wheel_1pm`: of the wheel, 1σ.
 */
type Noise = { blur_m: (timeBetween_s: number) => number; wheel_1pm: number }
const quiet: Noise = { blur_m: () => 0, wheel_1pm: 0 }

/** Around the reference's marks a pass is searched this far (m). */
const SEARCH_M = { brake: 330, turnIn: 70, apex: 40, exit: 35 } as const
/** An apex that follows the kerb is the middle of the stretch this near to the least distance (m). */
const APEX_FLAT_M = 0.03
/** A throttle's dip ends this long before the next brake; the first is the handbook's, the second leaves room for a next lift (s). */
const BEFORE_NEXT_S = 0.5
/** In linked corners a brake may be touched before the apex of the corner before, this far before turn-in (m). */
const TOUCHED_BEFORE_M = 70
/** Past the apex of the corner before by less than this a brake belongs to that corner (m). */
const OWN_PAST_M = 10
/** A throttle is closed for a corner up to this far past its apex (m). */
const PAST_APEX_M = 20
/** Coasting is looked at this far past the throttle point (m). */
const PAST_THROTTLE_M = 60

/** Frames of all corners, from the turnings and pedals of a reference. `start_m`: start of its lap on its trajectory. */
export const framesOf = (
  circuit: Circuit,
  corners: readonly Corner[],
  turnings: readonly Turning[],
  trajectory: Trajectory,
  start_m: number,
): Frame[] => {
  const n = corners.length
  const back = (from: number, to: number): number => distanceAhead(circuit.s_m[to], circuit.s_m[from], circuit.length_m)
  const rough = corners.map((corner, k): Frame => {
    const turning = turnings[k]
    const apex_m = circuit.s_m[turning.apex]
    const turnIn_m = apex_m - back(turning.apex, turning.turnIn)
    const exit_m = turning.exit === null ? null : apex_m + back(turning.exit, turning.apex)
    const before = turnings[(k - 1 + n) % n]
    const before_m = n === 1 ? turnIn_m - circuit.length_m / 2 : turnIn_m - back(turning.turnIn, before.apex)
    return {
      corner,
      sign: corner.side === 'left' ? 1 : -1,
      turnIn_m,
      apex_m,
      exit_m,
      peak_1pm: turning.peakKappa_1pm,
      from_m: Math.max(turnIn_m - SEARCH_M.brake, Math.min(before_m + 5, turnIn_m - TOUCHED_BEFORE_M)),
      before_m,
      beforeExit_m: before_m + (before.exit === null ? 0 : back(before.exit, before.apex)),
      brakeBy_m: Number.POSITIVE_INFINITY,
      next_m: Number.POSITIVE_INFINITY,
      length_m: exit_m === null ? 2 * (apex_m - turnIn_m) : exit_m - turnIn_m,
      closed_m: null,
    }
  })
  const bounded = (frames: readonly Frame[]): Frame[] => {
    const brakes = frames.map((frame) => brakeOf(trajectory, frame, start_m))
    const begins = frames.map((frame, k) => {
      const brake = brakes[k]
      if (brake) return brake.onset.at_m - start_m
      const lift = liftOf(trajectory, start_m + frame.from_m, start_m + frame.apex_m)
      return lift ? lift.at_m - start_m : frame.turnIn_m
    })
    return frames.map((frame, k) => {
      const closed_m = brakes[k] ? null : closedFor(trajectory, frame, start_m)
      const ahead = distanceAhead(frame.turnIn_m, begins[(k + 1) % n], circuit.length_m)
      const next_m = frame.turnIn_m + (n === 1 ? ahead || circuit.length_m : ahead)
      return { ...frame, next_m, closed_m, brakeBy_m: Math.max(frame.turnIn_m, (Math.min(begins[k], frame.turnIn_m) + next_m) / 2) }
    })
  }
  // A brake of the next corner may first have been taken for that of this one, where the two are near.
  return bounded(bounded(rough))
}

/** Of two apexes as near to the edge as this the later one counts, as in plans (m). */
const ALIKE_M = 0.3
/** Two apexes are two where the path leaves the edge by this much between them (m). */
const APART_M = 0.5
const LONGEST_M = 200

/** Turnings of a driven lap: as of a planned path, but where two apexes are alike the noise does not choose. */
export const turningsOf = (circuit: Circuit, corners: readonly Corner[], trajectory: Trajectory, start_m: number): Turning[] => {
  const first = Math.round(start_m / trajectory.step_m) - trajectory.first
  const offset_m = Float64Array.from(
    { length: circuit.count },
    (_, i) => trajectory.offset_m[Math.min(Math.max(first + i, 0), trajectory.offset_m.length - 1)],
  )
  // A recorded wheel shows the turn more reliably than a noisy path.
  const kappa_1pm = Float64Array.from({ length: circuit.count }, (_, i) =>
    wheelAt(trajectory, (trajectory.first + first + i) * trajectory.step_m),
  )
  const turnings = findTurnings(circuit, corners, { offset_m, kappa_1pm })
  return turnings.map((turning, k) => {
    const inner = (i: number): number => innerDistance(circuit, corners[k], offset_m[i], i)
    const least_m = inner(turning.apex)
    const end_m = Math.min(LONGEST_M, distanceAhead(circuit.s_m[turning.apex], corners[k].end_m, circuit.length_m) % (circuit.length_m / 2))
    let apex = turning.apex
    let farthest_m = least_m
    for (let j = 1; j * circuit.step_m < end_m; j++) {
      const i = (turning.apex + j) % circuit.count
      farthest_m = Math.max(farthest_m, inner(i))
      if (inner(i) > least_m + ALIKE_M || farthest_m < inner(i) + APART_M) continue
      if (inner(apex) > inner(i) || apex === turning.apex) apex = i
    }
    return { ...turning, apex }
  })
}

const slowestOf = (trajectory: Trajectory, frame: Frame, start_m: number): { at_m: number; speed_mps: number } => {
  const { from, to } = gridSpan(
    trajectory,
    start_m + frame.turnIn_m - 10,
    start_m + Math.min(frame.apex_m + SLOWEST_PAST_APEX_M, frame.next_m),
  )
  let min = from
  for (let i = from; i <= to; i++) if (trajectory.speed_mps[i] < trajectory.speed_mps[min]) min = i
  return { at_m: (trajectory.first + min) * trajectory.step_m, speed_mps: trajectory.speed_mps[min] }
}

const brakeOf = (trajectory: Trajectory, frame: Frame, start_m: number): Braking | null =>
  brakingOf(trajectory, {
    from_m: start_m + frame.from_m,
    pastFrom_m: start_m + frame.before_m + OWN_PAST_M,
    slowest_m: Math.min(slowestOf(trajectory, frame, start_m).at_m, start_m + frame.brakeBy_m),
    until_m: start_m + frame.apex_m + 40,
  })

/** True if the trajectory covers the corner from brake point to past the exit without a data gap. */
export const tells = (trajectory: Trajectory, frame: Frame, start_m: number): boolean =>
  isKnown(
    trajectory,
    start_m + Math.max(frame.from_m, frame.turnIn_m - 150),
    start_m + Math.min((frame.exit_m ?? frame.apex_m) + 20, frame.next_m + 20),
  )

/**
 * Measures one pass of a corner. `following`: the frame of the corner after it; the noise of the log says
 * which places cannot be told apart. Cost: linear in the pass.
 */
export const measurePass = (
  circuit: Circuit,
  trajectory: Trajectory,
  frame: Frame,
  following: Frame,
  start_m: number,
  noise: Noise = quiet,
): Pass => {
  const slowest = slowestOf(trajectory, frame, start_m)
  const brake = brakeOf(trajectory, frame, start_m)
  const path = measurePath(circuit, trajectory, frame, start_m, noise)
  const sameLap = following.from_m > frame.from_m
  const next = brakeOf(trajectory, following, start_m + (sameLap ? 0 : circuit.length_m))
  const until_m = Math.min(next?.onset.at_m ?? Number.POSITIVE_INFINITY, start_m + frame.next_m)
  const lift = liftOf(trajectory, start_m + Math.max(frame.from_m, frame.turnIn_m - 150), slowest.at_m + 20)
  return {
    brake,
    lift,
    ...path,
    slowest_m: slowest.at_m - start_m,
    slowest_mps: slowest.speed_mps,
    ...measureThrottle(trajectory, frame, start_m, { brake, lift, turnIn_m: path.turnIn_m, until_m }),
  }
}

/** Turn-in, apex and exit of the path. */
const measurePath = (
  circuit: Circuit,
  trajectory: Trajectory,
  { corner, sign, apex_m, turnIn_m, exit_m, peak_1pm, from_m }: Frame,
  start_m: number,
  { blur_m, wheel_1pm }: Noise,
): Pick<Pass, 'turnIn_m' | 'apex_m' | 'apexInner_m' | 'apexFlat_m' | 'exit_m' | 'exitOuter_m' | 'setupOuter_m'> => {
  const inner = (i: number): number => innerDistance(circuit, corner, trajectory.offset_m[i], stationOf(circuit, trajectory, i))
  const outer = (i: number): number => outerDistance(circuit, corner, trajectory.offset_m[i], stationOf(circuit, trajectory, i))
  const place = (i: number): number => (trajectory.first + i) * trajectory.step_m - start_m
  const outerAt = (at_m: number): number => {
    const { from } = gridSpan(trajectory, start_m + at_m, start_m + at_m + 2 * trajectory.step_m)
    return outer(Math.min(from, trajectory.offset_m.length - 1))
  }
  const turnIn = turnInOf(
    trajectory,
    sign,
    TURN_IN_SHARE * peak_1pm,
    start_m + Math.max(turnIn_m - SEARCH_M.turnIn, from_m),
    start_m + apex_m,
    wheel_1pm,
  )
  const ownTurnIn_m = turnIn === null ? null : turnIn - start_m
  const apex = nearest(
    trajectory,
    start_m + apex_m - Math.min(SEARCH_M.apex, 0.9 * (apex_m - turnIn_m) + 10),
    start_m + apex_m + SEARCH_M.apex,
    inner,
    blur_m,
  )
  const exit = exit_m === null ? null : exitOf(trajectory, start_m + exit_m - SEARCH_M.exit, start_m + exit_m + SEARCH_M.exit, outer)
  return {
    turnIn_m: ownTurnIn_m,
    apex_m: place(apex.at),
    apexInner_m: apex.least_m,
    apexFlat_m: apex.flat_m,
    exit_m: exit === null ? null : place(exit.at),
    exitOuter_m: exit === null ? null : exit.least_m,
    setupOuter_m: ownTurnIn_m === null ? null : outerAt(ownTurnIn_m),
  }
}

/** Opening of the throttle, and the coasting before it; `until_m`: start of the next corner. */
const measureThrottle = (
  trajectory: Trajectory,
  { apex_m, turnIn_m, exit_m, next_m, closed_m }: Frame,
  start_m: number,
  { brake, lift, turnIn_m: ownTurnIn_m, until_m }: Pick<Pass, 'brake' | 'lift' | 'turnIn_m'> & { until_m: number },
): Pick<Pass, 'opening' | 'coast' | 'exitThrottle'> => {
  const untilSpeed = atTravel(trajectory, trajectory.speed_mps, until_m)
  // What the reference closes for the corner is no dip of a throttle that was opened in it.
  const begin_m = start_m + (closed_m ?? ownTurnIn_m ?? turnIn_m)
  const released_m = brake ? brake.release.at_m : lift ? closedAt(trajectory, lift.at_m) : begin_m
  const cornerEnd_m = start_m + Math.min(exit_m === null ? apex_m + Math.max(30, apex_m - turnIn_m) : exit_m + 10, next_m)
  return {
    opening: openingOf(trajectory, released_m, until_m - BEFORE_NEXT_S * untilSpeed, {
      from_m: start_m + (ownTurnIn_m ?? turnIn_m),
      to_m: cornerEnd_m,
    }),
    coast: brake
      ? coastOf(trajectory, Math.max(released_m, brake.onset.at_m), Math.min(until_m, start_m + apex_m + PAST_THROTTLE_M))
      : null,
    exitThrottle: exit_m === null ? 0 : Math.max(throttleAt(trajectory, start_m + exit_m), throttleAt(trajectory, start_m + exit_m + 15)),
  }
}

const throttleAt = ({ inputs: { travel_m, throttle } }: Trajectory, at_m: number): number =>
  throttle[Math.min(firstAtOrAbove(travel_m, at_m), throttle.length - 1)]

/** Place of a trajectory's least throttle near a corner that it closes for; null where it does not. */
const closedFor = (trajectory: Trajectory, { from_m, turnIn_m, apex_m }: Frame, start_m: number): number | null => {
  if (!liftOf(trajectory, start_m + from_m, start_m + apex_m, Number.NEGATIVE_INFINITY)) return null
  const { travel_m, throttle } = trajectory.inputs
  const end = Math.min(firstAtOrAbove(travel_m, start_m + apex_m + PAST_APEX_M), throttle.length - 1)
  let min = Math.min(firstAtOrAbove(travel_m, start_m + turnIn_m), end)
  for (let i = min; i <= end; i++) if (throttle[i] < throttle[min]) min = i
  return travel_m[min] - start_m
}

/** Place at which a throttle that is being released stops falling. */
const closedAt = ({ inputs: { travel_m, throttle } }: Trajectory, from_m: number): number => {
  let i = Math.min(firstAtOrAbove(travel_m, from_m), throttle.length - 1)
  while (i + 1 < throttle.length && throttle[i + 1] < throttle[i]) i++
  return travel_m[i]
}

/** The exit is the first place this near to the least distance to the outer edge (m). */
const EXIT_FLAT_M = 0.05

const exitOf = (trajectory: Trajectory, from_m: number, to_m: number, outer: (i: number) => number): { at: number; least_m: number } => {
  const { from, to } = gridSpan(trajectory, from_m, to_m)
  let least_m = outer(from)
  for (let i = from; i <= to; i++) least_m = Math.min(least_m, outer(i))
  let at = from
  while (at < to && outer(at) > least_m + EXIT_FLAT_M) at++
  return { at, least_m }
}

/**
 * Where a distance is least: the middle of the later stretch along which it stays so, its least value, and how far (m)
 * from there other places lie that may be as near, give or take a blur.
 */
const nearest = (
  trajectory: Trajectory,
  from_m: number,
  to_m: number,
  distance: (i: number) => number,
  blur_m: Noise['blur_m'],
): { at: number; least_m: number; flat_m: number } => {
  const { from, to } = gridSpan(trajectory, from_m, to_m)
  let min = from
  for (let i = from; i <= to; i++) if (distance(i) < distance(min)) min = i
  const flat = (i: number): boolean => distance(i) < distance(min) + APEX_FLAT_M
  let high = to
  while (high > from && !flat(high)) high--
  let low = high
  while (low > from && flat(low - 1)) low--
  const at = Math.round((low + high) / 2)
  let reach = high - at
  for (let i = from; i <= to; i++)
    if (distance(i) < distance(min) + APEX_FLAT_M + blur_m(Math.abs(trajectory.time_s[i] - trajectory.time_s[min])))
      reach = Math.max(reach, Math.abs(i - at))
  return { at, least_m: distance(min), flat_m: reach * trajectory.step_m }
}

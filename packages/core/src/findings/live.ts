import { distanceAhead, wrapStation } from '../circuit/station.ts'
import { resistanceOf, trajectoryOfLog, typicalInterval } from '../drive/trajectory-of-log.ts'
import type { LivePlace } from '../log/follow.ts'
import type { ReceivedFix } from '../log/received-fix.ts'
import type { Evidenced } from '../mistakes/evidence.ts'
import type { Plan } from '../plan/plan.ts'
import type { Frame } from './pass.ts'
import { type JudgedPass, judgeOf, limitsOf } from './pass-judge.ts'
import { straightStations, wheelNoise } from './quality.ts'
import { type RecentDrive, recentDrive } from './recent-drive.ts'
import { type ReferenceDrive, referencePlan } from './reference.ts'
import { linked, type Rooted, rootOf } from './roots.ts'
import { type OwnThresholds, thresholdsOf } from './thresholds.ts'

/** A mistake that positions show at a corner just passed: a suggestion, until a person confirms it. */
export type LiveFinding = { cornerId: string; lap: number; time_s: number } & Evidenced

/** A corner passed, with what is suggested there (roots only, first the most upstream); none where all marks were kept. */
export type CornerPassed = { cornerId: string; lap: number; time_s: number; slowest_mps: number; findings: LiveFinding[] }

/** A corner is judged when the car is this far past its last mark (m), so that the exit has been seen and smoothed. */
const PAST_M = 45
/** Distance before turn-in that the log must cover, so that braking is seen from its onset (m). */
const BEFORE_TURN_IN_M = 160
/** Noise of positions while a drive still runs, when laps cannot be compared yet (m). */
const TYPICAL_NOISE_M = 0.06
/** Error of demands derived from running speeds (g, 1σ). */
const TYPICAL_DEMAND_NOISE_G = 0.01
/** A longer interval between positions shows places, not marks (s). */
const MAX_INTERVAL_S = 0.26

/** Watches one car against a plan; `take` gives the corners that the position completed. */
export type CornerWatch = { take: (place: LivePlace, fix: ReceivedFix) => CornerPassed[] }

/** What is compared with of a plan. */
type ComparedWith = { referenceDrive: ReferenceDrive; straight: Uint8Array; limits: ReturnType<typeof limitsOf> }

/** The plan's side of the comparison, computed once per watch. */
type Watched = ComparedWith & {
  plan: Plan
  thresholds: OwnThresholds
  fullBrake_bar: number
  overPace: number
  resistance: ReturnType<typeof resistanceOf>
}

/** Cars that drive by the same plan are compared with the same: it is computed once. */
const compared = new WeakMap<Plan, ComparedWith>()

const comparedWith = (plan: Plan): ComparedWith => {
  const before = compared.get(plan)
  if (before) return before
  const referenceDrive = referencePlan(plan)
  const made = {
    referenceDrive,
    straight: straightStations(plan.circuit, referenceDrive.frames),
    limits: limitsOf(plan.circuit, { kind: 'plan', plan }, {}),
  }
  compared.set(plan, made)
  return made
}

/**
 * Judges each corner of a running car against its plan as soon as it is passed, by the same measures as a log
 * afterwards, by a school's own thresholds too. Full brake (bar) scales the pedal. Cost of a position: constant; of a corner: one lap of stations.
 */
export const cornerWatch = (plan: Plan, thresholds: OwnThresholds = {}, fullBrake_bar = 90): CornerWatch => {
  const { circuit } = plan
  const ofPlan = comparedWith(plan)
  const { referenceDrive } = ofPlan
  const watched: Watched = {
    plan,
    thresholds,
    fullBrake_bar,
    ...ofPlan,
    overPace: thresholdsOf(thresholds).overPace,
    resistance: resistanceOf(plan.vehicle),
  }
  /** Station at which each corner is over: past its exit, or its apex where the plan does not use the road. */
  const ends_m = referenceDrive.frames.map((frame) => wrapStation(endOf(frame), circuit.length_m))
  const recent = recentDrive()
  let lastRoot: { corner: number; root: Rooted } | null = null
  let last: LivePlace | null = null

  const cornerPassed = (k: number, place: LivePlace): CornerPassed | null => {
    const judged = judgePassed(watched, recent, k, place)
    if (!judged) return null
    const rooted = linked(referenceDrive.frames[k], lastRoot?.corner === k - 1 ? lastRoot.root : null, rootOf(judged.found))
    const root = rooted.find((mistake) => mistake.root || mistake.linked)
    lastRoot = root ? { corner: k, root } : null
    const suggested = [...rooted.filter((mistake) => mistake.root), ...overdriving(judged, watched.overPace)]
    // A corner before the line is judged past it: it still belongs to the lap in which its apex was passed.
    const isPastLine = place.station_m < wrapStation(referenceDrive.frames[k].apex_m, circuit.length_m)
    const common = { cornerId: plan.corners[k].id, lap: isPastLine ? place.lap - 1 : place.lap, time_s: place.time_s }
    return {
      ...common,
      slowest_mps: judged.pass.slowest_mps,
      findings: suggested.map(({ code, evidence }) => ({ ...common, ...({ code, evidence } as Evidenced) })),
    }
  }

  return {
    take: (place, fix) => {
      recent.push(place, fix)
      const before = last
      last = place
      if (!before || place.travel_m <= before.travel_m || place.travel_m - before.travel_m > circuit.length_m / 2) return []
      const moved_m = place.travel_m - before.travel_m
      return ends_m.flatMap((end_m, k) => {
        const to_m = distanceAhead(before.station_m, end_m, circuit.length_m)
        return to_m > 0 && to_m <= moved_m ? (cornerPassed(k, place) ?? []) : []
      })
    },
  }
}

/** Place at which a corner is over (m, in the frame's own count). */
const endOf = (frame: Frame): number => (frame.exit_m ?? frame.apex_m) + PAST_M

/** Measures and judges the corner that the car has just left; null where the recent drive does not show it well enough. */
const judgePassed = (watched: Watched, recent: RecentDrive, k: number, place: LivePlace): JudgedPass | null => {
  const { plan, fullBrake_bar, referenceDrive, resistance, straight, limits } = watched
  const { circuit } = plan
  const frame = referenceDrive.frames[k]
  const needed_m = distanceAhead(wrapStation(frame.turnIn_m, circuit.length_m), place.station_m, circuit.length_m) + BEFORE_TURN_IN_M
  const first = recent.firstAfter(place.travel_m - circuit.length_m + circuit.step_m)
  if (!recent.covers(first, place.travel_m - Math.min(needed_m, circuit.length_m - 10), place.travel_m - needed_m)) return null
  const { log, matched } = recent.logFrom(first)
  const interval_s = typicalInterval(log)
  if (interval_s > MAX_INTERVAL_S) return null
  const trajectory = trajectoryOfLog(circuit, log, matched, { fullBrake_bar, resistance })
  // The start of the lap that this corner belongs to; the corner's end may lie past the next one.
  const start_m = Math.round((place.travel_m - endOf(frame)) / circuit.length_m) * circuit.length_m
  const pedals = log.brake_bar !== undefined
  const quality = {
    interval_s,
    offsetNoise_m: TYPICAL_NOISE_M,
    drift_m: TYPICAL_NOISE_M,
    positionUncertainty_m: 0,
    laps: 1,
    wheelNoise_1pm: wheelNoise(circuit, trajectory, [{ from: start_m / circuit.length_m }], straight),
    positions: true,
    pedals,
    demands: trajectory.demands,
    demandNoise_g: pedals ? 0 : TYPICAL_DEMAND_NOISE_G,
    steering: log.steer_deg !== undefined,
  }
  const judge = judgeOf(circuit, { kind: 'plan', plan }, { thresholds: watched.thresholds }, quality, referenceDrive, limits)
  return judge(trajectory, start_m, k)
}

/** The finding of a corner taken faster than the plan allows, if it was. */
const overdriving = ({ pass, reference }: JudgedPass, allowedShare: number): Evidenced[] => {
  const overShare = pass.slowest_mps / reference.slowest_mps - 1
  if (overShare <= allowedShare) return []
  const evidence = { slowest_mps: pass.slowest_mps, referenceSlowest_mps: reference.slowest_mps, overShare, allowedShare }
  return [{ code: 'overdriving', evidence }]
}

import { distanceAhead, wrapStation } from '../circuit/station.ts'
import { resistanceOf, trajectoryOfLog, typicalInterval } from '../drive/trajectory-of-log.ts'
import { logColumns } from '../log/channels.ts'
import type { LivePlace } from '../log/follow.ts'
import type { Log } from '../log/log.ts'
import type { MatchedLog } from '../log/match.ts'
import type { ReceivedFix } from '../log/received-fix.ts'
import type { Evidenced } from '../mistakes/evidence.ts'
import type { Plan } from '../plan/plan.ts'
import { judgeOf, limitsOf } from './pass-judge.ts'
import { straightStations, wheelNoise } from './quality.ts'
import { referencePlan } from './reference.ts'
import { linked, type Rooted, rootOf } from './roots.ts'
import { type OwnThresholds, thresholdsOf } from './thresholds.ts'

/** What positions show of a corner just passed: a suggestion, until a person confirms it. */
export type LiveFinding = { cornerId: string; lap: number; time_s: number } & Evidenced

/** A corner passed, with what is suggested there (roots only, first the most upstream); none where all marks were kept. */
export type CornerPassed = { cornerId: string; lap: number; time_s: number; slowest_mps: number; findings: LiveFinding[] }

/** Columns of the last lap and a little more. */
const columns = [...logColumns.filter((name) => name !== 'rpm'), 'travel_m', 'offset_m'] as const

type Recent = Record<(typeof columns)[number], Float64Array>

/** A corner is judged when the car is this far past its last mark (m), so that the exit has been seen and smoothed. */
const PAST_M = 45
/** Noise of positions while a drive still runs, when nothing can be told from lap to lap (m). */
const TYPICAL_NOISE_M = 0.06
/** By how much demands derived from running speeds err (g, 1σ). */
const TYPICAL_DEMAND_NOISE_G = 0.01
/** Fewer positions a second than this show places, not marks. */
const SLOWEST_INTERVAL_S = 0.26
/** So many positions are kept at most: a long lap at a high rate. */
const MOST = 16_384

/** Watches one car against a plan; `take` gives the corners that the position completed. */
export type CornerWatch = { take: (place: LivePlace, fix: ReceivedFix) => CornerPassed[] }

/**
 * Judges each corner of a running car against its plan as soon as it is passed, by the same measures as a log
 * afterwards, by a school's own thresholds too. Full brake (bar) scales the pedal. Cost of a position: constant; of a corner: one lap of stations.
 */
export const cornerWatch = (plan: Plan, own: OwnThresholds = {}, fullBrake_bar = 90): CornerWatch => {
  const { circuit, corners } = plan
  const referenceDrive = referencePlan(plan)
  const { overPace } = thresholdsOf(own)
  const resistance = resistanceOf(plan.vehicle)
  const straight = straightStations(circuit, referenceDrive.frames)
  const limits = limitsOf(circuit, { kind: 'plan', plan }, {})
  /** Where each corner is over: past its exit, or its apex where the plan does not use the road. */
  const ends = referenceDrive.frames.map((frame) => wrapStation((frame.exit_m ?? frame.apex_m) + PAST_M, circuit.length_m))
  const kept: Recent = Object.fromEntries(columns.map((name) => [name, new Float64Array(MOST)])) as Recent
  let count = 0
  let lastRoot: { corner: number; root: Rooted } | null = null
  let pedals = true
  let steering = true
  let gears = true
  const push = (place: LivePlace, fix: ReceivedFix): void => {
    if (count === MOST) {
      const drop = MOST / 4
      for (const name of columns) kept[name].copyWithin(0, drop)
      count -= drop
    }
    pedals &&= fix.throttle_pct !== undefined && fix.brake_bar !== undefined
    steering &&= fix.steer_deg !== undefined
    gears &&= fix.gear !== undefined
    kept.time_s[count] = place.time_s
    kept.travel_m[count] = place.travel_m
    kept.offset_m[count] = place.offset_m
    kept.speed_mps[count] = place.speed_mps
    kept.lat_deg[count] = fix.lat_deg
    kept.lon_deg[count] = fix.lon_deg
    kept.ele_m[count] = fix.ele_m ?? 0
    kept.throttle_pct[count] = fix.throttle_pct ?? 0
    kept.brake_bar[count] = fix.brake_bar ?? 0
    kept.steer_deg[count] = fix.steer_deg ?? 0
    kept.gear[count] = fix.gear ?? 0
    count++
  }
  const judge = (k: number, place: LivePlace): CornerPassed | null => {
    const to = count
    let first = to - 1
    const from_m = place.travel_m - circuit.length_m + circuit.step_m
    while (first > 0 && kept.travel_m[first - 1] > from_m) first--
    const frame = referenceDrive.frames[k]
    const needed_m = distanceAhead(wrapStation(frame.turnIn_m, circuit.length_m), place.station_m, circuit.length_m) + 160
    if (kept.travel_m[first] > place.travel_m - Math.min(needed_m, circuit.length_m - 10)) return null
    // A silence inside the corner leaves nothing to judge.
    for (let i = to - 1; i > first && kept.travel_m[i] > place.travel_m - needed_m; i--)
      if (kept.time_s[i] - kept.time_s[i - 1] > 0.6) return null
    const slice = (name: (typeof columns)[number]): Float64Array => kept[name].slice(first, to)
    const log: Log = {
      time_s: slice('time_s'),
      lat_deg: slice('lat_deg'),
      lon_deg: slice('lon_deg'),
      ele_m: slice('ele_m'),
      speed_mps: slice('speed_mps'),
      ...(pedals ? { throttle_pct: slice('throttle_pct'), brake_bar: slice('brake_bar') } : {}),
      ...(steering ? { steer_deg: slice('steer_deg') } : {}),
      ...(gears ? { gear: slice('gear') } : {}),
    }
    const matched: MatchedLog = {
      travel_m: slice('travel_m'),
      offset_m: slice('offset_m'),
      onCircuit: new Uint8Array(to - first).fill(1),
      positionUncertainty_m: 0,
    }
    const interval_s = typicalInterval(log)
    if (interval_s > SLOWEST_INTERVAL_S) return null
    const trajectory = trajectoryOfLog(circuit, log, matched, { fullBrake_bar, resistance })
    // The line of the lap that this corner belongs to; its end may lie past the next line.
    const end_m = (frame.exit_m ?? frame.apex_m) + PAST_M
    const start_m = Math.round((place.travel_m - end_m) / circuit.length_m) * circuit.length_m
    const noise = wheelNoise(circuit, trajectory, [{ from: start_m / circuit.length_m }], straight)
    const quality = {
      interval_s,
      offsetNoise_m: TYPICAL_NOISE_M,
      drift_m: TYPICAL_NOISE_M,
      positionUncertainty_m: 0,
      laps: 1,
      wheelNoise_1pm: noise,
      pedals,
      demandNoise_g: pedals ? 0 : TYPICAL_DEMAND_NOISE_G,
      steering,
    }
    const judged = judgeOf(circuit, { kind: 'plan', plan }, { thresholds: own }, quality, referenceDrive, limits)(trajectory, start_m, k)
    if (!judged) return null
    const { pass, reference } = judged
    const rooted = linked(frame, lastRoot?.corner === k - 1 ? lastRoot.root : null, rootOf(judged.found))
    const root = rooted.find((one) => one.root || one.linked)
    lastRoot = root ? { corner: k, root } : null
    const found: Evidenced[] = rooted.filter((one) => one.root)
    const overShare = pass.slowest_mps / reference.slowest_mps - 1
    if (overShare > overPace)
      found.push({
        code: 'overdriving',
        evidence: {
          slowest_mps: pass.slowest_mps,
          referenceSlowest_mps: reference.slowest_mps,
          overShare,
          allowedShare: overPace,
        },
      })
    const common = { cornerId: corners[k].id, lap: place.lap, time_s: place.time_s }
    return {
      ...common,
      slowest_mps: pass.slowest_mps,
      findings: found.map((one) => ({ ...common, ...({ code: one.code, evidence: one.evidence } as Evidenced) })),
    }
  }
  let last: LivePlace | null = null
  return {
    take: (place, fix) => {
      push(place, fix)
      const before = last
      last = place
      if (!before || place.travel_m <= before.travel_m || place.travel_m - before.travel_m > circuit.length_m / 2) return []
      const moved_m = place.travel_m - before.travel_m
      const done: CornerPassed[] = []
      for (let k = 0; k < ends.length; k++) {
        const to_m = ends[k] - before.station_m + (ends[k] < before.station_m ? circuit.length_m : 0)
        const passed = to_m > 0 && to_m <= moved_m ? judge(k, place) : null
        if (passed) done.push(passed)
      }
      return done
    },
  }
}

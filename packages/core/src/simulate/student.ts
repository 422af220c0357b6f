import type { Circuit } from '../circuit/circuit.ts'
import { atStation, distanceAhead, signedDistance, stationIndex } from '../circuit/station.ts'
import type { LogCode } from '../findings/mistakes.ts'
import { lineFromOffsets } from '../line/line.ts'
import { markOf } from '../marks/marks.ts'
import { gripOfSchool } from '../marks/school.ts'
import type { Plan } from '../plan.ts'
import { type GripShare, surfaces, uniformGrip } from '../profile/grip.ts'
import { solveProfile } from '../profile/profile.ts'
import type { Random } from './random.ts'

/** A habit: how likely a mistake is in a corner, and how big (m, or a share for brake-over). */
export type Habit = { cornerId: string; code: LogCode; probability: number; size: number }

/** A mistake that the simulated student made: the truth that an analysis should find. */
export type MadeMistake = { lap: number; cornerId: string; code: LogCode; size: number }

/** One simulated lap at the circuit's stations. */
export type SimulatedLap = {
  time_s: Float64Array
  speed_mps: Float64Array
  offset_m: Float64Array
  kappa_1pm: Float64Array
  ax_mps2: Float64Array
  gear: Uint8Array
  lapTime_s: number
  made: MadeMistake[]
}

/** Scatter of a student who makes no mistake: share of pace, and sideways wander (m). */
const scatter = { pace: 0.008, wander_m: 0.12 } as const

/** Raised cosine: 1 at 0, 0 from ±1 on. */
const bump = (x: number): number => (Math.abs(x) >= 1 ? 0 : (1 + Math.cos(Math.PI * x)) / 2)

/**
 * Drives one lap of a plan with habits: path and limits of speed are bent by what goes wrong. Speeds are the model's on
 * the planned line (a student who turns in early does not slow down for it); times follow the path really driven.
 * `wanted`: the pace of this lap, the plan's unless told.
 */
export const simulateLap = (
  plan: Plan,
  habits: readonly Habit[],
  lap: number,
  random: Random,
  wanted: number = plan.settings.pace,
): SimulatedLap => {
  const { circuit, vehicle } = plan
  const pace = wanted * (1 + scatter.pace * random.normal())
  const base = uniformGrip(surfaces[plan.settings.surface] * Math.min(pace, 0.98))
  const grip = gripOfSchool(circuit, plan.turnings, base, plan.settings.school).map((g) => ({ ...g }))
  const offset_m = Float64Array.from(plan.line.offset_m)
  const cap_mps = new Float64Array(circuit.count).fill(Number.POSITIVE_INFINITY)
  wander(circuit, offset_m, random)
  const made: MadeMistake[] = []
  for (const habit of habits) {
    if (random.uniform() >= habit.probability) continue
    const size = habit.size * (1 + 0.12 * (2 * random.uniform() - 1))
    if (bend(plan, habit, size, { offset_m, cap_mps, grip })) made.push({ lap, cornerId: habit.cornerId, code: habit.code, size })
  }
  const line = lineFromOffsets(circuit, offset_m)
  const speeds = solveProfile(circuit, plan.line, vehicle, { grip, cap_mps })
  const { time_s, lapTime_s } = timesOf(circuit, line.stepPath_m, speeds.speed_mps)
  return {
    time_s,
    speed_mps: speeds.speed_mps,
    offset_m,
    kappa_1pm: line.kappa_1pm,
    ax_mps2: speeds.ax_mps2,
    gear: speeds.gear,
    lapTime_s,
    made,
  }
}

/** Times at the stations of a path driven at given speeds. */
const timesOf = (circuit: Circuit, stepPath_m: Float64Array, speed_mps: Float64Array): { time_s: Float64Array; lapTime_s: number } => {
  const n = circuit.count
  const time_s = new Float64Array(n)
  let clock = 0
  for (let i = 0; i < n; i++) {
    const next = i + 1 === n ? 0 : i + 1
    time_s[i] = clock
    clock += (4 * stepPath_m[i]) / ((speed_mps[i] + speed_mps[next]) * (Math.cos(circuit.grade_rad[i]) + Math.cos(circuit.grade_rad[next])))
  }
  return { time_s, lapTime_s: clock }
}

const wander = (circuit: Circuit, offset_m: Float64Array, random: Random): void => {
  const waves = [1, 2, 3, 5].map((k) => ({ k, size: (scatter.wander_m * random.normal()) / 2, phase: 2 * Math.PI * random.uniform() }))
  for (let i = 0; i < circuit.count; i++)
    for (const { k, size, phase } of waves) offset_m[i] += size * Math.sin((2 * Math.PI * k * circuit.s_m[i]) / circuit.length_m + phase)
}

/** What a habit may bend. */
type Bendable = { offset_m: Float64Array; cap_mps: Float64Array; grip: GripShare[] }

/** Bends path or limits by one mistake; false where the corner has nothing to get wrong in that way. */
const bend = (plan: Plan, habit: Habit, size: number, target: Bendable): boolean => {
  const { circuit, corners, marks } = plan
  const corner = corners.find((c) => c.id === habit.cornerId)
  const turnIn = markOf(marks, habit.cornerId, 'turn-in')
  const apex = markOf(marks, habit.cornerId, 'apex')
  const slowest = markOf(marks, habit.cornerId, 'slowest')
  const brake = markOf(marks, habit.cornerId, 'brake')
  const exit = markOf(marks, habit.cornerId, 'exit')
  if (!corner || !turnIn || !apex || !slowest) return false
  const outward = corner.side === 'left' ? -1 : 1
  const between = (from_m: number, to_m: number, change: (i: number) => void): void => {
    const first = stationIndex(circuit, from_m)
    const count = Math.round(distanceAhead(from_m, to_m, circuit.length_m) / circuit.step_m)
    for (let k = 0; k <= count; k++) change((first + k) % circuit.count)
  }
  const push = (centre_m: number, reach_m: number, by_m: number): void =>
    between(centre_m - reach_m, centre_m + reach_m, (i) => {
      target.offset_m[i] += by_m * bump(signedDistance(centre_m, circuit.s_m[i], circuit.length_m) / reach_m)
    })
  switch (habit.code) {
    case 'turn-in-early': {
      const before = Float64Array.from(target.offset_m)
      const tail_m = distanceAhead(turnIn.station_m, apex.station_m, circuit.length_m) + 60
      between(turnIn.station_m - 60, turnIn.station_m + tail_m, (i) => {
        const along = signedDistance(turnIn.station_m, circuit.s_m[i], circuit.length_m)
        const share = along < -20 ? bump((along + 20) / 40) : along < tail_m - 60 ? 1 : bump((along - tail_m + 60) / 60)
        target.offset_m[i] = atStation(circuit, before, circuit.s_m[i] + size * share)
      })
      return true
    }
    case 'apex-missed':
      push(apex.station_m, 45, outward * size)
      return true
    case 'exit-wide':
      if (!exit) return false
      push(exit.station_m, 60, outward * size)
      return true
    case 'brake-over':
      between(turnIn.station_m, apex.station_m + 10, (i) => {
        target.cap_mps[i] = Math.min(target.cap_mps[i], slowest.speed_mps * (1 - size))
      })
      if (brake) {
        // Braked from the same place, but harder: the lower speed must not pull the brake point forward.
        const wanted = slowest.speed_mps * (1 - size)
        const harder = (brake.speed_mps ** 2 - wanted ** 2) / (brake.speed_mps ** 2 - slowest.speed_mps ** 2)
        if (harder > 0.97 / plan.settings.pace) return false
        between(brake.station_m, apex.station_m, (i) => {
          target.grip[i] = { ...target.grip[i], brake: target.grip[i].brake * harder }
        })
      }
      return true
    case 'brake-early':
      if (!brake) return false
      between(turnIn.station_m - size, turnIn.station_m, (i) => {
        target.cap_mps[i] = Math.min(target.cap_mps[i], turnIn.speed_mps)
      })
      return true
    case 'brake-late': {
      if (!brake) return false
      const zone_m = distanceAhead(brake.station_m, turnIn.station_m, circuit.length_m)
      // The extra grip is what the surface still has; a zone too short for the wanted delay makes no late brake.
      const harder = zone_m / Math.max(zone_m - size, 1)
      if (harder > 0.97 / plan.settings.pace) return false
      between(brake.station_m - 10, turnIn.station_m, (i) => {
        target.grip[i] = { ...target.grip[i], brake: target.grip[i].brake * harder }
      })
      return true
    }
  }
}

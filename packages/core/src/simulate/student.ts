import type { Circuit } from '../circuit/circuit.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import { lineFromOffsets } from '../path/line.ts'
import type { Plan } from '../plan/plan.ts'
import { solveProfile } from '../profile/solve-profile.ts'
import type { Random } from '../units/random.ts'
import { pathHabits } from './path-habits.ts'
import { demandOf, easedSpeeds, pedalHabit } from './pedal-habits.ts'
import { speedHabits } from './speed-habits.ts'
import { wheelHabits } from './wheel-habits.ts'

/** A habit: how likely a mistake is in a corner, and how big, in the unit of `usualSize` for its code. */
export type Habit = { cornerId: string; code: LogCode; probability: number; size: number }

/** A mistake that the simulated student made: the truth that an analysis should find. */
export type MadeMistake = { lap: number; cornerId: string; code: LogCode; size: number }

/** One simulated lap at the circuit's stations. */
export type SimulatedLap = {
  time_s: Float64Array
  speed_mps: Float64Array
  offset_m: Float64Array
  kappa_1pm: Float64Array
  /** The steering wheel, as the curvature (1/m) that its angle stands for; it differs from the path's in a slide. */
  wheel_1pm: Float64Array
  ax_mps2: Float64Array
  gear: Uint8Array
  lapTime_s: number
  made: MadeMistake[]
}

/** Scatter of a student who makes no mistake: share of pace, and sideways wander (m). */
const scatter = { pace: 0.008, wander_m: 0.12 } as const

/**
 * Drives one lap of a plan with habits: first path and limits of speed are bent by what goes wrong and the lap is solved, then
 * pedals and hands go wrong on the solved lap. Speeds are the model's on the planned line (a student who turns in early does
 * not slow down for it); times follow the path really driven. A mistake that would take more grip than the surface has is not
 * made. `wanted`: the pace of this lap, the plan's unless told.
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
  // The plan's own grip at this lap's pace, with what the plan leaves of the brake in each corner.
  const share = Math.min(pace, 0.98) / plan.settings.pace
  const grip = plan.grip.map(({ brake, corner, drive }) => ({ brake: brake * share, corner: corner * share, drive: drive * share }))
  const offset_m = Float64Array.from(plan.line.offset_m)
  const cap_mps = new Float64Array(circuit.count).fill(Number.POSITIVE_INFINITY)
  wander(circuit, offset_m, random)
  const made: MadeMistake[] = []
  const drawn = habits.flatMap((habit) => {
    if (random.uniform() >= habit.probability) return []
    return [{ habit, size: habit.size * (1 + 0.12 * (2 * random.uniform() - 1)) }]
  })
  const note = ({ habit, size }: (typeof drawn)[number], done: boolean | null | undefined): void => {
    if (done) made.push({ lap, cornerId: habit.cornerId, code: habit.code, size })
  }
  for (const mistake of drawn) {
    note(mistake, pathHabits[mistake.habit.code]?.(plan, mistake.habit.cornerId, mistake.size, offset_m))
    note(mistake, speedHabits[mistake.habit.code]?.(plan, mistake.habit.cornerId, mistake.size, { cap_mps, grip }))
  }
  const line = lineFromOffsets(circuit, offset_m)
  const solved = solveProfile(circuit, plan.line, vehicle, { grip, cap_mps })
  const speed_mps = easedSpeeds(plan, solved.speed_mps)
  const hands = { gear: Uint8Array.from(plan.profile.gear), wheel_1pm: Float64Array.from(line.kappa_1pm) }
  for (const mistake of drawn) note(mistake, pedalHabit(plan, plan.line, speed_mps, mistake.habit, mistake.size))
  for (const mistake of drawn)
    note(mistake, wheelHabits[mistake.habit.code]?.(plan, mistake.habit.cornerId, mistake.size, hands, speed_mps))
  const { time_s, lapTime_s } = timesOf(circuit, line.stepPath_m, speed_mps)
  return {
    time_s,
    speed_mps,
    offset_m,
    kappa_1pm: line.kappa_1pm,
    ...hands,
    ax_mps2: demandOf(plan, plan.line, speed_mps),
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

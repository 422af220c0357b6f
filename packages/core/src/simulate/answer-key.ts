import { canExplain, type LogCode } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'
import type { Random } from '../units/random.ts'
import { keyCornerOf, type Say } from './answer-key-corner.ts'
import { brakeShown, gearsShown, slowestShown, throttleShown } from './answer-key-inputs.ts'
import { lineShown, wheelShown } from './answer-key-path.ts'
import { type SimulatedLap, simulateLap } from './student.ts'

/**
 * A mistake that a simulated lap shows by the definitions alone, with its value (m, s or a share) and threshold: read off the lap as it was driven, station by station,
 * with nothing between that a log brings (rate, noise, matching) and none of the rules that judge logs. What was meant to
 * go wrong need not have gone wrong, or may have brought about something further upstream.
 */
export type ShownMistake = { code: LogCode; value: number; threshold: number }

/** A lap as its plan wants it, driven with pedals that take time to move: no scatter and no mistake. */
export const steadyLap = (plan: Plan): SimulatedLap => {
  const still: Random = { uniform: () => 1, normal: () => 0 }
  return simulateLap(plan, [], 0, still)
}

/**
 * All mistakes that a lap shows in one corner against a reference lap, by their definitions: the value (m, s or a share)
 * and the threshold that it passed; 2 of 1 where it is there or not.
 */
export const shownIn = (plan: Plan, cornerId: string, lap: SimulatedLap, reference: SimulatedLap): ShownMistake[] => {
  const corner = keyCornerOf(plan, cornerId, lap, reference)
  const out: ShownMistake[] = []
  const say: Say = (code, value, threshold) => {
    if (value > threshold) out.push({ code, value, threshold })
  }
  for (const part of [lineShown, wheelShown, brakeShown, throttleShown, slowestShown, gearsShown]) part(corner, say)
  return out
}

/** Of what a corner shows, what nothing else there explains: what may be called its root. */
export const unexplained = (shown: readonly ShownMistake[]): ShownMistake[] =>
  shown.filter((mistake) => !shown.some((other) => other !== mistake && canExplain(other.code, mistake.code)))

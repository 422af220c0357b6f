import type { Axle, DrillKind, DrillResult, DrillTarget, PadConeRole, PadExercise, PadStanding } from '@ochote/core'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { staffWords } from '../language/staff-words.ts'

/** Names of the exercises. */
export const drillWords: Record<DrillKind, string> = staffWords.drills

/** Results of an attempt. */
export const resultWords: Record<DrillResult, string> = {
  'in-box': say`In the box`,
  short: say`Short of it`,
  over: say`Past it`,
  clean: say`Clean`,
  cone: say`Hit a cone`,
  'off-line': say`Lost the rhythm`,
  'in-band': say`On target speed`,
  slow: say`Below target speed`,
  'pushed-wide': say`Pushed wide`,
  slid: say`Slid`,
  caught: say`Caught it`,
  spun: say`Spun round`,
}

/** The one sentence that goes with an attempt, unless an exercise has its own. */
const usualSentences: Record<DrillKind, readonly [string, string, string]> = {
  'braking-box': [
    say`Firm first third, then hold it to the stop`,
    say`Brake at the cone, not before it`,
    say`Eyes to the far end of the box`,
  ],
  slalom: [say`Look one cone further`, say`Same steering each way, no faster`, say`Steady throttle between them`],
  circle: [say`Look across the circle`, say`Squeeze until it just begins to push`, say`One steering input, then hold`],
  'figure-of-eight': [say`Slow before the crossing`, say`Look for the second circle early`, say`Unwind, then squeeze`],
  'lane-change': [say`Off the brake, then steer`, say`Look into the gap`, say`Straighten before you brake again`],
  'circle-corner': [say`Look round for the cone`, say`Turn in at the cone, out at the cone`, say`Hold the throttle still all the way`],
  skid: [say`Look where you want to go`, say`Off the throttle when the front pushes`, say`Steer into it, then wait`],
}

/** The three sentences of an exercise: its own where somebody wrote them, else the usual ones. */
export const sentencesOf = ({ kind, sentences }: Pick<PadExercise, 'kind' | 'sentences'>): readonly string[] =>
  usualSentences[kind].map((usual, k) => sentences?.[k]?.trim() || usual)

/** What each cone is for. */
export const coneRoleWords: Record<PadConeRole, string> = {
  speed: say`speed reached`,
  brake: say`brake`,
  gate: say`gate`,
  stop: say`box to stop in`,
  slalom: say`slalom`,
  inner: say`inside`,
  outer: say`outside`,
  reference: say`turn in and out`,
}

export const axleWords: Record<Axle, string> = { front: say`front axle`, rear: say`rear axle` }

/** What an exercise asks for, in a line. */
export const targetInWords = ({ kind, sizes, axle, axleShare }: PadExercise, target: DrillTarget): string => {
  const speed = speedInWords(target.speed_mps)
  if (kind === 'braking-box') return say`From ${speed}: stop within ${metres(target.stop_m ?? 0)} of the reaction`
  const around = say`${speed}, ${(target.time_s ?? 0).toFixed(1)} s round (radius ${metres(sizes.radius_m)})`
  if (kind === 'skid' && axle) return say`${around}; ${axleWords[axle]} at ${Math.round(100 * (axleShare ?? 1))}% of its grip`
  if (target.time_s !== null) return around
  return say`${speed} (cones ${metres(sizes.spacing_m)} apart)`
}

/** How somebody stands in an exercise, in a line. */
export const standingInWords = ({ drill, attempts, onTarget, said }: PadStanding): string =>
  say`${drillWords[drill]}: ${onTarget} of ${attempts} on target${said ? say`; said last: “${said}”` : ''}`

import { type Intensity, intensities } from '../day/intensity.ts'

/** How a coached or timed lap is driven: its pace (null: the plan’s), the talk, and whether gears are called where they can be left to the car. */
export type LapStep = { pace: number | null; talk: Intensity; gears?: boolean | undefined }

/** Kinds of student with a programme of their own: a gift drive, a first-timer, a regular. */
export const stepProgrammes = ['gift', 'first-timer', 'regular'] as const
export type StepProgramme = (typeof stepProgrammes)[number]

/** Paces below the plan’s at which a programme begins. */
const BEGIN_PACE = 0.6
const MORE_SLOWLY = 0.15
/** Shares of the laps that a first-timer is driven, and driven or guided, through. */
const DRIVEN_SHARE = 0.4
const GUIDED_SHARE = 0.8

/**
 * The ready-made programme of a kind of student for so many laps up to a pace: a gift drive is pushed harder each lap; a first-timer gets
 * ever fewer words and, after the first laps, the plan’s pace; a regular is guided at first and then left alone.
 */
export const readySteps = (kind: StepProgramme, laps: number, pace: number): LapStep[] =>
  Array.from({ length: laps }, (_, k): LapStep => {
    const done = (k + 1) / laps
    if (kind === 'regular') return { pace: null, talk: done <= 0.5 ? 'guided' : 'quiet', gears: true }
    const begin = Math.min(pace, Math.max(BEGIN_PACE, pace - MORE_SLOWLY))
    if (kind === 'gift') {
      const share = laps > 1 ? k / (laps - 1) : 1
      const now = Math.round(100 * (begin + share * (pace - begin))) / 100
      return { pace: now < pace ? now : null, talk: 'driven', gears: done > 0.5 }
    }
    const driven = done <= DRIVEN_SHARE + 1e-9
    return {
      pace: driven && begin < pace ? begin : null,
      talk: driven ? 'driven' : done <= GUIDED_SHARE + 1e-9 ? 'guided' : 'quiet',
      gears: !driven,
    }
  })

/** A change of a run’s steps by one touch: from this lap on they go on at that step. */
export type StepJump = { lap: number; step: number }

/** Number of the step of a lap: `ordinal` counts the driven laps up to a lap, the first as 0. */
export const stepNumber = (lap: number, ordinal: (lap: number) => number, jumps: readonly StepJump[], count: number): number => {
  const last = jumps.findLast((jump) => jump.lap <= lap)
  const number = last ? last.step + ordinal(lap) - ordinal(last.lap) : ordinal(lap)
  return Math.min(count - 1, Math.max(0, number))
}

/** A pace nearer than this to the plan’s is the plan’s. */
const SAME_PACE = 0.02

/** True for a lap that is driven at the pace of the plan. */
export const isAtPace = (pace: number, planned: number): boolean => Math.abs(pace - planned) < SAME_PACE

/** Talk by so many steps more or less than another. */
export const talkBy = (talk: Intensity, steps: number): Intensity =>
  intensities[Math.min(intensities.length - 1, Math.max(0, intensities.indexOf(talk) + steps))]

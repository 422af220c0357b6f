import type { Intensity } from '../day/intensity.ts'
import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { LapKind, RunProgramme } from './lap-kind.ts'

/** The screens on which things are logged. */
export const runModes = ['ride-along', 'lead-follow', 'corner-post', 'pad', 'pit-wall'] as const
export type RunMode = (typeof runModes)[number]

/** State of one part of the car after a run: nothing to say, keep an eye on it, or do not drive before somebody looked. */
export const verdicts = ['good', 'watch', 'stop'] as const
export type Verdict = (typeof verdicts)[number]

/** One word for a run, as the student chooses it. */
export const accountWords = ['calm', 'busy', 'rushed', 'unsure', 'flowing', 'tired'] as const
export type AccountWord = (typeof accountWords)[number]

/** Why a lap is not judged. */
export const setAsideReasons = ['traffic', 'spoilt', 'flag', 'instructor'] as const
export type SetAsideReason = (typeof setAsideReasons)[number]

/** One pass of a corner. */
export type PassOfCorner = { lap: number; cornerId: string }

/** The screen on which it was logged; absent in events from before there was a choice. */
type Via = { via?: RunMode | undefined }

/** Events of a run, appended and never changed; an undo is an event too. */
export type RunEvent = { id: string; runId: string; at: string } & (
  | /** `shown`: positions had suggested it, and a person confirmed. */ ({
      kind: 'observation'
      cornerId: string
      code: MistakeCode
      lap: number
      shown?: boolean | undefined
    } & Via)
  | ({ kind: 'held-well'; cornerId: string; lap: number } & Via)
  | { kind: 'undo'; undoes: string }
  | { kind: 'sent-out'; program: RunProgramme }
  /** Called in by the pit wall; the driver is told. */
  | { kind: 'called-in' }
  | { kind: 'ended' }
  /** `only`: this lap and none after it, as when it is named in the debrief. */
  | { kind: 'lap-kind'; lap: number; lapKind: LapKind; only?: boolean | undefined }
  /** A lap that is not to be judged, and why; null: it counts again. The last word counts. */
  | { kind: 'set-aside'; lap: number; reason: SetAsideReason | null }
  /** Passes of corners that a flag or a stop spoilt. */
  | { kind: 'passes-aside'; why: 'flag' | 'stop'; passes: PassOfCorner[] }
  /** `lap`: from this lap on it is so much more or less talk than the programme has. */
  | { kind: 'intensity'; intensity: Intensity; lap?: number | undefined }
  /** From a lap on the programme goes on at a step (from 0). */
  | { kind: 'step'; lap: number; step: number }
  | { kind: 'pace'; lap: number; pace: number; why: string }
  /** Passed another car, or let one pass; `passes`: the passes of corners that it spoilt. */
  | { kind: 'traffic'; lap: number; way: 'went-by' | 'let-by'; cornerId: string | null; passes?: PassOfCorner[] | undefined }
  /** The check before rolling; `open`: what was not in order. */
  | { kind: 'checked'; open: string[] }
  /** The student's own account, before anybody shows anything. */
  | { kind: 'account'; best: string | null; worst: string | null; word: AccountWord }
  /** A correction as it was said after the run; its outcome shows in the times through that follow. */
  | { kind: 'said'; cornerId: string; code: MistakeCode; words: string }
  /** An instructor has looked at a log that a student sent in: the student may read what was found. */
  | { kind: 'released' }
  /** The driver of a lap: an instructor's lap is a reference, not the student's. */
  | { kind: 'lap-driver'; lap: number; driver: 'student' | 'instructor' }
  /** A note at a place of the road, for one lap or for all; `to_m` makes it an arrow along the road. */
  | {
      kind: 'note'
      station_m: number
      to_m: number | null
      lap: number | null
      text: string
      /** A still of a video with what was drawn on it. */
      pictureId?: string | undefined
    }
  /** State of the car after the run, for whoever takes it next. */
  | { kind: 'car'; carId: string; brakes: Verdict; tyres: Verdict; other: Verdict }
)

/** A mistake that was logged by hand. */
export type Observation = Extract<RunEvent, { kind: 'observation' }>

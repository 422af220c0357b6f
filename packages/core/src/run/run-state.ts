import { type Intensity, intensities } from '../day/intensity.ts'
import { standing } from '../day/standing.ts'
import { PACE_CEILING } from '../profile/grip.ts'
import { isDrivenKind, type LapKind, lapKindOf, type RunProgramme } from './lap-kind.ts'
import { type LapStep, stepNumber, talkBy } from './lap-steps.ts'
import type { RunEvent } from './run-events.ts'

type Standing = Exclude<RunEvent, { kind: 'undo' }>
type OfKind<K extends Standing['kind']> = Extract<Standing, { kind: K }>

/** State of a run, from its events. */
export type RunState = {
  /** Mistakes that were logged, each pass once. */
  observations: OfKind<'observation'>[]
  /** The same as they were touched, by whomever. */
  touched: OfKind<'observation'>[]
  heldWell: OfKind<'held-well'>[]
  /** The newest own event that one tap can undo: nobody takes back what somebody else logged. */
  lastUndoable: Standing | null
  /** The same of anybody. */
  lastTold: Standing | null
  checked: OfKind<'checked'> | null
  car: OfKind<'car'> | null
  programme: RunProgramme | null
  kindOf: (lap: number) => LapKind
  intensity: Intensity | null
  /** The step of the programme that a lap is driven by, with its number; null without steps. */
  stepOf: (lap: number) => (LapStep & { number: number }) | null
  /** The pace of a lap where the plan has `pace`, and the talk where the student wishes `talk`: by the programme and what was agreed on the way. */
  paceOf: (lap: number, pace: number) => number
  talkOf: (lap: number, talk: Intensity) => Intensity
  pace: OfKind<'pace'> | null
  calledIn: OfKind<'called-in'> | null
  ended: OfKind<'ended'> | null
  account: OfKind<'account'> | null
  released: OfKind<'released'> | null
  notes: OfKind<'note'>[]
  said: OfKind<'said'>[]
  /** Laps that an instructor drove. */
  byInstructor: ReadonlySet<number>
}

/** A run without a programme: coached from the first line to the last. */
const OPEN_RUN: RunProgramme = { sighting: 0, coached: Number.POSITIVE_INFINITY, coolDown: 0 }

/** One tap can undo what was said of driving, not what began or ended something. */
const undoable: ReadonlySet<RunEvent['kind']> = new Set([
  'observation',
  'held-well',
  'traffic',
  'pace',
  'intensity',
  'step',
  'lap-kind',
  'set-aside',
  'lap-driver',
])

/** One mistake in one pass is one, also where somebody at another screen saw it too. */
const onePerPass = (observations: readonly OfKind<'observation'>[]): OfKind<'observation'>[] => {
  const seenOn = new Map<string, OfKind<'observation'>['via']>()
  return observations.filter(({ cornerId, code, lap, via }) => {
    const key = `${cornerId} ${code} ${lap}`
    if (!seenOn.has(key)) seenOn.set(key, via)
    return seenOn.get(key) === via
  })
}

/** The state of a run after its events, in their order; `isOwn`: events that whoever asks has logged, all where absent. Cost: linear in events. */
export const runStateOf = (events: readonly RunEvent[], isOwn: (id: string) => boolean = () => true): RunState => {
  const left = standing(events)
  const all = <K extends Standing['kind']>(kind: K): OfKind<K>[] => left.filter((e): e is OfKind<K> => e.kind === kind)
  const last = <K extends Standing['kind']>(kind: K): OfKind<K> | null => all(kind).at(-1) ?? null
  const named = all('lap-kind').map(({ lap, lapKind, only }) => ({ lap, lapKind, only }))
  const programme = last('sent-out')?.program ?? null
  const kindOf = (lap: number): LapKind => lapKindOf(programme ?? OPEN_RUN, lap, named)
  const jumps = all('step')
  const ordinal = (lap: number): number => {
    let count = -1
    for (let k = 1; k <= lap; k++) if (isDrivenKind(kindOf(k))) count++
    return count
  }
  const stepOf: RunState['stepOf'] = (lap) => {
    const steps = programme?.steps
    if (!steps || steps.length === 0) return null
    const number = stepNumber(lap, ordinal, jumps, steps.length)
    return { ...steps[number], number }
  }
  const agreed = all('pace')
  const paceOf: RunState['paceOf'] = (lap, pace) => {
    const planned = (at: number): number => stepOf(at)?.pace ?? pace
    const before = agreed.findLast((e) => e.lap < lap)
    // What was agreed holds against the programme of its lap, so that the steps after it still rise.
    if (!before) return planned(lap)
    const shifted = Math.min(PACE_CEILING, planned(lap) + before.pace - planned(before.lap))
    return Math.round(100 * shifted) / 100
  }
  const talked = last('intensity')
  const talkOf: RunState['talkOf'] = (lap, talk) => {
    const planned = (at: number): Intensity => stepOf(at)?.talk ?? talk
    if (!talked) return planned(lap)
    if (talked.lap === undefined) return talked.intensity
    return talkBy(planned(lap), intensities.indexOf(talked.intensity) - intensities.indexOf(planned(talked.lap)))
  }
  return {
    observations: onePerPass(all('observation')),
    touched: all('observation'),
    heldWell: all('held-well'),
    lastUndoable: left.findLast((e) => undoable.has(e.kind) && isOwn(e.id)) ?? null,
    lastTold: left.findLast((e) => undoable.has(e.kind)) ?? null,
    checked: last('checked'),
    car: last('car'),
    programme,
    kindOf,
    stepOf,
    paceOf,
    talkOf,
    intensity: talked?.intensity ?? null,
    pace: last('pace'),
    calledIn: last('called-in'),
    ended: last('ended'),
    account: last('account'),
    released: last('released'),
    notes: all('note'),
    said: all('said'),
    byInstructor: instructorLaps(events),
  }
}

/** Laps of a run that an instructor drove; the last word on a lap counts. */
export const instructorLaps = (events: readonly RunEvent[]): Set<number> => {
  const driven = new Set<number>()
  for (const event of standing(events))
    if (event.kind === 'lap-driver') event.driver === 'instructor' ? driven.add(event.lap) : driven.delete(event.lap)
  return driven
}

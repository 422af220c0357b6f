import type { Intensity } from '../day/intensity.ts'
import { standing } from '../day/standing.ts'
import { type LapKind, lapKindOf, type RunProgramme } from './lap-kind.ts'
import type { RunEvent } from './run-events.ts'

type Standing = Exclude<RunEvent, { kind: 'undo' }>
type OfKind<K extends Standing['kind']> = Extract<Standing, { kind: K }>

/** State of a run, from its events. */
export type RunState = {
  observations: OfKind<'observation'>[]
  heldWell: OfKind<'held-well'>[]
  /** The newest event that one tap can undo. */
  lastUndoable: Standing | null
  checked: OfKind<'checked'> | null
  car: OfKind<'car'> | null
  programme: RunProgramme | null
  kindOf: (lap: number) => LapKind
  intensity: Intensity | null
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
  'lap-kind',
  'set-aside',
  'lap-driver',
])

/** The state of a run after its events, in their order. Cost: linear in events. */
export const runStateOf = (events: readonly RunEvent[]): RunState => {
  const left = standing(events)
  const all = <K extends Standing['kind']>(kind: K): OfKind<K>[] => left.filter((e): e is OfKind<K> => e.kind === kind)
  const last = <K extends Standing['kind']>(kind: K): OfKind<K> | null => all(kind).at(-1) ?? null
  const named = all('lap-kind').map(({ lap, lapKind, only }) => ({ lap, lapKind, only }))
  const programme = last('sent-out')?.program ?? null
  return {
    observations: all('observation'),
    heldWell: all('held-well'),
    lastUndoable: left.findLast((e) => undoable.has(e.kind)) ?? null,
    checked: last('checked'),
    car: last('car'),
    programme,
    kindOf: (lap) => lapKindOf(programme ?? OPEN_RUN, lap, named),
    intensity: last('intensity')?.intensity ?? null,
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

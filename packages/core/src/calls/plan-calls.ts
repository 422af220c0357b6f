import { nearestReference } from '../circuit/nearest-reference.ts'
import type { CornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { MIN_GRACE_S } from '../corner-numbers/safety.ts'
import type { Intensity } from '../day/intensity.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import { stationAtTime } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { phraseBooks } from './books/index.ts'
import { type CallOptions, type CallSheet, type CallTiming, callSheet, inCarTiming, type SpokenCue } from './call-sheet.ts'
import { type CalledLap, type Cue, callsGears, cuesOf } from './cues.ts'
import {
  type CallKind,
  countWords,
  markCallKinds,
  type PhraseBook,
  type PhraseCase,
  type PhraseFill,
  phraseFor,
  spokenForms,
} from './phrases.ts'
import { numberWord, placeBy, placeOn, turnTo, wayTo } from './place-words.ts'

/** Maximum distance from its mark of a landmark that is named in a call (m). */
const CALLED_REFERENCE_M = 25

/** Values of placeholders at the cues of a plan. */
const fillOf = (plan: Plan, book: PhraseBook, lap: CalledLap): ((cue: Cue) => PhraseFill) => {
  const sides = new Map(plan.corners.map((c) => [c.id, c.side]))
  return (cue) => {
    const gear = cue.gear ?? markOf(plan.marks, cue.cornerId, 'turn-in')?.gear
    const side = sides.get(cue.cornerId) ?? 'left'
    // A passing place or a lane on no side in particular has none to tell.
    const outside = cue.to ?? (cue.kind === 'go-by' || cue.kind === 'lane' ? null : side === 'left' ? 'right' : 'left')
    const near = nearestReference(plan.ground, cue.station_m, plan.circuit.length_m, CALLED_REFERENCE_M)
    const reference = spoken(near?.name, book.language)
    return {
      gear: callsGears(plan, lap) && gear !== undefined ? (book.words.gears[gear - 1] ?? null) : null,
      shifts: cue.shifts === undefined ? null : numberWord(book, cue.shifts),
      side: turnTo(book, side),
      reference,
      where: near && reference !== null ? placeBy(book, reference, near.past_m) : null,
      over: outside && wayTo(book, outside),
      outside: outside && placeOn(book, outside),
      inside: placeOn(book, side),
      after: spoken(cue.after, book.language, true),
      next: spoken(cue.next, book.language, true),
    }
  }
}

/** A release this long before the turn-in (s) is over when the turn-in is called: nothing is then said of the brake. */
const BRAKE_OVER_S = 1

/** Cases that hold for the words of a plan on a lap. */
const casesOf = ({ settings, vehicle }: Pick<Plan, 'settings' | 'vehicle'>, lap?: CalledLap, steps = false): PhraseCase[] => [
  ...(lap?.kind === 'out' || lap?.kind === 'sighting' ? (['sighting'] as const) : lap?.kind === 'warm-up' ? (['warm-up'] as const) : []),
  ...(vehicle.kind === 'motorcycle' ? (['rider'] as const) : vehicle.kind === 'kart' ? (['kart'] as const) : []),
  ...(settings.surface === 'dry' ? [] : (['wet'] as const)),
  ...(steps ? (['gear-steps'] as const) : []),
]

/** Whether the words of a braking style are true at a cue: the plan is on the brake there, or just was. */
const isBraked = (marks: readonly Mark[], cue: Cue): boolean => {
  const release = markOf(marks, cue.cornerId, 'release')
  return release !== undefined && (cue.kind !== 'turn-in' || cue.time_s - release.time_s < BRAKE_OVER_S)
}

/** Cues with their forms are the same for every student: kept by plan and book, neither of which ever changes. */
const kept = new WeakMap<Plan, WeakMap<PhraseBook, Map<string, SpokenCue[]>>>()

/** Everything that can be said on a lap of a plan, in the words of a book. */
const spokenCues = (plan: Plan, book: PhraseBook, lap: CalledLap, steps: boolean): readonly SpokenCue[] => {
  const byBook = kept.get(plan) ?? new WeakMap<PhraseBook, Map<string, SpokenCue[]>>()
  kept.set(plan, byBook)
  const byLap = byBook.get(book) ?? new Map<string, SpokenCue[]>()
  byBook.set(book, byLap)
  const key = `${lap.kind} ${lap.last ?? false} ${callsGears(plan, lap)} ${steps} ${lap.cones?.settings.pace ?? ''}`
  const before = byLap.get(key)
  if (before) return before
  const fill = fillOf(plan, book, lap)
  const cases = casesOf(plan, lap, steps)
  const cues = cuesOf(plan, lap).map((cue): SpokenCue => {
    const school = isBraked(plan.marks, cue) ? plan.settings.school : undefined
    // Own books do not know every lap: what they have no words for is said in those of the ready-made one.
    const own = spokenForms(book, cue.kind, fill(cue), { cases, school })
    const other = own.length === 0 && cases.includes('sighting') ? phraseBooks.find((b) => b.language === book.language) : undefined
    return { ...cue, forms: other ? spokenForms(other, cue.kind, fill(cue), { cases, school }) : own }
  })
  byLap.set(key, cues)
  return cues
}

/** A name within a sentence: English begins it small, German keeps it as it is; names of corners stay as they are. */
const spoken = (name: string | undefined, language: PhraseBook['language'], proper = false): string | null =>
  name === undefined ? null : language === 'en' && !proper ? name.charAt(0).toLowerCase() + name.slice(1) : name

/** Corners in which a late brake is dangerous: little grace, or no room to stop straight on. */
export const tightCorners = (numbers: readonly CornerMetrics[]): Set<string> =>
  new Set(
    numbers
      .filter((n) => (n.grace && n.grace.time_s < MIN_GRACE_S) || n.straightOn?.cases.some((c) => c.late_s === 1 && c.stops === false))
      .map((n) => n.cornerId),
  )

/** How a sheet is called. `lap`: coached where absent; `gears`: by their names, or by how many to change. */
export type PlanCallOptions = Omit<CallOptions, 'lapTime_s' | 'wet'> & { lap?: CalledLap; gears?: 'named' | 'steps' }

/** The call sheet of a lap of a plan. */
export const planCalls = (
  plan: Plan,
  book: PhraseBook,
  intensity: Intensity,
  { lap = { kind: 'coached' }, gears = 'named', ...options }: PlanCallOptions = {},
): CallSheet =>
  callSheet(spokenCues(plan, book, lap, gears === 'steps'), intensity, {
    ...options,
    wet: plan.settings.surface !== 'dry',
    lapTime_s: plan.circuit.open ? null : plan.profile.lapTime_s,
  })

/** A stretch of the lap, by station and by time. */
export type Stretch = { from_m: number; to_m: number; from_s: number; to_s: number }
/**
 * Stretches driven too fast to speak: from the start of the shortest word for a mark that found no time, to that mark;
 * adjoining ones are joined.
 */
export const tooFastToSpeak = (plan: Plan, sheet: CallSheet, timing: CallTiming = inCarTiming): Stretch[] => {
  const spans = sheet.dropped
    .filter((d) => d.reason === 'no-time')
    .flatMap((d) => {
      const mark = plan.marks.find((m) => m.cornerId === d.cornerId && m.kind === d.kind)
      return mark ? [{ from_s: mark.time_s - timing.reaction_s - timing.link_s - 1 / timing.rate_wps, to_s: mark.time_s }] : []
    })
    .sort((a, b) => a.from_s - b.from_s)
  const joined: { from_s: number; to_s: number }[] = []
  for (const span of spans) {
    const last = joined.at(-1)
    if (last && span.from_s <= last.to_s) last.to_s = Math.max(last.to_s, span.to_s)
    else joined.push({ ...span })
  }
  return joined.map(({ from_s, to_s }) => ({ from_s, to_s, from_m: stationAtTime(plan, from_s), to_m: stationAtTime(plan, to_s) }))
}

/** A form that can never be said at this pace: it takes longer than any time between two marks. */
export type UnspeakableForm = { kind: CallKind; form: number; takes_s: number; longestGap_s: number }

/** Forms of a book longer than the longest time between two neighbouring marks that are called. */
export const unspeakableForms = (plan: Plan, book: PhraseBook, timing: CallTiming = inCarTiming): UnspeakableForm[] => {
  const times = plan.marks
    .filter((m) => book.phrases[m.kind as CallKind])
    .map((m) => m.time_s)
    .sort((a, b) => a - b)
  if (times.length < 2) return []
  const gaps = times.map((t, i) => (i === 0 ? t + plan.profile.lapTime_s - times[times.length - 1] : t - times[i - 1]))
  const longestGap_s = Math.max(...gaps)
  return markCallKinds.flatMap((kind) =>
    (phraseFor(book, kind, { cases: casesOf(plan), school: plan.settings.school }) ?? []).flatMap((text, form): UnspeakableForm[] => {
      const takes_s = countWords(text) / timing.rate_wps + timing.gap_s
      return takes_s > longestGap_s ? [{ kind, form, takes_s, longestGap_s }] : []
    }),
  )
}

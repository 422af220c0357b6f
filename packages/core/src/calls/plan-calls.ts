import { nearestReference } from '../circuit/nearest-reference.ts'
import type { CornerMetrics } from '../corner-numbers/corner-metrics.ts'
import { MIN_GRACE_S } from '../corner-numbers/safety.ts'
import type { Intensity } from '../day/intensity.ts'
import { type Mark, markOf } from '../marks/mark.ts'
import { stationAtTime } from '../plan/lap-time.ts'
import type { Plan } from '../plan/plan.ts'
import { type CallOptions, type CallSheet, type CallTiming, callSheet, inCarTiming } from './call-sheet.ts'
import {
  type CallKind,
  callKinds,
  countWords,
  type PhraseBook,
  type PhraseCase,
  type PhraseFill,
  phraseFor,
  type SpokenForm,
  spokenForms,
} from './phrases.ts'

/** Maximum distance from its mark of a landmark that is named in a call (m). */
const CALLED_REFERENCE_M = 25

/** Values of placeholders at the marks of a plan: the gear at turn-in, the corner's side, a landmark close by. */
const fillOf = (
  plan: Pick<Plan, 'marks' | 'corners' | 'ground' | 'circuit' | 'vehicle'>,
  book: PhraseBook,
): ((mark: Mark) => PhraseFill) => {
  const sides = new Map(plan.corners.map((c) => [c.id, c.side]))
  return (mark) => {
    const turnIn = markOf(plan.marks, mark.cornerId, 'turn-in')
    const gear = plan.vehicle.gears.length > 1 ? book.words.gears[(turnIn ?? mark).gear - 1] : undefined
    return {
      gear: gear ?? null,
      side: book.words[sides.get(mark.cornerId) ?? 'left'],
      reference: spoken(nearestReference(plan.ground, mark.station_m, plan.circuit.length_m, CALLED_REFERENCE_M)?.name, book.language),
    }
  }
}

/** A release this long before the turn-in (s) is over when the turn-in is called: nothing is then said of the brake. */
const BRAKE_OVER_S = 1

/** Cases that hold for the words of a plan. */
const casesOf = ({ settings, vehicle }: Pick<Plan, 'settings' | 'vehicle'>): PhraseCase[] => [
  ...(vehicle.kind === 'motorcycle' ? (['rider'] as const) : vehicle.kind === 'kart' ? (['kart'] as const) : []),
  ...(settings.surface === 'dry' ? [] : (['wet'] as const)),
]

/** Whether the words of a braking style are true at a mark: the plan is on the brake there, or just was. */
const isBraked = (marks: readonly Mark[], mark: Mark): boolean => {
  const release = markOf(marks, mark.cornerId, 'release')
  return release !== undefined && (mark.kind !== 'turn-in' || mark.time_s - release.time_s < BRAKE_OVER_S)
}

/** Forms are the same for every student: kept by plan and book, neither of which ever changes. */
const kept = new WeakMap<object, WeakMap<PhraseBook, Map<Mark, SpokenForm[]>>>()

/** Phrases for the marks of a plan. */
const formsOf = (plan: Plan, book: PhraseBook): ((mark: Mark, kind: CallKind) => readonly SpokenForm[]) => {
  const byBook = kept.get(plan) ?? new WeakMap<PhraseBook, Map<Mark, SpokenForm[]>>()
  kept.set(plan, byBook)
  const formsOfMark = byBook.get(book) ?? new Map<Mark, SpokenForm[]>()
  byBook.set(book, formsOfMark)
  const fill = fillOf(plan, book)
  const cases = casesOf(plan)
  return (mark, kind) => {
    const school = isBraked(plan.marks, mark) ? plan.settings.school : undefined
    const forms = formsOfMark.get(mark) ?? spokenForms(book, kind, fill(mark), { cases, school })
    formsOfMark.set(mark, forms)
    return forms
  }
}

/** A name within a sentence: English begins it small, German keeps it as it is. */
const spoken = (name: string | undefined, language: PhraseBook['language']): string | null =>
  name === undefined ? null : language === 'en' ? name.charAt(0).toLowerCase() + name.slice(1) : name

/** Corners in which a late brake is dangerous: little grace, or no room to stop straight on. */
export const tightCorners = (numbers: readonly CornerMetrics[]): Set<string> =>
  new Set(
    numbers
      .filter((n) => (n.grace && n.grace.time_s < MIN_GRACE_S) || n.straightOn?.cases.some((c) => c.late_s === 1 && c.stops === false))
      .map((n) => n.cornerId),
  )

/** The call sheet of a plan. */
export const planCalls = (
  plan: Plan,
  book: PhraseBook,
  intensity: Intensity,
  options: Omit<CallOptions, 'forms' | 'lapTime_s'> = {},
): CallSheet =>
  callSheet(plan.marks, book, intensity, {
    ...options,
    forms: formsOf(plan, book),
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
      const mark = markOf(plan.marks, d.cornerId, d.kind)
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
  return callKinds.flatMap((kind) =>
    (phraseFor(book, kind, { cases: casesOf(plan), school: plan.settings.school }) ?? []).flatMap((text, form): UnspeakableForm[] => {
      const takes_s = countWords(text) / timing.rate_wps + timing.gap_s
      return takes_s > longestGap_s ? [{ kind, form, takes_s, longestGap_s }] : []
    }),
  )
}

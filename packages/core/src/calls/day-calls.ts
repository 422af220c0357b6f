import type { CornerMetrics } from '../corner-numbers/corner-metrics.ts'
import type { Intensity } from '../day/intensity.ts'
import { intensityFor, type Student, type StudentProfile } from '../day/student.ts'
import type { Plan } from '../plan/plan.ts'
import type { Language } from '../units/language.ts'
import { phraseBooks } from './books/index.ts'
import { type CallEdits, type CallOptions, type CallSheet, type CallTiming, inCarTiming } from './call-sheet.ts'
import type { CalledLap } from './cues.ts'
import type { PhraseBook } from './phrases.ts'
import { planCalls, type Stretch, tightCorners, tooFastToSpeak } from './plan-calls.ts'

/** The calls of a day as people decided them: phrase book, timing, how gears are called, silenced corners, changes by hand. */
export type CallWork = CallEdits & {
  bookId: string
  reaction_s: number
  rate_wps: number
  link_s: number
  gears: 'named' | 'steps'
}

/** The timing that a day's calls were given. */
export const timingOf = ({ reaction_s, rate_wps, link_s }: Pick<CallWork, 'reaction_s' | 'rate_wps' | 'link_s'>): CallTiming => ({
  reaction_s,
  rate_wps,
  link_s,
  gap_s: inCarTiming.gap_s,
})

/** The book of an id; in a student's language where the day's book speaks another and there is one. */
export const bookFor = (books: readonly PhraseBook[], bookId: string, language: Language | null): PhraseBook => {
  const chosen = books.find((b) => b.id === bookId) ?? phraseBooks[0]
  if (language === null || chosen.language === language) return chosen
  return books.find((b) => b.language === language) ?? chosen
}

/** Wishes for the calls: how much talk, in which language (null: the day's own); `everyGear`: as on a first day. */
export type CallWish = { intensity: Intensity; language: Language | null; everyGear?: boolean | undefined }

/** The fields of a student that hold their wish. */
export type Listener = Pick<Student, 'talk'> & Partial<Pick<Student, 'level'>> & { profile: Pick<StudentProfile, 'language'> }

/** The wish of a student; of somebody unknown: one reminder per corner in the day's language. */
export const callWishOf = (student: Listener | undefined): CallWish => ({
  intensity: intensityFor(student),
  language: student?.profile.language ?? null,
  ...(student?.level === 'first-day' ? { everyGear: true } : {}),
})

/** The different wishes of a day's students, each once; without students the wish of somebody unknown. */
export const callWishesOf = (students: readonly Listener[]): CallWish[] => {
  const wishes = students.length > 0 ? students.map(callWishOf) : [callWishOf(undefined)]
  return [...new Map(wishes.map((wish) => [`${wish.intensity} ${wish.language} ${wish.everyGear ?? ''}`, wish])).values()]
}

/** Input for the calls of a day. `books`: the school's own first, then the ready-made ones. */
export type CallsOfDay = {
  plan: Plan
  books: readonly PhraseBook[]
  work: CallWork
  /** Grace and straight-on check per corner; calls to brake weigh more where they are short. */
  numbers: readonly CornerMetrics[] | undefined
  /** The lap that is called; a coached one where absent. */
  lap?: CalledLap | undefined
}

/** A call sheet with what it was made from. */
export type CallsFor = { sheet: CallSheet; book: PhraseBook; timing: CallTiming; tooFast: Stretch[] }

/**
 * The calls that somebody gets on a day: the day's book in their language, the day's timing, silenced corners and changes
 * by hand, as much talk as they want. `missRate`: fraction of this student's recent runs in which a mark was missed.
 */
export const callsFor = ({ plan, books, work, numbers, lap }: CallsOfDay, wish: CallWish, missRate?: CallOptions['missRate']): CallsFor => {
  const timing = timingOf(work)
  const book = bookFor(books, work.bookId, wish.language)
  const sheet = planCalls(plan, book, wish.intensity, {
    timing,
    edits: work,
    tight: tightCorners(numbers ?? []),
    gears: work.gears,
    everyGear: wish.everyGear === true,
    ...(lap ? { lap } : {}),
    ...(missRate ? { missRate } : {}),
  })
  return { sheet, book, timing, tooFast: tooFastToSpeak(plan, sheet, timing) }
}

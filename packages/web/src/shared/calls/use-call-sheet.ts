import type { CallWork, PlanChoice } from '@ochote/contract'
import { seenAt } from '@ochote/contract'
import {
  type CallSheet,
  type CallTiming,
  callKey,
  type Intensity,
  inCarTiming,
  missRates,
  type PhraseBook,
  type Plan,
  phraseBooks,
  planCalls,
  type Stretch,
  stationAtTime,
  tightCorners,
  tooFastToSpeak,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { recordQuery } from '../../data/api/queries.ts'
import { useNumbers } from '../../data/plan/use-plan.ts'
import { useKit } from '../../data/school/use-kit.ts'
import type { BandSpan } from '../band/spans-on-band.tsx'

/** A call sheet with what it was made from. */
export type CallSheetState = { sheet: CallSheet; book: PhraseBook; timing: CallTiming; tooFast: Stretch[] }

/** The timing that a day's calls were given. */
export const timingOf = ({ reaction_s, rate_wps, link_s }: CallWork): CallTiming => ({
  reaction_s,
  rate_wps,
  link_s,
  gap_s: inCarTiming.gap_s,
})

/** The book of an id; in a student's language where the day's book speaks another. */
export const bookFor = (books: readonly PhraseBook[], bookId: string, language: string | null): PhraseBook => {
  const chosen = books.find((b) => b.id === bookId) ?? phraseBooks[0]
  if (language === null || chosen.language === language) return chosen
  return books.find((b) => b.language === language) ?? chosen
}

/** The calls of a plan for a student (none: for anybody), as much as an intensity lets be said. */
export const useCallSheet = (
  plan: Plan | undefined,
  settings: Pick<PlanChoice, 'circuitId'> | undefined,
  options: { work: CallWork; intensity: Intensity; studentId?: string | null | undefined },
): CallSheetState | undefined => {
  const { work, intensity, studentId } = options
  const { books } = useKit()
  const numbers = useNumbers(plan)
  const record = useQuery({ ...recordQuery(studentId ?? ''), enabled: Boolean(studentId) })
  const circuitId = settings?.circuitId
  return useMemo(() => {
    if (!plan) return undefined
    const timing = timingOf(work)
    const book = bookFor(books, work.bookId, record.data?.student.profile.language ?? null)
    const sheet = planCalls(plan, book, intensity, {
      timing,
      hands: work,
      tight: tightCorners(numbers?.corners ?? []),
      ...(record.data ? { missRate: missRates(seenAt(record.data, circuitId)) } : {}),
    })
    return { sheet, book, timing, tooFast: tooFastToSpeak(plan, sheet, timing) }
  }, [plan, work, books, numbers, record.data, intensity, circuitId])
}

/** Calls as they lie on the road, with the stretches too fast to speak; one of them may be shifted along (m) while it is dragged. */
export const spansOf = (
  plan: Plan,
  { sheet, tooFast }: CallSheetState,
  dragged: { id: string; along_m: number } | null = null,
): BandSpan[] => [
  ...sheet.calls.map((call): BandSpan => {
    const id = callKey(call.cornerId, call.kind)
    const shift_m = dragged?.id === id ? dragged.along_m : 0
    return {
      id,
      from_m: stationAtTime(plan, call.start_s) + shift_m,
      to_m: stationAtTime(plan, call.end_s) + shift_m,
      mark_m: call.markStation_m,
      label: call.phrase,
      tone: call.locked ? 'locked' : 'said',
    }
  }),
  ...tooFast.map(
    (t, i): BandSpan => ({ id: `lost ${i}`, from_m: t.from_m, to_m: t.to_m, mark_m: t.to_m, label: 'Too fast to speak', tone: 'lost' }),
  ),
]

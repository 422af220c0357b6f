import { type Difference, differenceOf, type Share, shareOf } from './estimate.ts'
import { inOrder, type PassKnown } from './passes.ts'

/** From the last laps of one day to the first of the next: shares of passes with a mistake; `backAfter`: laps until as good again. */
export type DayGap = {
  from: string
  to: string
  days: number
  last: Share
  first: Share
  forgot: Difference | null
  backAfter: number | null
  /** The next day was driven at a higher pace: then not all of it was forgotten. */
  faster: boolean
}

/** Number of laps compared: the last of one day with the first of the next. */
const COMPARED_LAPS = 2
const DAY_MS = 86_400_000

/** Skills forgotten between days, oldest gap first; corners count that were passed at both ends. */
export const forgetting = (passes: readonly PassKnown[]): DayGap[] => {
  const dates = [...new Set(passes.map((p) => p.date))].sort()
  const ofDay = (date: string): PassKnown[][] => {
    const laps = new Map<string, PassKnown[]>()
    for (const pass of inOrder(passes.filter((p) => p.date === date && p.watched !== 'seat'))) {
      const key = `${pass.run} ${pass.lap}`
      laps.set(key, [...(laps.get(key) ?? []), pass])
    }
    return [...laps.values()]
  }
  const missed = (list: readonly PassKnown[]): Share => shareOf(list.filter((p) => p.codes.length > 0).length, list.length)
  return dates.slice(1).flatMap((to, k) => {
    const from = dates[k]
    const ended = ofDay(from)
    const began = ofDay(to)
    if (ended.length < COMPARED_LAPS || began.length < COMPARED_LAPS) return []
    const end = ended.slice(-COMPARED_LAPS).flat()
    const start = began.slice(0, COMPARED_LAPS).flat()
    const both = (p: PassKnown): boolean => end.some((o) => o.cornerId === p.cornerId) && start.some((o) => o.cornerId === p.cornerId)
    const last = missed(end.filter(both))
    const first = missed(start.filter(both))
    const back = began.findIndex((lap) => (missed(lap).share ?? 1) <= (last.share ?? 0))
    return [
      {
        from,
        to,
        days: Math.round((Date.parse(to) - Date.parse(from)) / DAY_MS),
        last,
        first,
        forgot: differenceOf(first, last),
        backAfter: back < 0 ? null : back,
        faster: Math.max(...start.map((p) => p.pace)) > Math.max(...end.map((p) => p.pace)) + 0.01,
      },
    ]
  })
}

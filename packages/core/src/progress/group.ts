import type { MistakeCode } from '../mistakes/mistakes.ts'
import { type Difference, differenceOf, type Share, shareOf } from './estimate.ts'

/** A mistake of one student of a group, by hand or out of a log. */
export type GroupSeen = { studentId: string; cornerId: string; code: MistakeCode }

/** Number of students in a group who make a mistake in a corner; `suspect`: so many that cone, call or briefing come first. */
export type GroupTally = { cornerId: string; code: MistakeCode; students: number; of: number; suspect: boolean }

/** The teaching is suspected from this many students on, when they are more than half of those who drove. */
const MIN_STUDENTS = 3

/** Students of a day who were erased since: how many made a mistake in a corner, without a name. */
export type Former = { cornerId: string; code: MistakeCode; students: number }

/**
 * What a group gets wrong, most students first; each student counts once for a corner and a mistake. `drove`: how many drove
 * there; `former`: what is left of those who were erased since.
 */
export const groupPicture = (seen: readonly GroupSeen[], drove: number, former: readonly Former[] = []): GroupTally[] => {
  const who = new Map<string, { cornerId: string; code: MistakeCode; students: Set<string> }>()
  for (const { studentId, cornerId, code } of seen) {
    const key = `${cornerId} ${code}`
    const tally = who.get(key) ?? { cornerId, code, students: new Set() }
    tally.students.add(studentId)
    who.set(key, tally)
  }
  const gone = new Map(former.map((f) => [`${f.cornerId} ${f.code}`, f]))
  for (const [key, { cornerId, code }] of gone) if (!who.has(key)) who.set(key, { cornerId, code, students: new Set() })
  return [...who.entries()]
    .map(([key, { cornerId, code, students }]) => {
      const count = students.size + (gone.get(key)?.students ?? 0)
      return { cornerId, code, students: count, of: drove, suspect: count >= MIN_STUDENTS && count > drove / 2 }
    })
    .sort((a, b) => b.students - a.students || a.cornerId.localeCompare(b.cornerId, undefined, { numeric: true }))
}

/** One pass of a corner by one of a group, at a moment (ms). */
export type GroupPass = { at_ms: number; cornerId: string; codes: readonly MistakeCode[] }

/** Effect of a change: shares of passes with the mistake before and after it, and their difference (below 0: rarer). */
export type Helped = { before: Share; after: Share; change: Difference | null; verdict: 'helped' | 'worse' | 'open' }

/**
 * Whether what was changed at a corner made a mistake rarer. Decided only when the interval of the difference leaves zero out;
 * until then it is open.
 */
export const helpedBy = (
  passes: readonly GroupPass[],
  { cornerId, code, at_ms }: { cornerId: string; code: MistakeCode; at_ms: number },
): Helped => {
  const here = passes.filter((p) => p.cornerId === cornerId)
  const missed = (list: readonly GroupPass[]): Share => shareOf(list.filter((p) => p.codes.includes(code)).length, list.length)
  const before = missed(here.filter((p) => p.at_ms < at_ms))
  const after = missed(here.filter((p) => p.at_ms >= at_ms))
  const change = differenceOf(after, before)
  const verdict = change && change.high < 0 ? 'helped' : change && change.low > 0 ? 'worse' : 'open'
  return { before, after, change, verdict }
}

import type { Briefing, Day } from '@ochote/contract'
import { type ConeSet, firstName, type Language, type Level, type Plan, type PlanChoice, paces, type UnitSystem } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { circuitQuery, linksQuery, questionsQuery, studentsQuery } from '../../data/api/queries.ts'
import { useReachable } from '../../data/api/reachable.ts'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { useNumbers, usePlan, usePlansFor } from '../../data/plan/use-plan.ts'
import { staffLanguage } from '../../language/say.ts'
import { staffUnits } from '../../language/staff-units.ts'
import type { StudentWords } from '../../shared/language/student-words.ts'
import { wordsIn } from '../../shared/language/words.ts'
import { type BriefPage, briefPages, type OwnLink, pagesFor } from './brief-pages.ts'

/** A briefing with all that its pages are drawn from. `all`: every page, `pages`: those for the level, in order. */
export type BriefingState = {
  plan: Plan
  set: ConeSet
  settings: PlanChoice
  briefing: Briefing
  words: StudentWords
  all: BriefPage[]
  pages: BriefPage[]
}

/** Addresses of the pages of the day's students, by first name and as much of the second as tells two apart. */
const useOwnLinks = (day: Day | undefined): readonly OwnLink[] => {
  const { origin } = useReachable()
  const links = useQuery({ ...linksQuery(day?.id ?? ''), enabled: day !== undefined && origin !== null })
  const students = useQuery({ ...studentsQuery, enabled: origin !== null })
  return useMemo(() => {
    const here = (students.data ?? []).filter((s) => day?.plan.studentIds.includes(s.id))
    return here.flatMap(({ id, name }) => {
      const link = links.data?.find((l) => l.studentId === id)
      const alone = here.filter((other) => firstName(other.name) === firstName(name)).length === 1
      return link?.token && origin ? [{ name: alone ? firstName(name) : name, address: `${origin}/s/${link.token}` }] : []
    })
  }, [day?.plan.studentIds, links.data, students.data, origin])
}

/** The day's briefing, always in step with its plan; undefined until the plan is there. */
export const useBriefing = (
  options: { level?: Level | null; language?: Language | null; units?: UnitSystem; change?: Partial<PlanChoice> } = {},
): { state: BriefingState | undefined; error: Error | null } => {
  const { level = null, language = null, units = staffUnits, change } = options
  const { day, settings: today } = useDay()
  const settings = useMemo(() => (today && change ? { ...today, ...change } : today), [today, change])
  const { plan, error } = usePlan(settings)
  const numbers = useNumbers(plan)
  const set = useConeSet(plan, settings, numbers)
  const { value: briefing } = useDayPart('briefing')
  const circuit = useQuery({ ...circuitQuery(settings?.circuitId ?? ''), enabled: settings !== undefined })
  const questions = useQuery({ ...questionsQuery(settings?.circuitId ?? ''), enabled: settings !== undefined })
  const links = useOwnLinks(day)
  const changes = useMemo(() => [{ surface: 'wet' as const }, ...briefing.paceSteps.map((pace) => ({ pace }))], [briefing.paceSteps])
  const beside = usePlansFor(settings, changes)
  const words = wordsIn(language ?? staffLanguage)
  const state = useMemo(() => {
    if (!plan || !set || !settings) return undefined
    const all = briefPages({
      plan,
      day: day?.plan,
      scheme: set.scheme,
      shared: set.shared,
      words,
      units,
      cornerTips: circuit.data?.notes.cornerTips ?? {},
      questions: questions.data ?? [],
      links,
      numbers: numbers?.corners,
      wet: settings.surface === 'dry' ? beside?.[0] : undefined,
      byPace: beside?.slice(1),
    })
    return { plan, set, settings, briefing, words, all, pages: pagesFor(all, briefing, level) }
  }, [plan, set, settings, day?.plan, words, units, circuit.data, questions.data, links, numbers, beside, briefing, level])
  return { state, error: error ?? circuit.error }
}

/** The pace of the sighting lap. */
export const SIGHTING_PACE = paces.sighting

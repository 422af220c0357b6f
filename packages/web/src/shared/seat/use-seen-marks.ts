import type { Cone, Plan } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { forGood, planInWords } from '../../data/plan/use-plan.ts'
import { secondPlanner } from '../../workers/planner.ts'
import { type SeenMark, seenMarks } from './seat-words.ts'

/** Nothing is known yet. */
const none: readonly SeenMark[] = []
const noCones: readonly Cone[] = []

/** The marks of a plan with when they come into sight, which a worker finds, and their sighters among the cones; none until then. */
export const useSeenMarks = (plan: Plan, cones: readonly Cone[] = noCones): readonly SeenMark[] => {
  const { data } = useQuery({
    queryKey: ['plan', 'into-sight', ...planInWords(plan)],
    queryFn: () => secondPlanner().intoSight(plan),
    ...forGood,
  })
  return useMemo(() => (data?.length === plan.marks.length ? seenMarks(plan, data, cones) : none), [plan, data, cones])
}

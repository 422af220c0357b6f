import type { DayPlan } from '@ochote/contract'
import { useRef, useState } from 'react'
import { useUndoKeys } from '../history/use-undo-keys.ts'
import { mergeFields } from '../merge/merge-fields.ts'
import { useDay } from './day-context.tsx'

/** A change of the plan, as it was before and after. */
type Step = { dayId: string; before: DayPlan; after: DayPlan }

/**
 * Changes of the whole plan that can be taken back. A step back takes back what that change did and nothing else: what somebody
 * else, or a later change elsewhere, did to other fields stays.
 */
export const usePlanHistory = () => {
  const { day, changePlan } = useDay()
  const [past, setPast] = useState<readonly Step[]>([])
  const [future, setFuture] = useState<readonly Step[]>([])
  const latest = useRef<Step | null>(null)
  const dayId = day?.id
  const change = (next: (plan: DayPlan) => DayPlan): void => {
    if (!dayId) return
    changePlan((plan) => {
      const after = next(plan)
      latest.current = { dayId, before: plan, after }
      return after
    })
    const step = latest.current
    if (step) setPast((now) => [...now.slice(-99), step])
    setFuture([])
  }
  const last = past.at(-1)
  const again = future.at(-1)
  const undo =
    last && last.dayId === dayId
      ? (): void => {
          setPast(past.slice(0, -1))
          setFuture([...future, last])
          changePlan((plan) => mergeFields(last.after, last.before, plan).merged)
        }
      : null
  const redo =
    again && again.dayId === dayId
      ? (): void => {
          setFuture(future.slice(0, -1))
          setPast([...past, again])
          changePlan((plan) => mergeFields(again.before, again.after, plan).merged)
        }
      : null
  useUndoKeys(undo, redo)
  return { change, undo, redo }
}

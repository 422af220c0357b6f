import { briefingSchema, callWorkSchema, coneWorkSchema, type DayPlan } from '@ochote/contract'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { dayQuery } from '../api/queries.ts'
import { type History, pushHistory, redoHistory, startHistory, undoHistory } from '../history/history.ts'
import { useUndoKeys } from '../history/use-undo-keys.ts'
import { useDay } from './day-context.tsx'

/** Parts of a day that are edited in stages. */
type Parts = Pick<DayPlan, 'cones' | 'calls' | 'briefing'>
type PartName = keyof Parts

/** Nothing decided yet, for work without a day. */
const nothing: Parts = {
  cones: coneWorkSchema.parse({}),
  calls: callWorkSchema.parse({}),
  briefing: briefingSchema.parse({}),
}

/** A part of the day's plan with how to change it, take changes back and do them again. */
export type DayPart<K extends PartName> = {
  value: Parts[K]
  change: (next: Partial<Parts[K]>) => void
  undo: (() => void) | null
  redo: (() => void) | null
  /** False where there is no day yet, so that nothing could be kept. */
  kept: boolean
}

/** One part of the day's plan, as stored in the day's document. Somebody else's newer plan clears the undo steps. */
export const useDayPart = <K extends PartName>(name: K): DayPart<K> => {
  const { day, changePlan } = useDay()
  // Straight from the cache: a step taken back must be seen at once, so that the next key takes back the one before.
  const latest = useQuery({ ...dayQuery(day?.id ?? ''), enabled: day !== undefined })
  const parts: Parts = latest.data?.plan ?? day?.plan ?? nothing
  const value = parts[name]
  const [history, setHistory] = useState<History<Parts[K]> | null>(null)
  const steps = history && sameValue(history.now, value) ? history : startHistory(value)
  const go = (next: History<Parts[K]>): void => {
    setHistory(next)
    changePlan((plan) => ({ ...plan, [name]: next.now }))
  }
  const undo = steps.past.length > 0 ? () => go(undoHistory(steps)) : null
  const redo = steps.future.length > 0 ? () => go(redoHistory(steps)) : null
  useUndoKeys(undo, redo)
  return { value, change: (next) => go(pushHistory(steps, { ...value, ...next })), undo, redo, kept: day !== undefined }
}

const sameValue = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b)

import { seenAt } from '@ochote/contract'
import {
  type CalledLap,
  type CallsFor,
  type CallWork,
  callsFor,
  callWishOf,
  type Intensity,
  missRates,
  type Plan,
  type PlanChoice,
  stationAtTime,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { recordQuery } from '../../data/api/queries.ts'
import { useNumbers } from '../../data/plan/use-plan.ts'
import { useSchoolSettings } from '../../data/school/use-school-settings.ts'
import { say } from '../../language/say.ts'
import type { BandSpan } from '../road-layers.ts'

/** The calls of a plan for a student (none: for anybody), as much as an intensity lets be said. */
export const useCallSheet = (
  plan: Plan | undefined,
  settings: Pick<PlanChoice, 'circuitId'> | undefined,
  options: { work: CallWork; intensity: Intensity; studentId?: string | null | undefined; lap?: CalledLap | undefined },
): CallsFor | undefined => {
  const { work, intensity, studentId, lap } = options
  const { books } = useSchoolSettings()
  const numbers = useNumbers(plan)
  const record = useQuery({ ...recordQuery(studentId ?? ''), enabled: Boolean(studentId) })
  const circuitId = settings?.circuitId
  return useMemo(() => {
    if (!plan) return undefined
    const wish = { ...callWishOf(record.data?.student), intensity }
    const missRate = record.data ? missRates(seenAt(record.data, circuitId)) : undefined
    return callsFor({ plan, books, work, numbers: numbers?.corners, lap }, wish, missRate)
  }, [plan, work, books, numbers, record.data, intensity, circuitId, lap])
}

/** Calls as they lie on the road, with the stretches too fast to speak; one of them may be shifted along (m) while it is dragged. */
export const spansOf = (plan: Plan, { sheet, tooFast }: CallsFor, dragged: { id: string; along_m: number } | null = null): BandSpan[] => [
  ...sheet.calls.map((call): BandSpan => {
    const id = call.key
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
    (t, i): BandSpan => ({ id: `lost ${i}`, from_m: t.from_m, to_m: t.to_m, mark_m: t.to_m, label: say`Too fast to speak`, tone: 'lost' }),
  ),
]

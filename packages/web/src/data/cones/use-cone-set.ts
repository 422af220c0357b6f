import type { StoredConeWork } from '@ochote/contract'
import {
  type ConeSet,
  callsFor,
  callWishesOf,
  changedSettings,
  coneSetOf,
  coneWorkOn,
  type Plan,
  type PlanChoice,
  type Student,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { say, sayWhole } from '../../language/say.ts'
import type { PlanNumbers } from '../../workers/plan.worker.ts'
import { studentsQuery } from '../api/queries.ts'
import { useDay } from '../day/day-context.tsx'
import { useDayPart } from '../day/use-day-part.ts'
import { usePlansBy, usePlansFor } from '../plan/use-plan.ts'
import { useSchoolSettings } from '../school/use-school-settings.ts'

const nobody: readonly Student[] = []

/** The students of the day that is being worked on; none while they load. */
const useStudentsOfDay = (): readonly Student[] => {
  const { day } = useDay()
  const students = useQuery(studentsQuery)
  const ids = day?.plan.studentIds
  return useMemo(() => (ids ? (students.data?.filter((s) => ids.includes(s.id)) ?? nobody) : nobody), [ids, students.data])
}

/** The day's work on its cones as it holds for a layout. */
export const useConeWork = (circuitId: string | undefined): StoredConeWork => {
  const { day } = useDay()
  const { value } = useDayPart('cones')
  const made = day?.plan.settings.circuitId
  return useMemo(() => (circuitId && made ? coneWorkOn(value, circuitId, made) : value), [value, circuitId, made])
}

/** The cones of the day's plan, computed again whenever something that they depend on changes. */
export const useConeSet = (
  plan: Plan | undefined,
  settings: PlanChoice | undefined,
  numbers: PlanNumbers | undefined,
): ConeSet | undefined => {
  const { schoolSettings, schemes, books } = useSchoolSettings()
  const work = useConeWork(settings?.circuitId)
  const { value: calls } = useDayPart('calls')
  const students = useStudentsOfDay()
  const changes = useMemo(() => work.served.map(({ vehicleId, pace }) => ({ vehicleId, pace })), [work.served])
  const served = usePlansFor(settings, changes)
  const lines = usePlansBy(settings, work.lines)
  const sheets = useMemo(
    () => (plan ? callWishesOf(students).map((wish) => callsFor({ plan, books, work: calls, numbers: numbers?.corners }, wish).sheet) : []),
    [plan, books, calls, numbers, students],
  )
  return useMemo(() => {
    if (!plan || !served) return undefined
    return coneSetOf({
      plan,
      schemeId: settings?.schemeId ?? '',
      school: { schemes, stock: schoolSettings.stock, reserved: schoolSettings.reserved },
      work,
      numbers: numbers?.corners,
      served,
      lines,
      sheets,
    })
  }, [plan, served, lines, work, schemes, settings?.schemeId, numbers, schoolSettings.stock, schoolSettings.reserved, sheets])
}

const settingWords: Record<keyof PlanChoice, string> = {
  circuitId: say`layout`,
  vehicleId: say`vehicle`,
  surface: say`surface`,
  pace: say`pace`,
  method: say`line`,
  school: say`braking style`,
  schemeId: say`scheme`,
  lowestGear: say`lowest gear`,
  perMetre_s: say`price of a metre`,
}

const valueInWords = (value: string | number | undefined): string => (value === undefined ? say`the usual one` : sayWhole(String(value)))

/** Why cones that were settled are out of date now: what changed since, in words; empty where nothing did. */
export const staleBecause = (
  settled: NonNullable<StoredConeWork['settled']>,
  now: PlanChoice,
  circuitVersion: number | undefined,
): string[] => [
  ...changedSettings(settled.settings, now).map((key) =>
    key === 'circuitId' || key === 'vehicleId' || key === 'schemeId'
      ? say`${settingWords[key]} changed`
      : say`${settingWords[key]}: ${valueInWords(settled.settings[key])}, now ${valueInWords(now[key])}`,
  ),
  ...(circuitVersion !== undefined && circuitVersion !== settled.circuitVersion && settled.settings.circuitId === now.circuitId
    ? [say`the circuit’s hazards or corners have changed`]
    : []),
]

/** Settled cones that no longer fit the settings of the day. */
export const useStaleCones = (circuitVersion: number | undefined): string[] => {
  const { day, settings } = useDay()
  const settled = day?.plan.cones.settled
  return settled && settings ? staleBecause(settled, settings, circuitVersion) : []
}

import type { Day } from '@ochote/contract'
import { checkSetup, setupOfDay } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import dayjs from 'dayjs'
import { useEffect, useMemo, useState } from 'react'
import { accountsQuery, carsQuery, studentsQuery } from '../../data/api/queries.ts'
import { usePlan, usePlansFor } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { isGrounded } from '../../shared/condition-words.ts'

/** The time of day here, where the day is today. */
export const useNow = (date: string | undefined): string | null => {
  const [now, setNow] = useState(() => dayjs())
  useEffect(() => {
    const timer = setInterval(() => setNow(dayjs()), 30_000)
    return () => clearInterval(timer)
  }, [])
  return now.format('YYYY-MM-DD') === date ? now.format('HH:mm') : null
}

/**
 * The time of day by which the rest of a day is planned: the clock on the day itself; on any other day, as in rehearsal, the start of the
 * first run that was not driven.
 */
export const useDayClock = (plan: Day['plan'] | undefined, driven: ReadonlySet<string>): string => {
  const now = useNow(plan?.date)
  const next = plan?.slots
    .filter((s) => s.kind === 'run' && !driven.has(s.id))
    .map((s) => s.start)
    .sort()[0]
  return now ?? next ?? plan?.planning.from ?? '00:00'
}

/** Names of people and cars as the board writes them. */
const useNames = (day: Day | undefined) => {
  const students = useQuery(studentsQuery)
  const accounts = useQuery(accountsQuery)
  const names = useMemo(() => {
    const student = new Map(students.data?.map((s) => [s.id, s.name]))
    const instructor = new Map(accounts.data?.map((a) => [a.id, a.name]))
    const car = new Map(day?.plan.cars.map((c) => [c.id, c.number]))
    return {
      student: (id: string) => student.get(id) ?? id,
      instructor: (id: string) => instructor.get(id) ?? id,
      car: (id: string) => car.get(id) ?? id,
    }
  }, [students.data, accounts.data, day?.plan.cars])
  return { names, students: students.data, accounts: accounts.data, error: students.error ?? accounts.error }
}

/** The setup of the day, once everything that it needs is here, and what is wrong with it. */
export const useSetup = (day: Day | undefined, now: string | null) => {
  const { students, accounts, names, error } = useNames(day)
  const cars = useQuery(carsQuery)
  const settings = day?.plan.settings
  const { plan } = usePlan(settings)
  const groups = useMemo(() => day?.plan.groups ?? [], [day?.plan.groups])
  const changes = useMemo(
    () =>
      groups.map(({ pace, school, method, vehicleId }) => ({
        ...(pace === undefined ? {} : { pace }),
        ...(school === undefined ? {} : { school }),
        ...(method === undefined ? {} : { method }),
        ...(vehicleId === undefined ? {} : { vehicleId }),
      })),
    [groups],
  )
  const ofGroups = usePlansFor(settings, changes)
  const setup = useMemo(() => {
    if (!day || !students || !accounts || !cars.data || !plan) return null
    const lap_s = (groupId: string): number => {
      const k = groups.findIndex((g) => g.id === groupId)
      return ((k >= 0 ? ofGroups?.[k] : undefined) ?? plan).profile.lapTime_s
    }
    const teaching = Object.fromEntries(accounts.map((a) => [a.id, a.teaching]))
    // A car that nobody should drive is out until somebody says that it was put right.
    const grounded = new Set(cars.data.filter((c) => c.condition && isGrounded(c.condition)).map((c) => c.id))
    return setupOfDay(day.plan, { students, schoolCars: cars.data, teaching, lap_s, grounded }, now)
  }, [day, students, accounts, cars.data, plan, ofGroups, groups, now])
  const wrong = useMemo(() => (setup ? checkSetup(setup) : []), [setup])
  return { setup, wrong, names, error: error ?? cars.error }
}

/** Names of people and cars. */
export type Names = ReturnType<typeof useNames>['names']

/** Name of a student, an instructor or a car, whichever an id is of; else the id. */
export const nameIn = (names: Names, id: string): string =>
  [names.student(id), names.instructor(id)].find((name) => name !== id) ?? (names.car(id) === id ? id : say`car ${names.car(id)}`)

import { checkDay } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { carsQuery, circuitQuery, dayEventsQuery, debriefLinesQuery, runsQuery, studentsQuery } from '../api/queries.ts'
import { useDay } from './day-context.tsx'
import { dayStates } from './day-states.ts'

/** Time (ms) after which the rail asks how the day stands. */
const EVERY_MS = 30_000

/** How each stage stands for the day at hand; empty where there is none. */
export const useDayStates = (): ReturnType<typeof dayStates> => {
  const { day } = useDay()
  const here = { enabled: day !== undefined, refetchInterval: EVERY_MS }
  const circuit = useQuery({ ...circuitQuery(day?.plan.settings.circuitId ?? ''), enabled: day !== undefined })
  const events = useQuery({ ...dayEventsQuery(day?.id ?? ''), ...here })
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), ...here })
  const lines = useQuery({ ...debriefLinesQuery, ...here })
  const students = useQuery(studentsQuery)
  const cars = useQuery(carsQuery)
  return useMemo(() => {
    if (!day || !events.data || !runs.data) return {}
    const { plan } = day
    const grounded = cars.data?.filter((c) => c.condition && [c.condition.brakes, c.condition.tyres, c.condition.other].includes('stop'))
    return dayStates({
      surface: plan.settings.surface,
      widthAssumed: circuit.data?.survey.widthAssumed === true,
      studentIds: plan.studentIds,
      runsPlanned: plan.slots.filter((s) => s.kind === 'run').length,
      problems: checkDay({
        slots: plan.slots,
        students: students.data ?? [],
        cars: cars.data ?? [],
        grounded: new Set(grounded?.map((c) => c.id)),
      }),
      events: events.data,
      runs: runs.data,
      lines: lines.data ?? [],
    })
  }, [day, circuit.data, events.data, runs.data, lines.data, students.data, cars.data])
}

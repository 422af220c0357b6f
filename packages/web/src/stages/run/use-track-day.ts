import type { Day, Run } from '@ochote/contract'
import { carOfRun, type DayEvent, firstName, type Plan, type RunEvent, runStateOf, type Student } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { historyQuery, runsQuery, studentsQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import type { QueuedEvent } from '../../data/events/event-queue.ts'
import { runQueue } from '../../data/events/run-queue.ts'
import { type NewDayEvent, useDayEvents } from '../../data/events/use-day-events.ts'
import { type LiveDay, useLiveDay } from '../../data/live/live-store.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { useStop } from './use-stop.ts'

/** A run of the day with what happened in it and the number of its car. */
export type TrackRun = { run: Run; carNumber: string | null; state: ReturnType<typeof runStateOf> }

/** The running day as a screen for several cars sees it. */
export type TrackDay = {
  day: Day
  plan: Plan
  live: LiveDay
  /** Runs that have not ended, oldest first. */
  open: readonly TrackRun[]
  /** All runs of the day. */
  all: readonly TrackRun[]
  students: readonly Student[]
  events: readonly Exclude<DayEvent, { kind: 'undo' }>[]
  stop: Extract<DayEvent, { kind: 'stop' }> | null
  /** Logs something on the day; its id is known at once. */
  tell: (told: NewDayEvent) => string
}

/** Everything of the day in one place; undefined while it is read. Works from what this device holds when the server is away. */
export const useTrackDay = (): { track: TrackDay | undefined; error: Error | null } => {
  const { day, error } = useDay()
  // What the desk only looks at is not what is driven.
  const { plan, error: planError } = usePlan(day?.plan.settings)
  const live = useLiveDay(day?.id)
  const runs = useQuery({ ...runsQuery({ dayId: day?.id ?? '' }), enabled: day !== undefined })
  const students = useQuery(studentsQuery)
  const history = useQuery({ ...historyQuery(day?.id ?? ''), enabled: day !== undefined, staleTime: Number.POSITIVE_INFINITY })
  const dayEvents = useDayEvents(day?.id ?? '')
  const [kept, setKept] = useState<readonly QueuedEvent<RunEvent>[]>([])
  // Watched again only when other runs are there, not whenever the list was read.
  const ids = JSON.stringify((runs.data ?? []).map((r) => r.id))
  useEffect(() => runQueue.watch(JSON.parse(ids) as string[], setKept), [ids])
  useEffect(() => {
    const past = history.data?.flatMap((row) =>
      'runId' in row.event && row.event.kind !== 'radio-answer' && row.event.kind !== 'incident' ? [row.event as RunEvent] : [],
    )
    if (past) void runQueue.adopt(past)
  }, [history.data])
  const all = useMemo((): TrackRun[] => {
    const byRun = new Map<string, RunEvent[]>()
    const own = new Set(kept.flatMap((e) => (e.own ? [e.id] : [])))
    for (const { about, doc } of kept) byRun.set(about, [...(byRun.get(about) ?? []), doc])
    return [...(runs.data ?? [])]
      .sort((a, b) => (a.startedAt < b.startedAt ? -1 : 1))
      .map((run) => ({
        run,
        carNumber: (day && carOfRun(run, day.plan)?.number) ?? null,
        state: runStateOf(byRun.get(run.id) ?? [], (id) => own.has(id)),
      }))
  }, [kept, runs.data, day])
  const { events } = dayEvents
  const stop = useStop(day?.id ?? '', dayEvents)
  const track = useMemo(
    (): TrackDay | undefined =>
      day && plan
        ? {
            day,
            plan,
            live,
            all,
            open: all.filter((r) => !r.run.endedAt && !r.state.ended),
            students: students.data ?? [],
            events,
            stop,
            tell: dayEvents.tell,
          }
        : undefined,
    [day, plan, live, all, students.data, events, stop, dayEvents.tell],
  )
  return { track, error: error ?? planError }
}

/** The first name, as it is said over the radio. */
export const callName = (run: Pick<Run, 'studentName'>): string => firstName(run.studentName)

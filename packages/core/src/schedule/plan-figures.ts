import { minutesOf } from '../day/check-day.ts'
import { driveKinds } from '../day/format-kind.ts'
import { lapsOf } from './model.ts'
import type { DaySetup, PlannedSession } from './setup.ts'

type Range = { least: number; most: number }

/**
 * What one compares plans by. `laps`: driven at a pace by a student; `longestWait_min`: between two sessions of a student, lunch counted
 * as waiting; `waiting_min`: all of that, a student on average; `sessions`: of an instructor; `otherInstructor`: students with more than one.
 */
export type PlanFigures = {
  laps: Range
  longestWait_min: number
  waiting_min: number
  sessions: Range
  otherInstructor: number
}

const rangeOf = (values: readonly number[]): Range => ({
  least: values.length > 0 ? Math.min(...values) : 0,
  most: values.length > 0 ? Math.max(...values) : 0,
})

/** Figures of a plan, from the plan alone. Cost: students × sessions. */
export const planFigures = (setup: DaySetup, sessions: readonly PlannedSession[]): PlanFigures => {
  const formatOf = (s: PlannedSession) => setup.formats.find((f) => f.id === s.formatId)
  const people = setup.students.map((student) => {
    const own = sessions
      .filter((s) => s.seats.some((seat) => seat.studentId === student.id))
      .sort((a, b) => minutesOf(a.start) - minutesOf(b.start))
    const drives = own.filter((s) => {
      const format = formatOf(s)
      return format !== undefined && driveKinds.has(format.kind)
    })
    const group = setup.groups.find((g) => g.id === student.groupId)
    const waits = own.slice(1).map((s, k) => Math.max(0, minutesOf(s.start) - minutesOf(own[k].end)))
    return {
      laps: drives.reduce((sum, s) => {
        const format = formatOf(s)
        return sum + (format && group ? lapsOf(format, group) : 0)
      }, 0),
      longest: Math.max(0, ...waits),
      waiting: waits.reduce((sum, w) => sum + w, 0),
      instructors: new Set(drives.flatMap((s) => s.instructorId ?? [])).size,
    }
  })
  return {
    laps: rangeOf(people.map((p) => p.laps)),
    longestWait_min: Math.max(0, ...people.map((p) => p.longest)),
    waiting_min: people.length > 0 ? people.reduce((sum, p) => sum + p.waiting, 0) / people.length : 0,
    sessions: rangeOf(setup.instructors.map((i) => sessions.filter((s) => s.instructorId === i.id).length)),
    otherInstructor: people.filter((p) => p.instructors > 1).length,
  }
}

/** What a search can weigh more than the day's own rules do. */
export const emphases = ['rules', 'waiting', 'instructor', 'load'] as const
export type Emphasis = (typeof emphases)[number]

/** How many times more it then counts. */
const MORE = 4

/** The day as it is searched when something is weighed more. A plan of it is judged by the day itself. */
export const withEmphasis = (setup: DaySetup, emphasis: Emphasis): DaySetup => {
  const { cost } = setup.rules
  const weighed = {
    rules: {},
    waiting: { wait: { ...cost.wait, each: MORE * cost.wait.each, more: MORE * cost.wait.more } },
    instructor: { otherInstructor: MORE * cost.otherInstructor, wish: MORE * cost.wish },
    load: { unevenLoad: MORE * cost.unevenLoad, unevenLaps: MORE * cost.unevenLaps, rest: { ...cost.rest, each: MORE * cost.rest.each } },
  }[emphasis]
  return { ...setup, rules: { ...setup.rules, cost: { ...cost, ...weighed } } }
}

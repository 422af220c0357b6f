import { minutesOf } from '../day/check-day.ts'
import { driveKinds } from '../day/format-kind.ts'
import { wantsOf } from './check-timetable.ts'
import { type Costs, noCosts, waitCost } from './cost.ts'
import { lapsOf } from './model.ts'
import type { DaySetup, PlannedSession } from './setup.ts'

const up = (minutes: number, step: number): number => Math.ceil(minutes / step - 1e-9) * step

/** Costs of a plan from the plan alone, in minutes and without anything of the search; times in `setup` lie on whole steps. */
export const costFromPlan = (setup: DaySetup, sessions: readonly PlannedSession[]): Costs => {
  const costs = noCosts()
  const { cost, lunch } = setup.rules
  const step = setup.step_min
  const formatOf = (s: PlannedSession) => {
    const format = setup.formats.find((f) => f.id === s.formatId)
    if (!format) throw new Error(`No format ${s.formatId}`)
    return format
  }
  const day = { from: minutesOf(setup.from), to: minutesOf(setup.to) }
  const from = (s: PlannedSession): number => minutesOf(s.start)
  const to = (s: PlannedSession): number => from(s) + up(formatOf(s).minutes, step)
  const lapsDriven = new Map<string, number>()
  for (const student of setup.students) {
    const own = sessions.filter((s) => s.seats.some((seat) => seat.studentId === student.id)).sort((a, b) => from(a) - from(b))
    const here = { from: minutesOf(student.arrives ?? setup.from), to: Math.min(day.to, minutesOf(student.leaves ?? setup.to)) }
    const busy = own.map((s) => ({ from: from(s), to: to(s) + up(formatOf(s).change_min, step) }))
    const waits = (spans: readonly { from: number; to: number }[]): number => {
      let sum = 0
      let at = here.from
      for (const span of [...spans].sort((a, b) => a.from - b.from)) {
        if (span.from > at) sum += waitCost(span.from - at, cost.wait)
        at = Math.max(at, span.to)
      }
      return sum + (here.to > at ? waitCost(here.to - at, cost.wait) : 0)
    }
    // Lunch: every place where it fits is tried.
    let best = waits(busy)
    if (lunch) {
      const window = { from: Math.max(minutesOf(lunch.from), here.from), to: Math.min(minutesOf(lunch.to), here.to) }
      const length = up(lunch.minutes, step)
      if (window.to - window.from >= length) {
        let cheapest = Number.POSITIVE_INFINITY
        for (let at = window.from; at + length <= window.to; at += step)
          if (busy.every((b) => b.to <= at || b.from >= at + length))
            cheapest = Math.min(cheapest, waits([...busy, { from: at, to: at + length }]))
        if (Number.isFinite(cheapest)) best = cheapest
      }
    }
    costs.waiting += best
    const drives = own.filter((s) => driveKinds.has(formatOf(s).kind) && s.instructorId !== null)
    const keeps = setup.pairs.filter((p) => p.studentId === student.id && p.wish === 'keep').map((p) => p.instructorId)
    const avoids = setup.pairs.filter((p) => p.studentId === student.id && p.wish === 'avoid').map((p) => p.instructorId)
    for (const drive of drives) {
      if (drive.instructorId !== drives[0].instructorId) costs.otherInstructor += cost.otherInstructor
      const id = drive.instructorId ?? ''
      if (avoids.includes(id) || (keeps.length > 0 && !keeps.includes(id))) costs.wish += cost.wish
    }
    for (const format of setup.formats) {
      if (student.done?.includes(format.id)) continue
      const got = own.filter((s) => s.formatId === format.id).length
      costs.leftOut += cost.leftOut * Math.max(0, wantsOf(setup, student, format.id) - got)
    }
    for (const told of setup.announced.filter((s) => s.seats.some((seat) => seat.studentId === student.id)))
      if (!own.some((s) => s.formatId === told.formatId && s.start === told.start && s.instructorId === told.instructorId))
        costs.moved += cost.moved
    const group = setup.groups.find((g) => g.id === student.groupId)
    const laps = own.filter((s) => driveKinds.has(formatOf(s).kind)).reduce((sum, s) => sum + (group ? lapsOf(formatOf(s), group) : 0), 0)
    lapsDriven.set(student.id, laps)
  }
  for (const instructor of setup.instructors) {
    const own = sessions.filter((s) => s.instructorId === instructor.id && formatOf(s).instructor)
    const isBusy = (at: number): boolean => own.some((s) => from(s) <= at && at < to(s))
    const within = up(cost.rest.within_min, step)
    for (let at = day.from; at + within <= day.to; at += step) {
      let busy = 0
      for (let t = at; t < at + within; t += step) if (isBusy(t)) busy += step
      costs.rest += cost.rest.each * Math.max(0, (busy - cost.rest.busy_min) / step)
    }
  }
  const loads = setup.instructors.map((i) => sessions.filter((s) => s.instructorId === i.id && formatOf(s).instructor).length)
  if (loads.length > 1) costs.unevenLoad += cost.unevenLoad * (Math.max(...loads) - Math.min(...loads))
  if (setup.rules.oneGroupOnTrack) {
    const onTrack = sessions.filter((s) => formatOf(s).place === 'track').sort((a, b) => from(a) - from(b))
    for (const [k, session] of onTrack.entries())
      if (k > 0 && session.groupId !== onTrack[k - 1].groupId) costs.groupChange += cost.groupChange
  }
  for (const group of setup.groups) {
    const laps = setup.students.filter((s) => s.groupId === group.id).map((s) => lapsDriven.get(s.id) ?? 0)
    if (laps.length > 0) costs.unevenLaps += cost.unevenLaps * Math.max(0, Math.max(...laps) - Math.min(...laps) - 1)
  }
  if (setup.rain.length > 0)
    for (const session of sessions) {
      const { kind } = formatOf(session)
      const wet = (at: number): boolean => setup.rain.some((r) => minutesOf(r.from) <= at && at < minutesOf(r.to))
      const steps = Array.from({ length: (to(session) - from(session)) / step }, (_, k) => from(session) + k * step)
      if (kind === 'wet-pad' && !steps.every(wet)) costs.wrongWeather += cost.wrongWeather
      if (kind === 'pad' && steps.some(wet)) costs.wrongWeather += cost.wrongWeather
    }
  return costs
}

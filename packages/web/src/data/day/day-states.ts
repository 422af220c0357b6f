import type { DebriefLine, Run } from '@ochote/contract'
import { briefingParts, type DayEvent, type DayProblem, preparationOf, type Surface, standing } from '@ochote/core'
import { say, sayWhole } from '../../language/say.ts'

/** How a stage stands for the day at hand: in a few words, and the way to what it is about. `asks`: something is missing or out of date. */
export type StageState = { words: string; to: string; asks: boolean }
export type StageName = 'circuit' | 'cones' | 'day' | 'brief' | 'run' | 'debrief'

/** What the states are read from. */
export type DayAtHand = {
  surface: Surface
  widthAssumed: boolean
  studentIds: readonly string[]
  runsPlanned: number
  problems: readonly DayProblem[]
  events: readonly DayEvent[]
  runs: readonly Run[]
  lines: readonly DebriefLine[]
}

/** Surfaces that a kind of weather leaves. */
const fits: Record<Extract<DayEvent, { kind: 'weather' }>['rain'], readonly Surface[]> = {
  dry: ['dry'],
  drizzle: ['damp', 'wet'],
  rain: ['wet', 'standing', 'damp'],
  'heavy-rain': ['standing', 'wet'],
}
const count = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`

const conesState = ({ surface, events }: DayAtHand): StageState => {
  const told = standing(events)
  const weather = told.findLast((e) => e.kind === 'weather')
  if (weather && !fits[weather.rain].includes(surface)) return { words: say`for ${sayWhole(surface)}; it is not`, to: '/cones', asks: true }
  const laid = new Set(told.flatMap((e) => (e.kind === 'cone-report' ? [e.coneId] : []))).size
  return laid > 0
    ? { words: say`${laid} laid`, to: '/cones/check', asks: false }
    : { words: say`not laid yet`, to: '/cones/lay', asks: true }
}

const dayState = ({ studentIds, runsPlanned, problems }: DayAtHand): StageState => {
  if (problems.length > 0) return { words: count(problems.length, say`thing off`, say`things off`), to: '/day', asks: true }
  if (studentIds.length === 0) return { words: say`nobody in it`, to: '/day', asks: true }
  return runsPlanned === 0
    ? { words: say`no runs yet`, to: '/day', asks: true }
    : { words: count(runsPlanned, say`run`, say`runs`), to: '/day', asks: false }
}

const briefState = ({ studentIds, events }: DayAtHand): StageState | null => {
  if (studentIds.length === 0) return null
  const open = studentIds.filter((id) => {
    const { acknowledged } = preparationOf(events, id)
    return briefingParts.some((part) => !acknowledged[part])
  }).length
  return open === 0
    ? { words: say`all briefed`, to: '/brief/students', asks: false }
    : { words: say`${open} not briefed`, to: '/brief/students', asks: true }
}

const runState = ({ runs, runsPlanned }: DayAtHand): StageState | null => {
  const open = runs.filter((r) => r.endedAt === null).length
  if (open > 0) return { words: say`${open} on track`, to: '/run', asks: false }
  const left = Math.max(0, runsPlanned - runs.filter((r) => r.slotId !== null).length)
  return runsPlanned === 0 ? null : { words: left === 0 ? say`all driven` : say`${left} to drive`, to: '/run', asks: false }
}

const debriefState = ({ runs, lines }: DayAtHand): StageState | null => {
  const ended = runs.filter((r) => r.endedAt !== null && !r.practice)
  if (ended.length === 0) return null
  const given = new Set(lines.flatMap((line) => (line.sheetGivenAt ? [line.runId] : [])))
  const open = ended.filter((r) => !given.has(r.id)).length
  return open === 0 ? { words: say`all given`, to: '/debrief', asks: false } : { words: say`${open} to give`, to: '/debrief', asks: true }
}

/** How each stage stands for a day. Nothing is said of a stage of which nothing can be said yet. */
export const dayStates = (day: DayAtHand): Partial<Record<StageName, StageState>> => {
  const all: Record<StageName, StageState | null> = {
    circuit: day.widthAssumed ? { words: say`width assumed`, to: '/circuit', asks: true } : null,
    cones: conesState(day),
    day: dayState(day),
    brief: briefState(day),
    run: runState(day),
    debrief: debriefState(day),
  }
  return Object.fromEntries(Object.entries(all).filter(([, state]) => state !== null))
}

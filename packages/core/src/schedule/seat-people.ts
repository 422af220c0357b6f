import { byStart } from '../day/own-times.ts'
import { type Board, emptyBoard, type Placed, put, takeOff } from './board.ts'
import { placedOf } from './construct.ts'
import { type Announced, costsOf, noCosts, studentCosts, totalOf } from './cost.ts'
import { type Model, mayTakeCar, modelOf } from './model.ts'
import { studentIsFree, studentKeepsRules, teachesStudent } from './place.ts'
import { type DaySetup, type PlannedSession, sessionKey } from './setup.ts'
import { announcedOf, sessionOf } from './solve-day.ts'

/** A solver of mixed-integer programs in the text form of linear programs; values of variables that are not 0. Null: no optimum was proven. */
export type Minimise = (program: string) => { cost: number; values: ReadonlyMap<string, number> } | null

/** Sessions with their people placed; `proven`: nobody can be placed at less cost in these sessions, for themselves alone. */
export type Seated = { sessions: PlannedSession[]; cost: number; proven: boolean }

/** Students who can change places with each other without anything changing. */
type Alike = { students: number[] }
/** One way through the day for each of some students who are alike: which sessions, and what it costs one of them. */
type Pattern = { alike: number; sessions: number[]; cost: number }

/** No more ways are looked at; a group with more stays as it is. */
const MOST_PATTERNS = 60_000
/** Length at which a line of a program is broken, for its readers take no long ones. */
const LINE = 200

const alikeIn = (setup: DaySetup, model: Model, group: number, stays: readonly Placed[]): Alike[] => {
  const by = new Map<string, number[]>()
  for (const [s, student] of setup.students.entries()) {
    if (model.groupOf[s] !== group) continue
    const cars = setup.cars.map((car) => mayTakeCar(car, student))
    const told = setup.announced.flatMap((session, k) => (session.seats.some((seat) => seat.studentId === student.id) ? [k] : []))
    const wishes = setup.pairs.filter((p) => p.studentId === student.id)
    const formats = setup.formats.map((_, f) => model.wants[s * setup.formats.length + f])
    const has = stays.flatMap((session, k) => (session.students.includes(s) ? [k] : []))
    const key = JSON.stringify([
      model.arrives[s],
      model.leaves[s],
      cars,
      told,
      wishes.map((w) => [w.instructorId, w.wish]),
      formats,
      student.language,
      has,
    ])
    by.set(key, [...(by.get(key) ?? []), s])
  }
  return [...by.values()].map((students) => ({ students }))
}

/** Every way through the given sessions that the rules leave a student, with its cost; null where there are too many. */
const patternsOf = (
  board: Board,
  student: number,
  sessions: readonly Placed[],
  announced: Announced | null,
): Omit<Pattern, 'alike'>[] | null => {
  const { model } = board
  const { setup } = model
  const formats = setup.formats.length
  const mine = sessions.flatMap((session, k) => {
    const cars = session.cars.every((car) => mayTakeCar(setup.cars[car], setup.students[student]))
    const wanted = model.wants[student * formats + session.format] > 0
    return wanted && cars && (session.instructor < 0 || teachesStudent(model, session.instructor, student)) ? [k] : []
  })
  // What others wait for comes first: a drive is only possible once its briefing lies.
  const inOrder = mine.sort((a, b) => sessions[a].at - sessions[b].at)
  const found: Omit<Pattern, 'alike'>[] = []
  const chosen: number[] = []
  const go = (from: number): boolean => {
    if (studentKeepsRules(board, student)) {
      const costs = noCosts()
      studentCosts(board, student, announced, costs)
      found.push({ sessions: [...chosen], cost: totalOf(costs) })
      if (found.length > MOST_PATTERNS) return false
    }
    for (let k = from; k < inOrder.length; k++) {
      const { format, at } = sessions[inOrder[k]]
      const slot = student * formats + format
      if (board.got[slot] >= model.wants[slot] || !studentIsFree(board, student, format, at)) continue
      const own: Placed = { ...sessions[inOrder[k]], students: [student], cars: [], leader: -1 }
      put(board, own)
      chosen.push(inOrder[k])
      const went = go(k + 1)
      chosen.pop()
      takeOff(board, own)
      if (!went) return false
    }
    return true
  }
  return go(0) ? found : null
}

/** Terms of a line of a program, broken where it would be too long. */
const terms = (list: readonly string[]): string => {
  const lines: string[] = ['']
  for (const term of list) {
    const last = lines.length - 1
    if (lines[last].length + term.length > LINE) lines.push(term)
    else lines[last] += `${lines[last] ? ' ' : ''}${term}`
  }
  return lines.join('\n ')
}

/** The program: as many of each kind of student as there are, and in each session as many as it has or, with one car for each or none, as may be. */
const programOf = (alike: readonly Alike[], patterns: readonly Pattern[], sessions: readonly Placed[], model: Model): string => {
  const x = (k: number): string => `x${k}`
  const rows: string[] = []
  alike.forEach(({ students }, a) => {
    const own = patterns.flatMap((p, k) => (p.alike === a ? [`+ ${x(k)}`] : []))
    rows.push(` a${a}: ${terms(own)} = ${students.length}`)
  })
  sessions.forEach((session, s) => {
    const inIt = patterns.flatMap((p, k) => (p.sessions.includes(s) ? [`+ ${x(k)}`] : []))
    if (inIt.length === 0) return
    const { min, seats } = model.formats[session.format]
    const most = session.cars.length > 0 ? session.students.length : seats
    rows.push(` l${s}: ${terms(inIt)} >= ${min}`, ` m${s}: ${terms(inIt)} <= ${most}`)
  })
  return [
    'Minimize',
    ` cost: ${terms(patterns.map((p, k) => `+ ${p.cost.toFixed(6)} ${x(k)}`))}`,
    'Subject To',
    ...rows,
    'General',
    ` ${terms(patterns.map((_, k) => x(k)))}`,
    'End',
  ].join('\n')
}

/** What a plan's people cost, each for themselves. */
const costOfPeople = (board: Board, announced: Announced | null): number => {
  const costs = noCosts()
  for (let s = 0; s < board.ofStudent.length; s++) studentCosts(board, s, announced, costs)
  return totalOf(costs)
}

/**
 * Places a group's people anew in the sessions of a plan that are its alone: times, instructors and cars of the sessions stay, and so do
 * those that it shares with other groups. Exact, by a mixed-integer program over all ways through the day; null where that is not possible
 * (helmets are short, or there are too many ways) or was not proven.
 */
const seatGroup = (model: Model, board: Board, group: number, announced: Announced | null, minimise: Minimise): Placed[] | null => {
  const { setup } = model
  const free = board.sessions.filter((s) => s.group === group && !s.fixed && s.students.every((one) => model.groupOf[one] === group))
  const stays = board.sessions.filter((s) => !free.includes(s))
  const alike = alikeIn(setup, model, group, stays)
  const patterns: Pattern[] = []
  for (const [a, { students }] of alike.entries()) {
    const scratch = emptyBoard(model)
    for (const session of stays)
      if (session.students.includes(students[0])) put(scratch, { ...session, students: [students[0]], cars: [], leader: -1 })
    const own = patternsOf(scratch, students[0], free, announced)
    if (own === null || own.length === 0 || patterns.length + own.length > MOST_PATTERNS) return null
    patterns.push(...own.map((p) => ({ ...p, alike: a })))
  }
  if (patterns.length === 0) return null
  const solved = minimise(programOf(alike, patterns, free, model))
  if (!solved) return null
  const seats: number[][] = free.map(() => [])
  const left = alike.map(({ students }) => [...students])
  for (const [name, value] of solved.values) {
    const pattern = patterns[Number(name.slice(1))]
    for (let n = Math.round(value); n > 0; n--) {
      const student = left[pattern.alike].pop()
      if (student === undefined) return null
      for (const s of pattern.sessions) seats[s].push(student)
    }
  }
  const oneCar = (session: Placed): boolean => setup.formats[session.format].cars === 'one'
  return [
    ...stays,
    ...free.flatMap((session, k) =>
      seats[k].length === 0
        ? []
        : [{ ...session, students: seats[k], cars: oneCar(session) ? session.cars : session.cars.slice(0, seats[k].length) }],
    ),
  ]
}

/**
 * Places people anew in the sessions of a plan, group by group, each as well as it can be: times, instructors and cars stay. `proven`: that
 * was proven for every group; what several people cost together (uneven laps) and sessions that groups share are left as they are. The
 * plan is taken as it is where it cannot be bettered.
 */
export const seatPeople = (setup: DaySetup, sessions: readonly PlannedSession[], minimise: Minimise): Seated => {
  const model = modelOf(setup)
  const announced = announcedOf(model)
  const kept = new Set(setup.kept.map(sessionKey))
  let board = emptyBoard(model)
  for (const session of sessions) {
    const placed = placedOf(model, session, kept.has(sessionKey(session)))
    if (!placed) return { sessions: [...sessions], cost: Number.POSITIVE_INFINITY, proven: false }
    put(board, placed)
  }
  // Who sits where decides how many helmets of a size are out.
  let proven = setup.rules.helmets === null
  for (let group = 0; group < setup.groups.length && setup.rules.helmets === null; group++) {
    const next = seatGroup(model, board, group, announced, minimise)
    if (!next) {
      proven = false
      continue
    }
    const seated = emptyBoard(model)
    for (const session of next) put(seated, session)
    if (
      costOfPeople(seated, announced) > costOfPeople(board, announced) - 1e-6 ||
      totalOf(costsOf(seated, announced)) > totalOf(costsOf(board, announced)) + 1e-6
    )
      continue
    board = seated
  }
  return {
    sessions: board.sessions.map((session) => sessionOf(model, session)).sort(byStart),
    cost: totalOf(costsOf(board, announced)),
    proven,
  }
}

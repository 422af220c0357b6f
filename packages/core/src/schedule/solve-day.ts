import { clockOf, minutesOf } from '../day/check-day.ts'
import { byStart } from '../day/own-times.ts'
import { type Random, seededRandom } from '../units/random.ts'
import { type Board, emptyBoard, type Placed, put } from './board.ts'
import { keptBoard, lay, layAnnounced, placedOf } from './construct.ts'
import { type Announced, type Costs, costsOf, totalOf } from './cost.ts'
import { differenceOf, keep, type Ledger, ledgerOf, takeBack } from './ledger.ts'
import { type Model, modelOf } from './model.ts'
import { tryMove } from './moves.ts'
import type { DaySetup, PlannedSession } from './setup.ts'

/** A plan of the day. `leftOut`: what people do not get, by student and format. */
export type DayTimetable = {
  sessions: PlannedSession[]
  leftOut: { studentId: string; formatId: string; missing: number }[]
  costs: Costs
  cost: number
  /** Moves that were tried: the same number and seed give the same plan. */
  steps: number
  seed: number
}

/** Sessions that people do not get in a plan. */
export const missingIn = ({ leftOut }: Pick<DayTimetable, 'leftOut'>): number => leftOut.reduce((sum, one) => sum + one.missing, 0)

/** How long the search goes on. `stop` is asked now and then, after a whole number of steps; true ends the search. */
export type SolveOptions = {
  seed?: number
  /** Moves to try at most, over all beginnings. */
  steps?: number
  stop?: (steps: number) => boolean
  /** Called with each plan that is better than all before. */
  onBetter?: (plan: DayTimetable) => void
}

/** Moves of the first search; each beginning anew gets half as many more, for one long search is no better than several. */
const FIRST_STEPS = 150_000
const GROWTH = 1.5
const LONGEST = 1_500_000
export const USUAL_STEPS = 3_000_000
/** Moves between two questions whether to stop. */
const ASK_EVERY = 1024
/** Moves between two looks at the best plan so far. */
const TELL_EVERY = 32 * ASK_EVERY
/** Temperature at the beginning and the end (min of cost). */
const HOT = 150
/** Temperature at the beginning where a plan was announced, and where a search goes on from the best plan so far. */
const ANNOUNCED = 30
const WARM = 60
/** One search in so many begins anew; the others go on from the best plan. Found by trying: 5 % cheaper than beginning anew each time. */
const ANEW_EVERY = 8
const COLD = 1

/** What was announced to each student, by index. */
export const announcedOf = (model: Model): Announced | null => {
  const { announced, students } = model.setup
  if (announced.length === 0) return null
  const told = students.map((): { format: number; at: number; instructor: number }[] => [])
  for (const session of announced) {
    const placed = placedOf(model, session, false)
    for (const s of placed?.students ?? [])
      if (placed) told[s].push({ format: placed.format, at: placed.at, instructor: placed.instructor })
  }
  return told
}

/** Told now and then in a search: moves so far, cost and sessions of its best state. True ends it. */
type Asked = (done: number, best: number, sessions: readonly Placed[]) => boolean

/** Anneals a board in place; ends with its best state put back. Returns the moves that were tried. */
const anneal = (ledger: Ledger, random: Random, steps: number, hot: number, asked: Asked): number => {
  const { board } = ledger
  let best = ledger.total
  let kept = board.sessions.slice()
  const cooling = Math.log(COLD / hot)
  let temperature = hot
  let k = 0
  for (; k < steps; k++) {
    if (k % ASK_EVERY === 0) {
      if (asked(k, best, kept)) break
      temperature = hot * Math.exp((cooling * k) / steps)
    }
    const difference = tryMove(ledger, random) ? differenceOf(ledger) : null
    if (difference === null || (difference > 0 && random.uniform() >= Math.exp(-difference / temperature))) {
      takeBack(ledger)
      continue
    }
    keep(ledger, difference)
    if (ledger.total < best - 1e-6) {
      best = ledger.total
      kept = board.sessions.slice()
    }
  }
  restore(board, kept)
  return k
}

/** Makes a board hold these sessions, which it has held before. */
const restore = (board: Board, sessions: readonly Placed[]): void => {
  Object.assign(board, emptyBoard(board.model))
  for (const session of sessions) put(board, session)
}

/** A board as a plan, in the order of its times. */
const timetableOf = (board: Board, announced: Announced | null, seed: number, steps: number): DayTimetable => {
  const { model, got } = board
  const { students, formats } = model.setup
  const costs = costsOf(board, announced)
  return {
    sessions: board.sessions
      .map((session) => sessionOf(model, session))
      .sort((a, b) => byStart(a, b) || (sortKey(a) < sortKey(b) ? -1 : 1)),
    leftOut: students.flatMap((student, s) =>
      formats.flatMap((format, f) => {
        const missing = model.wants[s * formats.length + f] - got[s * formats.length + f]
        return missing > 0 ? [{ studentId: student.id, formatId: format.id, missing }] : []
      }),
    ),
    costs,
    cost: totalOf(costs),
    steps,
    seed,
  }
}

const sortKey = (session: PlannedSession): string => `${session.formatId} ${session.instructorId} ${session.seats[0]?.studentId}`

export const sessionOf = (model: Model, session: Placed): PlannedSession => {
  const { setup, formats } = model
  const start = minutesOf(setup.from) + session.at * setup.step_min
  const { minutes } = formats[session.format]
  const carIdOf = (car: number | undefined): string | null => (car === undefined || car < 0 ? null : setup.cars[car].id)
  const one = formats[session.format].cars === 'one'
  return {
    formatId: setup.formats[session.format].id,
    groupId: setup.groups[session.group].id,
    start: clockOf(start),
    end: clockOf(start + minutes),
    instructorId: session.instructor < 0 ? null : setup.instructors[session.instructor].id,
    seats: session.students.map((s, k) => ({ studentId: setup.students[s].id, carId: carIdOf(session.cars[one ? 0 : k]) })),
    leaderCarId: carIdOf(session.leader),
  }
}

/**
 * Plans a day: a first plan is constructed and annealed, from new beginnings again and again, and the cheapest kept. The result
 * depends on setup, seed and the number of steps alone. The setup must have passed `checkSetup`.
 */
export const solveDay = (setup: DaySetup, options: SolveOptions = {}): DayTimetable => {
  const { seed = 1, steps = USUAL_STEPS, stop = () => false, onBetter } = options
  const model = modelOf(setup)
  const announced = announcedOf(model)
  let best = null as DayTimetable | null
  let bestSessions: readonly Placed[] = []
  let done = 0
  let length = FIRST_STEPS
  let stopped = false
  for (let begin = 0; best === null || (done < steps && !stopped); begin++) {
    const random = seededRandom(seed + 7919 * begin)
    const board = keptBoard(model)
    const goesOn = begin > 0 && begin % ANEW_EVERY !== 0
    if (goesOn) restore(board, bestSessions)
    // What was announced is where the search begins: it changes less of it, and is sooner done.
    else if (announced) layAnnounced(board)
    lay(board, random)
    const before = done
    const consider = (of: Board, tried: number): void => {
      const plan = timetableOf(of, announced, seed, before + tried)
      if (best !== null && plan.cost >= best.cost - 1e-6) return
      best = plan
      bestSessions = of.sessions.slice()
      onBetter?.(plan)
    }
    if (begin === 0) consider(board, 0)
    const hot = announced ? ANNOUNCED : goesOn ? WARM : HOT
    const tried = anneal(ledgerOf(board, announced), random, Math.min(length, Math.max(0, steps - done)), hot, (k, cost, sessions) => {
      // Whoever follows the search sees what it has; the search itself takes no notice.
      if (k % TELL_EVERY === 0 && onBetter && best !== null && cost < best.cost - 1e-6) {
        const shown = emptyBoard(model)
        restore(shown, sessions)
        consider(shown, k)
      }
      stopped ||= stop(before + k)
      return stopped
    })
    consider(board, tried)
    done += tried
    length = Math.min(LONGEST, Math.round(length * GROWTH))
  }
  // The loop runs at least once.
  return { ...(best as DayTimetable), steps: done }
}

import { minutesOf } from '../day/check-day.ts'
import type { FormatKind } from '../day/format-kind.ts'
import type { Random } from '../units/random.ts'
import { type Board, emptyBoard, type Placed, put, takeOff } from './board.ts'
import { isInWrongWeather, noCosts, studentCosts, totalOf } from './cost.ts'
import type { Model } from './model.ts'
import { place, studentIsFree } from './place.ts'
import type { PlannedSession } from './setup.ts'

/** Kinds in the order in which they are laid: what others wait for first, then what binds many people, single drives last. */
const layingOrder: readonly FormatKind[] = [
  'briefing',
  'walk',
  'sighting',
  'classroom',
  'wet-pad',
  'pad',
  'group-session',
  'released',
  'lead-follow',
  'ride-along',
]

/** A stored session by index; null where it names something that the setup does not have. */
export const placedOf = (model: Model, session: PlannedSession, fixed: boolean): Placed | null => {
  const { setup } = model
  const at = (minutesOf(session.start) - minutesOf(setup.from)) / setup.step_min
  const format = setup.formats.findIndex((f) => f.id === session.formatId)
  const group = setup.groups.findIndex((g) => g.id === session.groupId)
  const students = session.seats.map((seat) => setup.students.findIndex((s) => s.id === seat.studentId))
  const instructor = session.instructorId === null ? -1 : setup.instructors.findIndex((i) => i.id === session.instructorId)
  const carIds = [...new Set(session.seats.flatMap((seat) => seat.carId ?? []))]
  const cars = carIds.map((id) => setup.cars.findIndex((c) => c.id === id))
  const leader = session.leaderCarId === null ? -1 : setup.cars.findIndex((c) => c.id === session.leaderCarId)
  if (format < 0 || group < 0 || [...students, ...cars].includes(-1) || !Number.isInteger(at) || at < 0) return null
  return { format, group, at, instructor, students, cars, leader, fixed }
}

/** A board with what is kept, as it is. */
export const keptBoard = (model: Model): Board => {
  const board = emptyBoard(model)
  for (const session of model.setup.kept) {
    const placed = placedOf(model, session, true)
    if (placed) put(board, placed)
  }
  return board
}

/** Shuffles in place. */
const shuffled = <T>(list: T[], random: Random): T[] => {
  for (let k = list.length - 1; k > 0; k--) {
    const j = Math.floor(random.uniform() * (k + 1))
    ;[list[k], list[j]] = [list[j], list[k]]
  }
  return list
}

const lacks = ({ model, got }: Board, student: number, format: number): boolean => {
  const at = student * model.formats.length + format
  return got[at] < model.wants[at]
}

/** What everybody waits for: held early, and again for whoever comes late. */
const firstKinds: ReadonlySet<FormatKind> = new Set(['briefing', 'walk', 'sighting'])
/** Delay of all that one student more in such a session is worth (min). */
const FIRST_WAIT_MIN = 3

/** Cost of opening a step of the track that was free, so that sessions of a group gather. */
const OPENING = 1.5

/** Price of a session that stands on the board: its students' days, the track that it opens, and the weather it is in. */
const priceHere = (board: Board, session: Placed): number => {
  const costs = noCosts()
  for (const s of session.students) studentCosts(board, s, null, costs)
  const { place: where, steps } = board.model.formats[session.format]
  let opened = 0
  if (where === 'track') for (let t = session.at; t < session.at + steps; t++) if (board.trackCount[t] === 1) opened++
  const weather =
    board.model.setup.rain.length > 0 && isInWrongWeather(board.model, session) ? board.model.setup.rules.cost.wrongWeather : 0
  return totalOf(costs) + OPENING * opened + weather
}

/** Lays one session for some of those who lack it at its cheapest time; false where it fits nowhere. */
const layOne = (board: Board, format: number, group: number, lacking: readonly number[]): boolean => {
  const { model } = board
  const { steps, min, seats, instructor } = model.formats[format]
  const isFirst = firstKinds.has(model.formats[format].kind)
  const instructors = instructor ? board.ofInstructor.map((_, i) => i) : [-1]
  let best: Placed | null = null
  let bestPrice = Number.POSITIVE_INFINITY
  for (let at = model.now; at + steps <= model.steps; at++) {
    const students = lacking.filter((s) => studentIsFree(board, s, format, at)).slice(0, seats)
    if (students.length < min) continue
    for (const i of instructors) {
      const session: Placed = { format, group, at, instructor: i, students, cars: [], leader: -1, fixed: false }
      if (!placeAsMany(board, session, min)) continue
      const price = isFirst
        ? at * model.setup.step_min - FIRST_WAIT_MIN * session.students.length
        : // Each student more that gets it is worth more than any wait.
          priceHere(board, session) / session.students.length - 1000 * session.students.length
      takeOff(board, session)
      if (price >= bestPrice) continue
      best = session
      bestPrice = price
    }
  }
  if (!best) return false
  const laid = { ...best, cars: [], leader: -1 }
  return place(board, laid)
}

/** Places a session with as many of its students as rules and cars allow. */
const placeAsMany = (board: Board, session: Placed, min: number): boolean => {
  const all = session.students
  for (let count = all.length; count >= min; count--) {
    session.students = all.slice(0, count)
    if (place(board, session)) return true
  }
  session.students = all
  return false
}

/** Lays a format for everybody of some groups who lacks it, in turns, so that nobody has two before others have one. */
const layFormat = (board: Board, format: number, groups: readonly number[], random: Random): void => {
  const { model } = board
  const everyone = shuffled(
    board.ofStudent.map((_, s) => s).filter((s) => groups.includes(model.groupOf[s])),
    random,
  )
  const given = (s: number): number => board.got[s * model.formats.length + format]
  for (;;) {
    const lacking = everyone.filter((s) => lacks(board, s, format))
    if (lacking.length === 0) return
    const fewest = Math.min(...lacking.map(given))
    const turn = lacking.filter((s) => given(s) === fewest)
    let laid = false
    if (model.formats[format].max > 1) {
      laid = layOne(board, format, model.groupOf[turn[0]], turn)
    } else {
      for (const s of turn) if (layOne(board, format, model.groupOf[s], [s])) laid = true
    }
    if (!laid) return
  }
}

/** Puts sessions where they were announced, as far as they still fit: whoever cannot come any more is left out of them. */
export const layAnnounced = (board: Board): void => {
  const { model } = board
  for (const session of model.setup.announced) {
    const told = placedOf(model, session, false)
    if (!told) continue
    const students = told.students.filter((s) => lacks(board, s, told.format) && studentIsFree(board, s, told.format, told.at))
    if (students.length > 0) placeAsMany(board, { ...told, students }, model.formats[told.format].min)
  }
}

/** Lays what people lack: format by format and group by group in the order in which others wait for them, each session at its cheapest place. */
export const lay = (board: Board, random: Random): void => {
  const { model } = board
  const formats = model.formats.map((_, f) => f).sort((a, b) => rank(model, a) - rank(model, b))
  for (const f of formats) {
    const groups = shuffled(
      model.setup.groups.map((_, g) => g),
      random,
    )
    if (model.formats[f].mixed) layFormat(board, f, groups, random)
    else for (const g of groups) layFormat(board, f, [g], random)
  }
}

/** Place of a format in the laying order; what a group wants first comes before what it wants after. */
const rank = (model: Model, f: number): number => {
  const before = model.order.some((pairs) => pairs.some(([, second]) => second === f)) ? 0.5 : 0
  return layingOrder.indexOf(model.formats[f].kind) + before
}

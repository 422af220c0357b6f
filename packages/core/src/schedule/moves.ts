import type { Random } from '../units/random.ts'
import type { Placed } from './board.ts'
import { type Ledger, moveOff, moveOn } from './ledger.ts'

/** A change of the board, tried on a ledger; false where it does not fit (what was begun has to be taken back). */
type Move = (ledger: Ledger, random: Random) => boolean

/** A whole number from 0 to below `count`. */
const pick = (random: Random, count: number): number => Math.floor(random.uniform() * count)

const anySession = ({ board: { sessions } }: Ledger, random: Random): Placed | null => {
  if (sessions.length === 0) return null
  const session = sessions[pick(random, sessions.length)]
  return session.fixed ? null : session
}

const anyInstructor = ({ board: { model } }: Ledger, random: Random): number => pick(random, model.setup.instructors.length)

/** Another time for one session, near its own or beside another one, maybe with another instructor. */
const relocate: Move = (ledger, random) => {
  const session = anySession(ledger, random)
  if (!session) return false
  const { formats } = ledger.board.model
  const format = formats[session.format]
  let at = session.at + pick(random, 9) - 4
  if (random.uniform() < 0.5) {
    const other = ledger.board.sessions[pick(random, ledger.board.sessions.length)]
    const beside = [other.at, other.at + formats[other.format].steps, other.at - format.steps]
    at = beside[pick(random, 3)]
  }
  const instructor = format.instructor && random.uniform() < 0.35 ? anyInstructor(ledger, random) : session.instructor
  if (at === session.at && instructor === session.instructor) return false
  moveOff(ledger, session)
  return moveOn(ledger, { ...session, at, instructor })
}

/** Two students change places between sessions of one format. */
const exchangeStudents: Move = (ledger, random) => {
  const one = anySession(ledger, random)
  const other = anySession(ledger, random)
  if (!one || !other || one === other || one.format !== other.format) return false
  const { formats } = ledger.board.model
  if (one.group !== other.group && !formats[one.format].mixed) return false
  const [k, j] = [pick(random, one.students.length), pick(random, other.students.length)]
  const [a, b] = [one.students[k], other.students[j]]
  if (one.students.includes(b) || other.students.includes(a)) return false
  moveOff(ledger, one)
  moveOff(ledger, other)
  return moveOn(ledger, { ...one, students: one.students.with(k, b) }) && moveOn(ledger, { ...other, students: other.students.with(j, a) })
}

/** A student goes over to another session of the same format that has room, or an own one is dissolved into it. */
const changeSession: Move = (ledger, random) => {
  const one = anySession(ledger, random)
  const other = anySession(ledger, random)
  if (!one || !other || one === other || one.format !== other.format) return false
  const format = ledger.board.model.formats[one.format]
  if (format.max < 2 || other.students.length >= format.seats || (one.group !== other.group && !format.mixed)) return false
  const k = pick(random, one.students.length)
  const student = one.students[k]
  if (other.students.includes(student)) return false
  const rest = one.students.toSpliced(k, 1)
  moveOff(ledger, one)
  moveOff(ledger, other)
  if (!moveOn(ledger, { ...other, students: [...other.students, student] })) return false
  return rest.length < format.min || rest.length === 0 || moveOn(ledger, { ...one, students: rest })
}

/** Two instructors change sessions. */
const exchangeInstructors: Move = (ledger, random) => {
  const one = anySession(ledger, random)
  const other = anySession(ledger, random)
  if (!one || !other || one.instructor < 0 || other.instructor < 0 || one.instructor === other.instructor) return false
  moveOff(ledger, one)
  moveOff(ledger, other)
  return moveOn(ledger, { ...one, instructor: other.instructor }) && moveOn(ledger, { ...other, instructor: one.instructor })
}

/** Sessions on the track that lie wholly within a time; null where one reaches over its ends or is fixed. */
const within = ({ board: { model, sessions } }: Ledger, from: number, to: number): Placed[] | null => {
  const found: Placed[] = []
  for (const session of sessions) {
    const format = model.formats[session.format]
    if (format.place !== 'track') continue
    const end = session.at + format.steps
    if (end <= from || session.at >= to) continue
    if (session.at < from || end > to || session.fixed) return null
    found.push(session)
  }
  return found
}

const putAllAt = (ledger: Ledger, sessions: readonly Placed[], by: number): boolean =>
  sessions.every((session) => moveOn(ledger, { ...session, at: session.at + by }))

/** A stretch of the track's day, one to three sessions long. */
const anyStretch = (ledger: Ledger, random: Random): { from: number; length: number } | null => {
  const session = anySession(ledger, random)
  const format = session && ledger.board.model.formats[session.format]
  if (!session || format?.place !== 'track') return null
  return { from: session.at, length: format.steps * (1 + pick(random, 3)) }
}

/** Two stretches of the track change places with all that is in them. */
const exchangeStretches: Move = (ledger, random) => {
  const stretch = anyStretch(ledger, random)
  const target = stretch && anySession(ledger, random)
  if (!stretch || !target) return false
  const { from, length } = stretch
  const to = target.at
  if (Math.abs(to - from) < length) return false
  const [early, late] = [Math.min(from, to), Math.max(from, to)]
  const [first, second] = [within(ledger, early, early + length), within(ledger, late, late + length)]
  if (!first || !second || first.length + second.length === 0) return false
  for (const session of [...first, ...second]) moveOff(ledger, session)
  return putAllAt(ledger, first, late - early) && putAllAt(ledger, second, early - late)
}

/** A stretch of the track moves by a few steps. */
const shiftStretch: Move = (ledger, random) => {
  const stretch = anyStretch(ledger, random)
  if (!stretch) return false
  const found = within(ledger, stretch.from, stretch.from + stretch.length)
  if (!found || found.length === 0) return false
  for (const session of found) moveOff(ledger, session)
  return putAllAt(ledger, found, (1 + pick(random, 3)) * (random.uniform() < 0.5 ? -1 : 1))
}

/** Two students of one group change their whole days. */
const exchangeDays: Move = (ledger, random) => {
  const { board } = ledger
  const count = board.ofStudent.length
  const [a, b] = [pick(random, count), pick(random, count)]
  if (a === b || board.model.groupOf[a] !== board.model.groupOf[b]) return false
  const touched = [...new Set([...board.ofStudent[a], ...board.ofStudent[b]])].sort((x, y) => x.at - y.at)
  if (touched.length === 0 || touched.some((session) => session.fixed)) return false
  for (const session of touched) moveOff(ledger, session)
  const other = (s: number): number => (s === a ? b : s === b ? a : s)
  return touched.every((session) => moveOn(ledger, { ...session, students: session.students.map(other) }))
}

/** Somebody who lacks a session, from a random student on. */
const lacking = ({ board }: Ledger, random: Random): { student: number; format: number } | null => {
  const { model, got } = board
  const [students, formats] = [board.ofStudent.length, model.formats.length]
  const first = pick(random, students)
  for (let k = 0; k < students; k++) {
    const student = (first + k) % students
    const shift = pick(random, formats)
    for (let j = 0; j < formats; j++) {
      const format = (shift + j) % formats
      if (got[student * formats + format] < model.wants[student * formats + format]) return { student, format }
    }
  }
  return null
}

/** Puts in what somebody lacks: in a session with room, or in one of its own, throwing out what is in the way of it. */
const insert: Move = (ledger, random) => {
  const found = lacking(ledger, random)
  if (!found) return false
  const { board } = ledger
  const { student, format: f } = found
  const format = board.model.formats[f]
  const group = board.model.groupOf[student]
  const withRoom = board.sessions.filter(
    (s) =>
      s.format === f &&
      !s.fixed &&
      s.students.length < format.seats &&
      (s.group === group || format.mixed) &&
      !s.students.includes(student),
  )
  if (withRoom.length > 0 && random.uniform() < 0.6) {
    const session = withRoom[pick(random, withRoom.length)]
    moveOff(ledger, session)
    return moveOn(ledger, { ...session, students: [...session.students, student] })
  }
  const others = format.min > 1 ? companions(ledger, student, f, random) : []
  const at = pick(random, board.model.steps)
  const instructor = format.instructor ? anyInstructor(ledger, random) : -1
  const session: Placed = { format: f, group, at, instructor, students: [student, ...others], cars: [], leader: -1, fixed: false }
  if (random.uniform() < 0.5) throwOut(ledger, session)
  return moveOn(ledger, session)
}

/** Others of the group who lack the same, to make up the least number. */
const companions = ({ board }: Ledger, student: number, format: number, random: Random): number[] => {
  const { model, got } = board
  const formats = model.formats.length
  const lack = Array.from({ length: board.ofStudent.length }, (_, s) => s).filter(
    (s) => s !== student && model.groupOf[s] === model.groupOf[student] && got[s * formats + format] < model.wants[s * formats + format],
  )
  const shift = pick(random, Math.max(1, lack.length))
  return [...lack.slice(shift), ...lack.slice(0, shift)].slice(0, model.formats[format].min - 1)
}

/** Takes off what would use the same student, instructor or track at the time of a session. */
const throwOut = (ledger: Ledger, session: Placed): void => {
  const { model, sessions } = ledger.board
  const mine = model.formats[session.format]
  const end = session.at + mine.steps + mine.change
  const inTheWay = sessions.filter((other) => {
    const theirs = model.formats[other.format]
    if (other.fixed || other.at >= end || other.at + theirs.steps + theirs.change <= session.at) return false
    if (session.instructor >= 0 && other.instructor === session.instructor) return true
    if (other.students.some((s) => session.students.includes(s))) return true
    return mine.place === theirs.place && (mine.place !== 'track' || (model.setup.rules.oneGroupOnTrack && other.group !== session.group))
  })
  for (const other of inTheWay) moveOff(ledger, other)
}

/** Moves with the share of tries that each gets. */
const shares: readonly (readonly [number, Move])[] = [
  [0.3, relocate],
  [0.22, exchangeStudents],
  [0.05, changeSession],
  [0.1, exchangeInstructors],
  [0.13, exchangeStretches],
  [0.1, shiftStretch],
  [0.1, exchangeDays],
]

/** Share of the moves that put something in as long as somebody lacks something. */
const INSERTING = 0.15

/** Tries one random move. */
export const tryMove: Move = (ledger, random) => {
  let at = random.uniform()
  if (ledger.board.missing > 0) {
    if (at < INSERTING) return insert(ledger, random)
    at = (at - INSERTING) / (1 - INSERTING)
  }
  for (const [share, move] of shares) {
    if (at < share) return move(ledger, random)
    at -= share
  }
  return relocate(ledger, random)
}

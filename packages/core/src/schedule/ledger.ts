import { type Board, type Placed, put, takeOff } from './board.ts'
import { type Announced, type Costs, clearCosts, commonCosts, instructorCosts, noCosts, studentCosts, totalOf } from './cost.ts'
import { place, studentKeepsRules } from './place.ts'

/** A board with what it costs, and the changes since the last decision, which can be taken back. */
export type Ledger = {
  board: Board
  announced: Announced | null
  total: number
  off: Placed[]
  on: Placed[]
  /** Cost of each student and instructor, as kept and as the move would have it. */
  ofStudent: Float64Array
  ofInstructor: Float64Array
  common: number
  nextOfStudent: Float64Array
  nextOfInstructor: Float64Array
  nextCommon: number
  /** Students and instructors that the move touches, each once: `seen` holds the number of the move that touched them last. */
  students: number[]
  instructors: number[]
  seenStudent: Int32Array
  seenInstructor: Int32Array
  move: number
}

const scratch: Costs = noCosts()

const studentCost = (board: Board, student: number, announced: Announced | null): number => {
  studentCosts(board, student, announced, clearCosts(scratch))
  return totalOf(scratch)
}
const instructorCost = (board: Board, instructor: number): number => {
  instructorCosts(board, instructor, clearCosts(scratch))
  return totalOf(scratch)
}
const commonCost = (board: Board): number => {
  commonCosts(board, clearCosts(scratch))
  return totalOf(scratch)
}

/** Opens a ledger on a board. */
export const ledgerOf = (board: Board, announced: Announced | null): Ledger => {
  const ofStudent = Float64Array.from(board.ofStudent, (_, s) => studentCost(board, s, announced))
  const ofInstructor = Float64Array.from(board.ofInstructor, (_, i) => instructorCost(board, i))
  const common = commonCost(board)
  return {
    board,
    announced,
    total: sum(ofStudent) + sum(ofInstructor) + common,
    off: [],
    on: [],
    ofStudent,
    ofInstructor,
    common,
    nextOfStudent: ofStudent.slice(),
    nextOfInstructor: ofInstructor.slice(),
    nextCommon: common,
    students: [],
    instructors: [],
    seenStudent: new Int32Array(ofStudent.length),
    seenInstructor: new Int32Array(ofInstructor.length),
    move: 0,
  }
}

const sum = (values: Float64Array): number => values.reduce((a, b) => a + b, 0)

/** Takes a session off, as part of a move. */
export const moveOff = ({ board, off }: Ledger, session: Placed): void => {
  takeOff(board, session)
  off.push(session)
}

/** Puts a session on, as part of a move; false where a rule forbids it. */
export const moveOn = ({ board, on }: Ledger, session: Placed): boolean => {
  if (!place(board, session)) return false
  on.push(session)
  return true
}

/** Takes the move back. */
export const takeBack = ({ board, on, off }: Ledger): void => {
  for (let k = on.length - 1; k >= 0; k--) takeOff(board, on[k])
  for (let k = off.length - 1; k >= 0; k--) put(board, off[k])
  on.length = 0
  off.length = 0
}

const touch = (ledger: Ledger, session: Placed): void => {
  const { move, seenStudent, seenInstructor } = ledger
  for (const s of session.students) {
    if (seenStudent[s] === move) continue
    seenStudent[s] = move
    ledger.students.push(s)
  }
  const { instructor } = session
  if (instructor < 0 || seenInstructor[instructor] === move) return
  seenInstructor[instructor] = move
  ledger.instructors.push(instructor)
}

/** Difference (min) that the move makes; null where what was taken off breaks a rule for somebody. */
export const differenceOf = (ledger: Ledger): number | null => {
  const { board, announced, on, off, students, instructors } = ledger
  ledger.move++
  students.length = 0
  instructors.length = 0
  for (const session of on) touch(ledger, session)
  for (const session of off) {
    touch(ledger, session)
    const { kind } = board.model.formats[session.format]
    if (kind !== 'briefing' && kind !== 'sighting') continue
    // A session that others of theirs wait for may be gone.
    for (const s of session.students) if (!studentKeepsRules(board, s)) return null
  }
  let difference = 0
  for (const s of students) {
    ledger.nextOfStudent[s] = studentCost(board, s, announced)
    difference += ledger.nextOfStudent[s] - ledger.ofStudent[s]
  }
  for (const i of instructors) {
    ledger.nextOfInstructor[i] = instructorCost(board, i)
    difference += ledger.nextOfInstructor[i] - ledger.ofInstructor[i]
  }
  ledger.nextCommon = commonCost(board)
  return difference + ledger.nextCommon - ledger.common
}

/** Keeps the move, at the difference that was just found. */
export const keep = (ledger: Ledger, difference: number): void => {
  for (const s of ledger.students) ledger.ofStudent[s] = ledger.nextOfStudent[s]
  for (const i of ledger.instructors) ledger.ofInstructor[i] = ledger.nextOfInstructor[i]
  ledger.common = ledger.nextCommon
  ledger.total += difference
  ledger.on.length = 0
  ledger.off.length = 0
}

import type { Model } from './model.ts'

/** A session on the board; `instructor`, `leader`: −1 for none; `cars`: one per student, or one for all, or none. */
export type Placed = {
  format: number
  group: number
  at: number
  instructor: number
  students: number[]
  cars: number[]
  leader: number
  /** Kept as it is: driven, or locked by a person. */
  fixed: boolean
}

/** The state of the search: who and what is busy when, and all sessions. */
export type Board = {
  model: Model
  sessions: Placed[]
  /** 1 where busy: at `student * steps + step`, with the change over after a session. */
  studentBusy: Uint8Array
  instructorBusy: Uint8Array
  /** 1 where a car is out or cooling. */
  carBusy: Uint8Array
  /** Group on the track + 1, and the number of sessions there; cars out. */
  trackGroup: Int16Array
  trackCount: Int16Array
  carsOut: Int16Array
  padBusy: Uint8Array
  classroomBusy: Uint8Array
  /** In use at a step: helmets at `size * steps + step`, radios, loggers. */
  helmetsOut: Int16Array
  radiosOut: Int16Array
  loggersOut: Int16Array
  /** Sessions of each, in the order of their starts. */
  ofStudent: Placed[][]
  ofInstructor: Placed[][]
  ofCar: Placed[][]
  /** Sessions of each student per format, at `student * formats + format`. */
  got: Int16Array
  /** Laps that each student drives. */
  laps: Int16Array
  /** Sessions that people lack. */
  missing: number
}

export const emptyBoard = (model: Model): Board => {
  const { steps, setup } = model
  const { students, instructors, cars, formats } = setup
  return {
    model,
    sessions: [],
    studentBusy: new Uint8Array(students.length * steps),
    instructorBusy: new Uint8Array(instructors.length * steps),
    carBusy: new Uint8Array(cars.length * steps),
    trackGroup: new Int16Array(steps),
    trackCount: new Int16Array(steps),
    carsOut: new Int16Array(steps),
    padBusy: new Uint8Array(steps),
    classroomBusy: new Uint8Array(steps),
    helmetsOut: new Int16Array(model.helmets.length * steps),
    radiosOut: new Int16Array(steps),
    loggersOut: new Int16Array(steps),
    ofStudent: students.map(() => []),
    ofInstructor: instructors.map(() => []),
    ofCar: cars.map(() => []),
    got: new Int16Array(students.length * formats.length),
    laps: new Int16Array(students.length),
    missing: model.wants.reduce((sum, wanted) => sum + wanted, 0),
  }
}

/** Cars that a session takes, its leader's too. */
export const carCount = (session: Placed): number => session.cars.length + (session.leader >= 0 ? 1 : 0)

// A plain loop is quicker than the built-in fill on so few steps.
const fill = (busy: Uint8Array, base: number, from: number, to: number, steps: number, value: number): void => {
  const end = base + Math.min(to, steps)
  for (let t = base + from; t < end; t++) busy[t] = value
}

/** Adds a session to the counts, or takes it off them. */
const count = (board: Board, session: Placed, by: 1 | -1): void => {
  const { model } = board
  const { steps, setup } = model
  const { place, steps: length, change, cars, isDrive } = model.formats[session.format]
  const { at: start } = session
  const end = start + length
  const busy = by === 1 ? 1 : 0
  for (const s of session.students) {
    fill(board.studentBusy, s * steps, start, end + change, steps, busy)
    const at = s * setup.formats.length + session.format
    // One more counts as long as it was wanted.
    if (by === 1 ? board.got[at] < model.wants[at] : board.got[at] <= model.wants[at]) board.missing -= by
    board.got[at] += by
    if (isDrive) board.laps[s] += by * model.laps[session.format * setup.groups.length + session.group]
  }
  if (session.instructor >= 0) fill(board.instructorBusy, session.instructor * steps, start, end, steps, busy)
  for (const car of session.cars) fill(board.carBusy, car * steps, start, end + model.cooling[car], steps, busy)
  if (session.leader >= 0) fill(board.carBusy, session.leader * steps, start, end + model.cooling[session.leader], steps, busy)
  if (place === 'pad') fill(board.padBusy, 0, start, end, steps, busy)
  else if (place === 'classroom') fill(board.classroomBusy, 0, start, end, steps, busy)
  const out = place === 'track' ? by * carCount(session) : 0
  const each = cars === 'each' ? by * session.students.length : 0
  for (let t = start; t < end; t++) {
    if (place === 'track') {
      board.trackCount[t] += by
      board.trackGroup[t] = board.trackCount[t] > 0 ? (by === 1 ? session.group + 1 : board.trackGroup[t]) : 0
      board.radiosOut[t] += each
    }
    board.carsOut[t] += out
    if (isDrive) board.loggersOut[t] += each
  }
  if (cars === 'none') return
  for (const s of session.students) {
    const size = model.helmetOf[s]
    if (size >= 0) for (let t = start; t < end; t++) board.helmetsOut[size * steps + t] += by
  }
}

const drop = (list: Placed[], one: Placed): void => {
  const k = list.indexOf(one)
  if (k < 0) return
  list[k] = list[list.length - 1]
  list.pop()
}

/** Takes one out of a list whose order matters. */
const dropSorted = (list: Placed[], one: Placed): void => {
  const from = list.indexOf(one)
  if (from < 0) return
  for (let k = from + 1; k < list.length; k++) list[k - 1] = list[k]
  list.pop()
}

const addSorted = (list: Placed[], one: Placed): void => {
  let k = list.length
  list.push(one)
  for (; k > 0 && list[k - 1].at > one.at; k--) list[k] = list[k - 1]
  list[k] = one
}

/** Puts a session on the board without asking. */
export const put = (board: Board, session: Placed): void => {
  count(board, session, 1)
  board.sessions.push(session)
  for (const s of session.students) addSorted(board.ofStudent[s], session)
  if (session.instructor >= 0) board.ofInstructor[session.instructor].push(session)
  for (const car of session.cars) addSorted(board.ofCar[car], session)
  if (session.leader >= 0) addSorted(board.ofCar[session.leader], session)
}

/** Takes a session off the board. */
export const takeOff = (board: Board, session: Placed): void => {
  count(board, session, -1)
  drop(board.sessions, session)
  for (const s of session.students) dropSorted(board.ofStudent[s], session)
  if (session.instructor >= 0) drop(board.ofInstructor[session.instructor], session)
  for (const car of session.cars) dropSorted(board.ofCar[car], session)
  if (session.leader >= 0) dropSorted(board.ofCar[session.leader], session)
}

import type { Model } from './model.ts'
import type { FormatKind } from './setup.ts'

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
const carCount = (session: Placed): number => session.cars.length + (session.leader >= 0 ? 1 : 0)

const isFree = (busy: Uint8Array, base: number, from: number, to: number): boolean => {
  for (let t = from; t < to; t++) if (busy[base + t] !== 0) return false
  return true
}

// A plain loop is quicker than the built-in fill on so few steps.
const fill = (busy: Uint8Array, base: number, from: number, to: number, steps: number, value: number): void => {
  const end = base + Math.min(to, steps)
  for (let t = base + from; t < end; t++) busy[t] = value
}

/** Whether the place is open and has room for a session of a group from a step on. */
const placeIsFree = (board: Board, format: number, group: number, at: number): boolean => {
  const { model } = board
  const { steps: length, place } = model.formats[format]
  if (at < model.now || at + length > model.steps) return false
  const open = model.open[place]
  for (let t = at; t < at + length; t++) if (open[t] === 0) return false
  if (place === 'pad') return isFree(board.padBusy, 0, at, at + length)
  if (place === 'classroom') return isFree(board.classroomBusy, 0, at, at + length)
  if (!model.setup.rules.oneGroupOnTrack) return true
  for (let t = at; t < at + length; t++) if (board.trackCount[t] > 0 && board.trackGroup[t] !== group + 1) return false
  return true
}

/** Whether an instructor is there, free, and may teach the group. */
const instructorIsFree = ({ model, instructorBusy }: Board, instructor: number, group: number, at: number, length: number): boolean => {
  const { steps, setup } = model
  if (model.teaches[instructor * setup.groups.length + group] === 0) return false
  for (let t = instructor * steps + at; t < instructor * steps + at + length; t++)
    if (model.instructorOpen[t] === 0 || instructorBusy[t] !== 0) return false
  return true
}

/** Whether a student is there and free for a format at a step, and comes away from a drive early enough. */
export const studentIsFree = ({ model, studentBusy }: Board, student: number, format: number, at: number): boolean => {
  const { steps: length, change, isDrive, fixedAt } = model.formats[format]
  // Held at its time for whoever is there then, and not before it for anybody.
  if (fixedAt >= 0 && at !== fixedAt && (at < fixedAt || model.arrives[student] <= fixedAt)) return false
  if (at < model.arrives[student] || at + length > (isDrive ? model.driveBy[student] : model.leaves[student])) return false
  return isFree(studentBusy, student * model.steps, at, Math.min(model.steps, at + length + change))
}

/** Whether a car can be taken for a session; it cools afterwards, which may last beyond the day. */
const carIsFree = (board: Board, car: number, at: number, length: number): boolean => {
  const { model, carBusy } = board
  const base = car * model.steps
  for (let t = base + at; t < base + at + length; t++) if (model.carOpen[t] === 0 || carBusy[t] !== 0) return false
  return isFree(carBusy, base, at + length, Math.min(model.steps, at + length + model.cooling[car]))
}

/** Whether a car's fuel lasts with one use more: a pause long enough fills the tank. */
const fuelLasts = (board: Board, car: number, session: Placed): boolean => {
  const { model } = board
  const { fuel_laps, refuel_min } = model.setup.cars[car]
  if (fuel_laps === null) return true
  const groups = model.setup.groups.length
  const uses = [...board.ofCar[car], session].sort((a, b) => a.at - b.at)
  const refuel = refuel_min / model.setup.step_min
  let laps = 0
  let end = Number.NEGATIVE_INFINITY
  for (const use of uses) {
    if (use.at - end >= refuel) laps = 0
    laps += model.laps[use.format * groups + use.group]
    if (laps > fuel_laps) return false
    end = use.at + model.formats[use.format].steps
  }
  return true
}

const teachesInCar = ({ model }: Board, instructor: number, car: number): boolean =>
  instructor < 0 || model.teachesIn[instructor * model.setup.cars.length + car] === 1

/**
 * Chooses cars for a session at its place: one that each student may take, or one for all, and the leader's. Cars that they have
 * already are kept where they can be. False where there are none.
 */
const chooseCars = (board: Board, session: Placed): boolean => {
  const { model } = board
  const { cars, steps: length, leaderCar, besides } = model.formats[session.format]
  const count = model.setup.cars.length
  const before = session.cars
  const leaderBefore = session.leader
  session.cars = []
  session.leader = -1
  if (cars === 'none') return true
  const taken = new Set<number>()
  const beside = besides ? session.instructor : -1
  const usable = (car: number): boolean => !taken.has(car) && carIsFree(board, car, session.at, length) && fuelLasts(board, car, session)
  const fits = (car: number, students: readonly number[]): boolean =>
    teachesInCar(board, beside, car) && students.every((s) => model.mayTake[car * model.setup.students.length + s] === 1) && usable(car)
  const give = (k: number): boolean => {
    const whom = cars === 'one' ? session.students : [session.students[k]]
    if (cars === 'one' ? k === 1 : k === session.students.length) return true
    const first = before[k]
    for (let j = first === undefined ? 0 : -1; j < count; j++) {
      const car = j < 0 ? first : j
      if (j >= 0 && car === first) continue
      if (!fits(car, whom)) continue
      taken.add(car)
      session.cars.push(car)
      if (give(k + 1)) return true
      taken.delete(car)
      session.cars.pop()
    }
    return false
  }
  if (!give(0)) {
    session.cars = before
    session.leader = leaderBefore
    return false
  }
  if (!leaderCar) return true
  for (let j = leaderBefore < 0 ? 0 : -1; j < count; j++) {
    const car = j < 0 ? leaderBefore : j
    if (model.mayLead[car] === 0 || !teachesInCar(board, session.instructor, car) || !usable(car)) continue
    session.leader = car
    return true
  }
  session.cars = before
  session.leader = leaderBefore
  return false
}

/** Whether what is lent is enough at the session's place: cars that may be out, helmets, radios, loggers. */
const lentIsEnough = (board: Board, session: Placed): boolean => {
  const { model } = board
  const { rules } = model.setup
  const { place, steps: length, cars, isDrive } = model.formats[session.format]
  if (cars === 'none') return true
  const end = session.at + length
  const out = carCount(session)
  if (place === 'track') for (let t = session.at; t < end; t++) if (board.carsOut[t] + out > model.maxCars[t]) return false
  const each = cars === 'each' ? session.students.length : 0
  if (rules.radios !== null && place === 'track')
    for (let t = session.at; t < end; t++) if (board.radiosOut[t] + each > rules.radios) return false
  if (rules.loggers !== null && isDrive) for (let t = session.at; t < end; t++) if (board.loggersOut[t] + each > rules.loggers) return false
  for (let size = 0; size < model.helmets.length; size++) {
    const wanted = session.students.filter((s) => model.helmetOf[s] === size).length
    if (wanted === 0) continue
    for (let t = session.at; t < end; t++) if (board.helmetsOut[size * model.steps + t] + wanted > model.helmets[size]) return false
  }
  return true
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

/** Whether a student's sessions keep the rules among themselves: rest between drives, order, briefing and sighting first, lunch. */
export const studentKeepsRules = (board: Board, student: number): boolean => {
  const { model } = board
  const rest = model.setup.rules.restBetweenDrives_min / model.setup.step_min
  const order = model.order[model.groupOf[student]]
  const own = board.ofStudent[student]
  let driveEnd = Number.NEGATIVE_INFINITY
  for (const session of own) {
    if (!keepsFirsts(board, student, session)) return false
    const format = model.formats[session.format]
    if (!format.isDrive) continue
    if (session.at - driveEnd < rest) return false
    driveEnd = session.at + format.steps
  }
  for (const [first, second] of order)
    for (const one of own)
      if (one.format === first)
        for (const other of own) if (other.format === second && other.at < one.at + model.formats[first].steps) return false
  return hasLunch(board.studentBusy, student * model.steps, model, model.arrives[student], model.leaves[student])
}

/** Whether what must come before a session has come: the briefing before anything that rolls, the sighting laps before any drive. */
const keepsFirsts = ({ model, ofStudent }: Board, student: number, session: Placed): boolean => {
  const { kind, isDrive, cars } = model.formats[session.format]
  const rolls = cars !== 'none' || kind === 'pad' || kind === 'wet-pad'
  if (rolls && model.needsBriefing[student] === 1 && !came(model, ofStudent[student], 'briefing', session.at)) return false
  return !isDrive || model.needsSighting[student] === 0 || came(model, ofStudent[student], 'sighting', session.at)
}

const came = ({ formats }: Model, own: readonly Placed[], kind: FormatKind, by: number): boolean => {
  for (const session of own) {
    const format = formats[session.format]
    if (format.kind === kind && session.at + format.steps <= by) return true
  }
  return false
}

/** Whether a person has time for lunch; where presence leaves none of the window long enough, none is asked. */
const hasLunch = (busy: Uint8Array, base: number, { lunch }: Pick<Model, 'lunch'>, arrives: number, leaves: number): boolean => {
  if (!lunch) return true
  const [from, to] = [Math.max(lunch.from, arrives), Math.min(lunch.to, leaves)]
  if (to - from < lunch.steps) return true
  let free = 0
  for (let t = from; t < to; t++) {
    free = busy[base + t] === 0 ? free + 1 : 0
    if (free >= lunch.steps) return true
  }
  return false
}

/** Whether an instructor teaches a student's group and speaks to them. */
const teachesStudent = (model: Model, instructor: number, student: number): boolean =>
  model.teaches[instructor * model.setup.groups.length + model.groupOf[student]] === 1 &&
  model.speaks[instructor * model.setup.students.length + student] === 1

/**
 * Puts a session on the board if every hard rule allows it; cars are chosen here. Nothing is changed where it does not fit.
 * Cost: students of the session times its length, and the cars tried.
 */
export const place = (board: Board, session: Placed): boolean => {
  const { model } = board
  const { steps: length, instructor, min, seats } = model.formats[session.format]
  const { students, at } = session
  if (students.length < min || students.length > seats) return false
  if (!placeIsFree(board, session.format, session.group, at)) return false
  if (instructor) {
    if (session.instructor < 0 || !instructorIsFree(board, session.instructor, session.group, at, length)) return false
    for (const s of students) if (!teachesStudent(model, session.instructor, s)) return false
  }
  for (const s of students) if (!studentIsFree(board, s, session.format, at)) return false
  if (!chooseCars(board, session) || !lentIsEnough(board, session)) return false
  put(board, session)
  const { steps } = model
  const kept =
    students.every((s) => studentKeepsRules(board, s)) &&
    (session.instructor < 0 ||
      hasLunch(
        board.instructorBusy,
        session.instructor * steps,
        model,
        model.instructorFrom[session.instructor],
        model.instructorTo[session.instructor],
      ))
  if (!kept) takeOff(board, session)
  return kept
}

import type { FormatKind } from '../day/format-kind.ts'
import { type Board, carCount, type Placed, put, takeOff } from './board.ts'
import type { Model } from './model.ts'

const isFree = (busy: Uint8Array, base: number, from: number, to: number): boolean => {
  for (let t = from; t < to; t++) if (busy[base + t] !== 0) return false
  return true
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
export const teachesStudent = (model: Model, instructor: number, student: number): boolean =>
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

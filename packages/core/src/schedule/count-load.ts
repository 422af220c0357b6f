import { clockOf, minutesOf } from '../day/check-day.ts'
import { type Model, modelOf } from './model.ts'
import type { DaySetup } from './setup.ts'

/** What a day needs of something against what there is of it (min, or sessions of cars), and their share. */
export type Load = { what: 'instructors' | 'track' | 'pad' | 'classroom' | 'cars'; needed_min: number; there_min: number; share: number }

/** What would ease a full day most, by how much the fullest load would fall. */
export type Ease = {
  kind: 'instructor' | 'shorter-rides' | 'longer-day' | 'car' | 'fewer-wants'
  share: number
  minutes?: number
  formatId?: string
}

/** Loads of a day, the fullest first, and what would ease it; counted, not searched. */
export type DayLoad = { loads: Load[]; fullest: number; eases: Ease[] }

/** Loads above this share leave something out, as a rule. */
export const FULL_LOAD = 0.9

/** Sessions that a format needs at least for a group: as many as seats, instructors and cars make waves of. */
type Needed = { format: number; group: number; students: number; sessions: number; atOnce: number }

const neededOf = (model: Model): Needed[] => {
  const { setup, formats } = model
  const found: Needed[] = []
  for (const [f, format] of formats.entries()) {
    if (format.mixed) {
      const students = setup.students.reduce((sum, _, s) => sum + model.wants[s * formats.length + f], 0)
      if (students > 0) found.push({ format: f, group: -1, students, sessions: Math.ceil(students / format.seats), atOnce: 1 })
      continue
    }
    for (let g = 0; g < setup.groups.length; g++) {
      let students = 0
      for (let s = 0; s < setup.students.length; s++) if (model.groupOf[s] === g) students += model.wants[s * formats.length + f]
      if (students === 0) continue
      const teachers = setup.instructors.filter((_, i) => model.teaches[i * setup.groups.length + g] === 1).length
      const carsEach = format.cars === 'each' ? Math.min(format.seats, students) : format.cars === 'one' ? 1 : 0
      const cars = carsEach + (format.leaderCar ? 1 : 0)
      const most = Math.min(model.setup.rules.maxCarsOut ?? Number.POSITIVE_INFINITY, setup.cars.length)
      const byCars = cars > 0 ? Math.max(1, Math.floor(most / cars)) : Number.POSITIVE_INFINITY
      const byInstructors = format.instructor ? Math.max(1, teachers) : Number.POSITIVE_INFINITY
      const sessions = Math.ceil(students / format.seats)
      found.push({ format: f, group: g, students, sessions, atOnce: Math.max(1, Math.min(sessions, byCars, byInstructors)) })
    }
  }
  return found
}

/** Minutes that instructors are there, without breaks and lunch. */
const instructorMinutes = ({ setup, steps, instructorOpen, instructorFrom, instructorTo, lunch }: Model): number => {
  let open = 0
  for (let i = 0; i < setup.instructors.length; i++) {
    for (let t = 0; t < steps; t++) open += instructorOpen[i * steps + t]
    if (lunch && Math.min(lunch.to, instructorTo[i]) - Math.max(lunch.from, instructorFrom[i]) >= lunch.steps) open -= lunch.steps
  }
  return open * setup.step_min
}

/** Loads of a day by its numbers. Cost: people times steps; well under a millisecond. */
export const countLoad = (setup: DaySetup): DayLoad => {
  const loads = loadsOf(setup)
  const fullest = loads[0]?.share ?? 0
  return { loads, fullest, eases: fullest > FULL_LOAD ? easesOf(setup, fullest) : [] }
}

const loadsOf = (setup: DaySetup): Load[] => {
  const model = modelOf(setup)
  const { formats, steps, open } = model
  const step = setup.step_min
  const needed = neededOf(model)
  const length = (n: Needed): number => formats[n.format].steps * step
  const sum = (list: readonly Needed[], of: (n: Needed) => number): number => list.reduce((total, n) => total + of(n), 0)
  const at = (place: 'track' | 'pad' | 'classroom'): Needed[] => needed.filter((n) => formats[n.format].place === place)
  const openMinutes = (place: 'track' | 'pad' | 'classroom'): number => open[place].reduce((total, one) => total + one, 0) * step
  const cooling = setup.cars.length > 0 ? setup.cars.reduce((total, c) => total + c.cooling_min, 0) / setup.cars.length : 0
  const carUses = (n: Needed): number => {
    const { cars, leaderCar } = formats[n.format]
    const each = cars === 'each' ? n.students : cars === 'one' ? n.sessions : 0
    return (each + (leaderCar ? n.sessions : 0)) * (length(n) + cooling)
  }
  // Cars that nobody but their owner takes are no help to others; they are counted with those who take them.
  const carMinutes = model.carOpen.reduce((total, one, k) => total + (open.track[k % steps] === 1 ? one : 0), 0) * step
  // Waves: a session at a time for each group, as many beside each other as people and cars allow.
  const waves = (n: Needed): number => Math.ceil(n.sessions / n.atOnce) * length(n)
  const counted: Omit<Load, 'share'>[] = [
    {
      what: 'instructors',
      needed_min: sum(
        needed.filter((n) => formats[n.format].instructor),
        (n) => n.sessions * length(n),
      ),
      there_min: instructorMinutes(model),
    },
    {
      what: 'track',
      needed_min: setup.rules.oneGroupOnTrack ? sum(at('track'), waves) : Math.max(0, ...at('track').map(waves)),
      there_min: openMinutes('track'),
    },
    { what: 'pad', needed_min: sum(at('pad'), (n) => n.sessions * length(n)), there_min: openMinutes('pad') },
    { what: 'classroom', needed_min: sum(at('classroom'), (n) => n.sessions * length(n)), there_min: openMinutes('classroom') },
    { what: 'cars', needed_min: sum(needed, carUses), there_min: carMinutes },
  ]
  return counted
    .filter((load) => load.needed_min > 0)
    .map((load) => ({ ...load, share: load.there_min > 0 ? load.needed_min / load.there_min : Number.POSITIVE_INFINITY }))
    .sort((a, b) => b.share - a.share)
}

/** A change that would ease a day, and the day as it would be then. */
export type Eased = { ease: Omit<Ease, 'share'>; setup: DaySetup }

const later = (clock: string): string => clockOf(minutesOf(clock) + LONGER_MIN)
/** By how much a day is made longer, and rides shorter (min). */
const LONGER_MIN = 30
const SHORTER_MIN = 5

/** Changes that could ease a day: one more instructor or car, half an hour more, shorter rides, something once less. */
export const easedSetups = (setup: DaySetup): Eased[] => {
  const [instructor] = setup.instructors
  const [car] = setup.cars
  const more = (kind: 'instructor' | 'car', change: Partial<DaySetup>): Eased => ({ ease: { kind }, setup: { ...setup, ...change } })
  return [
    ...(instructor
      ? [more('instructor', { instructors: [...setup.instructors, { ...instructor, id: 'one more', groupIds: [], breaks: [] }] })]
      : []),
    ...(car ? [more('car', { cars: [...setup.cars, { ...car, id: 'one more', groupIds: [], studentIds: [], out: [] }] })] : []),
    {
      ease: { kind: 'longer-day', minutes: LONGER_MIN },
      setup: { ...setup, to: later(setup.to), windows: setup.windows.map((w) => (w.to === setup.to ? { ...w, to: later(w.to) } : w)) },
    },
    ...setup.formats.flatMap((format): Eased[] => {
      const wanted = format.kind !== 'briefing' && setup.groups.some((g) => (g.wants[format.id] ?? 0) > 0)
      const shorter = format.kind === 'ride-along' && format.minutes > 2 * SHORTER_MIN
      const less = setup.groups.map((g) => ({ ...g, wants: { ...g.wants, [format.id]: Math.max(0, (g.wants[format.id] ?? 0) - 1) } }))
      return [
        ...(shorter
          ? [
              {
                ease: { kind: 'shorter-rides' as const, minutes: SHORTER_MIN, formatId: format.id },
                setup: {
                  ...setup,
                  formats: setup.formats.map((f) => (f.id === format.id ? { ...f, minutes: f.minutes - SHORTER_MIN } : f)),
                },
              },
            ]
          : []),
        ...(wanted ? [{ ease: { kind: 'fewer-wants' as const, formatId: format.id }, setup: { ...setup, groups: less } }] : []),
      ]
    }),
  ]
}

/** Each change that would ease the day, the one that helps most first. */
const easesOf = (setup: DaySetup, fullest: number): Ease[] =>
  easedSetups(setup)
    .map(({ ease, setup: eased }) => ({ ...ease, share: loadsOf(eased)[0]?.share ?? 0 }))
    .filter((ease) => ease.share < fullest - 1e-9)
    .sort((a, b) => a.share - b.share)

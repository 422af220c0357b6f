import { type CarOnDay, type DayPlanning, usualCar } from './planning.ts'
import type { Span } from './setup.ts'

/** Kinds of what differs from the usual, as it is known before the day or happens on it. */
export const differenceKinds = [
  'late',
  'leaves',
  'helmet',
  'keep',
  'avoid',
  'car-out',
  'instructor-from',
  'instructor-to',
  'break',
  'track-closed',
  'track-shared',
  'rain',
] as const
export type DifferenceKind = (typeof differenceKinds)[number]

/** Kinds that last from a time to another. */
export const lastingKinds: ReadonlySet<DifferenceKind> = new Set(['car-out', 'break', 'track-closed', 'track-shared', 'rain'])
/** Kinds that hold all day. */
export const timelessKinds: ReadonlySet<DifferenceKind> = new Set(['helmet', 'keep', 'avoid'])

/** Something that differs. `id`: student, instructor or car; `other`: the instructor of a pair, or the size of a helmet. */
export type DayDifference = { kind: DifferenceKind; id: string; other?: string; from: string; to: string; maxCars?: number }

/** The fields of a planning that change when something more differs; none where it would end before it begins. */
export const withDifference = (
  planning: DayPlanning,
  { kind, id, other = '', from, to, maxCars = 1 }: DayDifference,
): Partial<DayPlanning> => {
  if (lastingKinds.has(kind) && from >= to) return {}
  const person = (change: DayPlanning['people'][string]) => ({
    people: { ...planning.people, [id]: { ...planning.people[id], ...change } },
  })
  const before = planning.staff[id] ?? { breaks: [] }
  const staff = (change: Partial<typeof before>) => ({ staff: { ...planning.staff, [id]: { ...before, ...change } } })
  switch (kind) {
    case 'late':
      return person({ arrives: from })
    case 'leaves':
      return person({ leaves: from })
    case 'helmet':
      return person({ helmet: other })
    case 'keep':
    case 'avoid':
      return {
        pairs: [
          ...planning.pairs.filter((p) => p.studentId !== id || p.instructorId !== other),
          { studentId: id, instructorId: other, wish: kind },
        ],
      }
    case 'car-out':
      return { cars: { ...planning.cars, [id]: carOutFrom(planning.cars[id] ?? usualCar, { from, to }) } }
    case 'instructor-from':
      return staff({ from })
    case 'instructor-to':
      return staff({ to: from })
    case 'break':
      return staff({ breaks: joined([...before.breaks, { from, to }]) })
    case 'track-closed':
      return { closed: joined([...planning.closed, { from, to }]) }
    case 'track-shared':
      return { shared: [...planning.shared.filter((s) => s.to <= from || s.from >= to), { from, to, maxCars }] }
    case 'rain':
      return { rain: joined([...planning.rain, { from, to }]) }
  }
}

const carOutFrom = (car: CarOnDay, out: Span): CarOnDay => ({ ...car, out: joined([...car.out, out]) })

/** Spans in order; those that touch or overlap are one, so that saying a thing twice changes nothing. */
const joined = (spans: readonly Span[]): Span[] => {
  const out: Span[] = []
  for (const span of [...spans].sort((a, b) => a.from.localeCompare(b.from))) {
    const last = out.at(-1)
    if (last && span.from <= last.to) out[out.length - 1] = { from: last.from, to: last.to > span.to ? last.to : span.to }
    else out.push(span)
  }
  return out
}

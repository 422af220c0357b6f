import type { LaidExercise, PadExercise } from './exercise.ts'

/** A pad: its length along the first base line and its width along the second (m), and where both meet on the earth, where that is known. */
export type Pad = {
  length_m: number
  width_m: number
  exercises: PadExercise[]
  /** Corner where the base lines meet, and where the first one leads (degrees from north, clockwise). */
  place?: { lat_deg: number; lon_deg: number; bearing_deg: number } | null | undefined
}

/** A pad of the usual size without anything on it. */
export const usualPad: Pad = { length_m: 120, width_m: 70, exercises: [], place: null }

type Point = { x_m: number; y_m: number }

/** What is not safe on a pad; `short_m`: by how much. */
export type PadProblem =
  | { problem: 'edge'; id: string; short_m: number }
  | { problem: 'neighbour'; id: string; otherId: string; short_m: number }

/** Distance of a point to a stretch between two others (m). */
const toStretch = (p: Point, a: Point, b: Point): number => {
  const [dx, dy] = [b.x_m - a.x_m, b.y_m - a.y_m]
  const length2 = dx * dx + dy * dy
  const t = length2 === 0 ? 0 : Math.max(0, Math.min(1, ((p.x_m - a.x_m) * dx + (p.y_m - a.y_m) * dy) / length2))
  return Math.hypot(p.x_m - a.x_m - t * dx, p.y_m - a.y_m - t * dy)
}

const isInside = (p: Point, box: readonly Point[]): boolean =>
  box.every((a, k) => {
    const b = box[(k + 1) % box.length]
    return (b.x_m - a.x_m) * (p.y_m - a.y_m) - (b.y_m - a.y_m) * (p.x_m - a.x_m) >= 0
  })

const crosses = (a: Point, b: Point, c: Point, d: Point): boolean => {
  const side = (p: Point, q: Point, r: Point): number => (q.x_m - p.x_m) * (r.y_m - p.y_m) - (q.y_m - p.y_m) * (r.x_m - p.x_m)
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0
}

/** Distance between two boxes (m); 0 where they touch or one lies in the other. */
export const boxDistance = (one: readonly Point[], other: readonly Point[]): number => {
  const edges = (box: readonly Point[]): (readonly [Point, Point])[] => box.map((a, k) => [a, box[(k + 1) % box.length]] as const)
  if (one.some((p) => isInside(p, other)) || other.some((p) => isInside(p, one))) return 0
  if (edges(one).some(([a, b]) => edges(other).some(([c, d]) => crosses(a, b, c, d)))) return 0
  const least = (points: readonly Point[], box: readonly Point[]): number =>
    Math.min(...points.flatMap((p) => edges(box).map(([a, b]) => toStretch(p, a, b))))
  return Math.min(least(one, other), least(other, one))
}

/**
 * Whether every exercise keeps its run-off to every edge of the pad and to every other exercise (the larger of both). Cost: exercises
 * squared.
 */
export const checkPad = ({ length_m, width_m }: Pick<Pad, 'length_m' | 'width_m'>, laid: readonly LaidExercise[]): PadProblem[] => {
  const found: PadProblem[] = []
  for (const [k, { exercise, box, runOff_m }] of laid.entries()) {
    const room_m = Math.min(...box.flatMap((p) => [p.x_m, p.y_m, length_m - p.x_m, width_m - p.y_m]))
    if (room_m < runOff_m) found.push({ problem: 'edge', id: exercise.id, short_m: runOff_m - room_m })
    for (const other of laid.slice(k + 1)) {
      const needed_m = Math.max(runOff_m, other.runOff_m)
      const between_m = boxDistance(box, other.box)
      if (between_m < needed_m)
        found.push({ problem: 'neighbour', id: exercise.id, otherId: other.exercise.id, short_m: needed_m - between_m })
    }
  }
  return found
}

/** Distance between places that are tried for a new exercise (m). */
const TRIED_M = 5

/**
 * A place for a new exercise on a pad: the first at which it is safe, along the pad or across it; where there is none, the one at which the
 * least is short. Cost: places tried times exercises.
 */
export const placeOnPad = (
  pad: Pick<Pad, 'length_m' | 'width_m'>,
  laid: readonly LaidExercise[],
  lay: (place: { x_m: number; y_m: number; turn_deg: number }) => LaidExercise,
): { x_m: number; y_m: number; turn_deg: number } => {
  let best = { x_m: Math.round(pad.length_m / 2), y_m: Math.round(pad.width_m / 2), turn_deg: 0 }
  let least = Number.POSITIVE_INFINITY
  for (const turn_deg of [0, 90])
    for (let y_m = 0; y_m <= pad.width_m; y_m += TRIED_M)
      for (let x_m = 0; x_m <= pad.length_m; x_m += TRIED_M) {
        const place = { x_m, y_m, turn_deg }
        const one = lay(place)
        const short_m = checkPad(pad, [...laid, one])
          .filter((p) => p.id === one.exercise.id || (p.problem === 'neighbour' && p.otherId === one.exercise.id))
          .reduce((sum, p) => sum + p.short_m, 0)
        if (short_m === 0) return place
        if (short_m < least) {
          least = short_m
          best = place
        }
      }
  return best
}

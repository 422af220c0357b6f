import type { Circuit } from '../circuit/circuit.ts'
import { placeOn } from '../circuit/place.ts'
import { CoreError } from '../errors/errors.ts'
import { quantile } from '../solve/robust.ts'

/** Places in local metres, as a simulator writes them. */
type LocalPath = { x_m: Float64Array; y_m: Float64Array }

/** How local coordinates lie on a circuit's: mirrored or not, turned, and shifted (m). */
type Lie = { mirror: 1 | -1; cos: number; sin: number; shiftX_m: number; shiftY_m: number }

/** Spacing at which the way is laid on the circuit (m). */
const EVERY_M = 10
/** A step between two readings longer than this is a gap (m). */
const GAP_M = 100
/** Length over which the way's direction is taken (points to either side). */
const LOOK = 2
/** Coordinates that lie this near to the road are the circuit's own (m past its edges, share of the points). */
const OWN = { beyond_m: 3, share: 0.9 } as const
/** Three of four points lie within this of the circuit's middle line, or the way is another one (m past the edges). */
const FITS_M = 8
const ROUNDS = 40

const laid = ({ mirror, cos, sin, shiftX_m, shiftY_m }: Lie, x: number, y: number): [number, number] => [
  cos * x - sin * mirror * y + shiftX_m,
  sin * x + cos * mirror * y + shiftY_m,
]

/**
 * Local coordinates on a circuit's plane. Where they are the circuit's own, either handed, they are taken as they are; else the way
 * is laid on the circuit by its shape: how it bends along a lap, in either hand, tells where it begins; least squares to nearest
 * points tell how it lies. Cost: linear in points, and one comparison of two laps point by point.
 * @throws CoreError 'log-elsewhere' where it fits nowhere
 */
export const localPlaces = (circuit: Circuit, path: LocalPath): LocalPath => {
  const points = thinned(path)
  if (points.length < 40) throw new CoreError('log-elsewhere', 'row 2', { distance_m: 0 })
  const own = ([1, -1] as const)
    .map((mirror): Lie => ({ mirror, cos: 1, sin: 0, shiftX_m: 0, shiftY_m: 0 }))
    .find((lie) => beyondEdges(circuit, lie, points, 1 - OWN.share) < OWN.beyond_m)
  const lie = own ?? bestLie(circuit, points)
  const out: LocalPath = { x_m: new Float64Array(path.x_m.length), y_m: new Float64Array(path.x_m.length) }
  for (let i = 0; i < path.x_m.length; i++) [out.x_m[i], out.y_m[i]] = laid(lie, path.x_m[i], path.y_m[i])
  return out
}

type Point = readonly [number, number]

/** Points of a path every ten metres of its way; those without a place are left out. */
const thinned = ({ x_m, y_m }: LocalPath): Point[] => {
  const out: Point[] = []
  let last: Point | null = null
  let due_m = 0
  for (let i = 0; i < x_m.length; i++) {
    const here: Point = [x_m[i], y_m[i]]
    if (!Number.isFinite(here[0]) || !Number.isFinite(here[1])) continue
    const from = last ?? here
    const length_m = Math.hypot(here[0] - from[0], here[1] - from[1])
    // A step longer than a car can go in a second is a gap, and no way.
    if (length_m > GAP_M) due_m = length_m
    for (; due_m <= length_m && (length_m > 0 || out.length === 0); due_m += EVERY_M) {
      const share = length_m > 0 ? due_m / length_m : 0
      out.push([from[0] + share * (here[0] - from[0]), from[1] + share * (here[1] - from[1])])
    }
    due_m -= length_m
    last = here
  }
  return out
}

/** Distance past the edges that all but a share of the points keep (m). */
const beyondEdges = (circuit: Circuit, lie: Lie, points: readonly Point[], share: number): number => {
  const stride = Math.max(1, Math.floor(points.length / 400))
  const beyond = points
    .filter((_, i) => i % stride === 0)
    .map(([x, y]) => {
      const [px, py] = laid(lie, x, y)
      const { station_m, offset_m } = placeOn(circuit, px, py)
      const i = Math.min(Math.floor(station_m / circuit.step_m), circuit.count - 1)
      const away = Math.max(Math.abs(offset_m), Math.hypot(px - circuit.x_m[i], py - circuit.y_m[i]) - 2 * circuit.step_m)
      return away - (offset_m > 0 ? circuit.widthLeft_m[i] : circuit.widthRight_m[i])
    })
  return quantile(beyond, 1 - share)
}

/** Change of direction at each point of a way, over some points to either side (rad). */
const bendsOf = (points: readonly Point[], closed: boolean): Float64Array => {
  const n = points.length
  const at = (i: number): Point => points[closed ? ((i % n) + n) % n : Math.min(n - 1, Math.max(0, i))]
  return Float64Array.from({ length: n }, (_, i) => {
    const [a, b, c] = [at(i - LOOK), at(i), at(i + LOOK)]
    const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]]
    return Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy)
  })
}

/** The lie for which a way follows the circuit best, in either hand. */
const bestLie = (circuit: Circuit, points: readonly Point[]): Lie => {
  const count = Math.max(16, Math.round(circuit.length_m / EVERY_M))
  const road = Array.from({ length: count }, (_, k): Point => {
    const i = Math.min(circuit.count - 1, Math.round((k * circuit.length_m) / count / circuit.step_m))
    return [circuit.x_m[i], circuit.y_m[i]]
  })
  const bends = bendsOf(road, true)
  // A lap's worth out of the middle of the drive, away from the pits.
  const size = Math.min(points.length, count)
  const from = Math.max(0, (points.length - size) >> 1)
  const lap = points.slice(from, from + size)
  const driven = bendsOf(lap, false)
  const tried = ([1, -1] as const).flatMap((mirror) =>
    likeliestStarts(bends, driven, mirror).map((start) => {
      const pairs = lap.map((p, k): [Point, Point] => [p, road[(start + k) % count]])
      return refined(circuit, points, lieOf(pairs, mirror))
    }),
  )
  const scored = tried.map((lie) => ({ lie, beyond_m: beyondEdges(circuit, lie, points, 0.25) }))
  const best = scored.reduce((a, b) => (a.beyond_m <= b.beyond_m ? a : b))
  if (!(best.beyond_m < FITS_M)) throw new CoreError('log-elsewhere', 'row 2', { distance_m: Math.round(best.beyond_m) })
  return best.lie
}

/** The few points of the circuit from which it bends most as a way does. */
const likeliestStarts = (road: Float64Array, driven: Float64Array, mirror: 1 | -1): number[] => {
  const scores = Array.from(road, (_, start) => {
    let sum = 0
    for (let k = 0; k < driven.length; k++) sum += mirror * driven[k] * road[(start + k) % road.length]
    return { start, sum }
  })
  return scores
    .sort((a, b) => b.sum - a.sum)
    .slice(0, 3)
    .map(({ start }) => start)
}

/** The lie that brings points nearest to their partners. Source: least squares of a turn and a shift in the plane (Kabsch 1976). */
const lieOf = (pairs: readonly (readonly [Point, Point])[], mirror: 1 | -1): Lie => {
  const n = pairs.length
  const mean = (of: (pair: readonly [Point, Point]) => number): number => pairs.reduce((sum, pair) => sum + of(pair), 0) / n
  const [px, py] = [mean(([p]) => p[0]), mean(([p]) => mirror * p[1])]
  const [qx, qy] = [mean(([, q]) => q[0]), mean(([, q]) => q[1])]
  let dot = 0
  let cross = 0
  for (const [p, q] of pairs) {
    const [ax, ay, bx, by] = [p[0] - px, mirror * p[1] - py, q[0] - qx, q[1] - qy]
    dot += ax * bx + ay * by
    cross += ax * by - ay * bx
  }
  const size = Math.hypot(dot, cross) || 1
  const [cos, sin] = [dot / size, cross / size]
  return { mirror, cos, sin, shiftX_m: qx - cos * px + sin * py, shiftY_m: qy - sin * px - cos * py }
}

/** A lie made better by nearest points on the road's middle, time and again; points far off say nothing. */
const refined = (circuit: Circuit, points: readonly Point[], first: Lie): Lie => {
  const stride = Math.max(1, Math.floor(points.length / 800))
  const used = points.filter((_, i) => i % stride === 0)
  let lie = first
  for (let round = 0; round < ROUNDS; round++) {
    const reach_m = Math.max(12, 60 - 5 * round)
    const pairs = used.flatMap((p): [Point, Point][] => {
      const [x, y] = laid(lie, p[0], p[1])
      const { station_m } = placeOn(circuit, x, y)
      const i = Math.min(Math.round(station_m / circuit.step_m), circuit.count - 1)
      const q: Point = [circuit.x_m[i], circuit.y_m[i]]
      return Math.hypot(x - q[0], y - q[1]) < reach_m ? [[p, q]] : []
    })
    if (pairs.length < used.length / 4) return lie
    const next = lieOf(pairs, lie.mirror)
    const moved = Math.hypot(next.shiftX_m - lie.shiftX_m, next.shiftY_m - lie.shiftY_m) + 100 * Math.abs(next.sin - lie.sin)
    lie = next
    if (moved < 0.02) break
  }
  return lie
}

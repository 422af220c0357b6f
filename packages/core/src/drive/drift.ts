import type { Circuit } from '../circuit/circuit.ts'
import type { Lap } from '../log/laps.ts'
import { median, spread } from '../solve/robust.ts'
import { stationOf, type Trajectory } from './trajectory.ts'

/** Time between the places at which drift is estimated (s), and how long a receiver remembers its error (s). */
const KNOT_S = 2.5
export const MEMORY_S = 20
/** Spacing at which the path is sampled, and the length over which a driver's own wander persists (m). */
const EVERY_M = 10
const WANDER_M = 40
/** In corners laps differ by what was driven; they say this much about the receiver. */
const CORNER_WEIGHT = 0.3
/** No driver keeps a straight better than this (m). */
const MIN_WANDER_M = 0.1
const MAX_ITERATIONS = 5
const SWEEPS = 30

/** Distance between laps on straights: as logged, and with the drift removed (standard deviations, m). */
export type DriftOutcome = { drift_m: number; rest_m: number }

/**
 * Removes the slow drift of a receiver from a trajectory's offsets, in place. Laps of one drive are compared with their own
 * median at each station; what is slow in time and alike in direction over the ground is the receiver's, what comes and goes
 * within a corner is the driver's. A first-order Gauss–Markov drift of two components at knots, fitted by least squares with
 * weights that fade for what lies far off (Student's t). One lap alone shows no drift and is left as it is. `straight`: 1 at
 * stations away from corners. Cost: linear in the distance driven.
 */
export const takeDriftOut = (circuit: Circuit, trajectory: Trajectory, laps: readonly Lap[], straight: Uint8Array): DriftOutcome => {
  const middle = medianPath(circuit, trajectory, laps)
  if (laps.length < 2) return { drift_m: 0, rest_m: 0 }
  const stride = Math.max(1, Math.round(EVERY_M / trajectory.step_m))
  // Across the road, over the ground: once a station, not once a metre driven.
  const east = circuit.heading_rad.map((heading) => -Math.sin(heading))
  const north = circuit.heading_rad.map(Math.cos)
  const seen: Seen[] = []
  for (let i = 0; i < trajectory.time_s.length; i += stride) {
    const at = stationOf(circuit, trajectory, i)
    if (trajectory.known[i] === 0 || !Number.isFinite(middle[at])) continue
    seen.push({
      i,
      knot: (trajectory.time_s[i] - trajectory.time_s[0]) / KNOT_S,
      east: east[at],
      north: north[at],
      separation_m: trajectory.offset_m[i] - middle[at],
      share: straight[at] === 1 ? 1 : CORNER_WEIGHT,
    })
  }
  const onStraights = seen.filter((s) => s.share === 1)
  // Each lap is part of the median that it is held against.
  const inflate = Math.sqrt(laps.length / (laps.length - 1))
  const drift_m = inflate * spread(onStraights.map((s) => s.separation_m))
  const drift = fitDrift(
    seen,
    Math.max(0.02, drift_m),
    Math.ceil((trajectory.time_s[trajectory.time_s.length - 1] - trajectory.time_s[0]) / KNOT_S) + 2,
  )
  const rest = (s: Seen): number => s.separation_m - drift(s.knot, s.east, s.north)
  const rest_m = inflate * spread(onStraights.map(rest))
  for (let i = 0; i < trajectory.time_s.length; i++) {
    const at = stationOf(circuit, trajectory, i)
    trajectory.offset_m[i] -= drift((trajectory.time_s[i] - trajectory.time_s[0]) / KNOT_S, east[at], north[at])
  }
  return { drift_m, rest_m }
}

/** A look at the path: how far it lies from the median (m), at which time in knots, in which direction across the road. */
type Seen = { i: number; knot: number; east: number; north: number; separation_m: number; share: number }

/** The median offset of all laps at each station, NaN where none is known. */
const medianPath = (circuit: Circuit, trajectory: Trajectory, laps: readonly Lap[]): Float64Array => {
  const out = new Float64Array(circuit.count).fill(Number.NaN)
  const starts = laps.map((lap) => lap.from * circuit.count - trajectory.first)
  for (let at = 0; at < circuit.count; at++) {
    const values: number[] = []
    for (const start of starts) {
      const i = start + at
      if (i >= 0 && i < trajectory.offset_m.length && trajectory.known[i] === 1) values.push(trajectory.offset_m[i])
    }
    if (values.length > 0) out[at] = median(values)
  }
  return out
}

/** Normal equations of a knot's two components, and what links them to the next knot's. */
type Equation = { ee: number; en: number; nn: number; be: number; bn: number; linkEe: number; linkEn: number; linkNn: number }

/** Adds a look at the path to the equations of a knot that has this share in it. */
const addLook = (q: Equation, { east, north, separation_m }: Seen, weight: number, share: number): void => {
  q.ee += weight * share * share * east * east
  q.en += weight * share * share * east * north
  q.nn += weight * share * share * north * north
  q.be += weight * share * east * separation_m
  q.bn += weight * share * north * separation_m
}

/** Drift (m) at knots, with its persistence from knot to knot. */
type KnotDrift = { east: Float64Array; north: Float64Array; keep: number; fresh: number; sigma_m: number }

/** Drift in a direction at a time in knots, linear between knots. */
const driftAcross = ({ east, north }: KnotDrift, knot: number, e: number, n: number): number => {
  const k = Math.min(Math.floor(knot), east.length - 2)
  const f = knot - k
  return ((1 - f) * east[k] + f * east[k + 1]) * e + ((1 - f) * north[k] + f * north[k + 1]) * n
}

/** Fits the drift (m) at knots; returns it in a direction at a time in knots. */
const fitDrift = (seen: readonly Seen[], sigma_m: number, knots: number): ((knot: number, east: number, north: number) => number) => {
  const keep = Math.exp(-KNOT_S / MEMORY_S)
  const fresh = 1 / (sigma_m * sigma_m * (1 - keep * keep))
  const drift: KnotDrift = { east: new Float64Array(knots), north: new Float64Array(knots), keep, fresh, sigma_m }
  for (let round = 0; round < MAX_ITERATIONS; round++) {
    const rest = seen.map((s) => s.separation_m - driftAcross(drift, s.knot, s.east, s.north))
    const scale = Math.max(MIN_WANDER_M, round === 0 ? 0.5 * sigma_m : spread(rest.filter((_, j) => seen[j].share === 1)))
    const equations = driftEquations(drift, seen, rest, scale)
    for (let sweep = 0; sweep < SWEEPS; sweep++) sweepKnots(drift, equations)
  }
  return (knot, e, n) => driftAcross(drift, knot, e, n)
}

/** Normal equations of all knots: the looks at the path, weighted by how far off they lie, and the drift's own memory. */
const driftEquations = (
  { east, keep, fresh, sigma_m }: KnotDrift,
  seen: readonly Seen[],
  rest: readonly number[],
  scale: number,
): Equation[] => {
  const knots = east.length
  const equations = Array.from({ length: knots }, (): Equation => ({ ee: 0, en: 0, nn: 0, be: 0, bn: 0, linkEe: 0, linkEn: 0, linkNn: 0 }))
  seen.forEach((s, j) => {
    const weight = ((s.share * EVERY_M) / WANDER_M / (scale * scale)) * (4 / (3 + (rest[j] / scale) ** 2))
    const k = Math.min(Math.floor(s.knot), knots - 2)
    const f = s.knot - k
    const q = equations[k]
    addLook(q, s, weight, 1 - f)
    addLook(equations[k + 1], s, weight, f)
    q.linkEe += weight * f * (1 - f) * s.east * s.east
    q.linkEn += weight * f * (1 - f) * s.east * s.north
    q.linkNn += weight * f * (1 - f) * s.north * s.north
  })
  equations.forEach((q, k) => {
    const prior = (k === 0 ? 1 / (sigma_m * sigma_m) : fresh) + (k + 1 < knots ? keep * keep * fresh : 0)
    q.ee += prior
    q.nn += prior
  })
  return equations
}

/** One Gauss–Seidel sweep: neighbours couple through the drift's memory and the looks between them. */
const sweepKnots = ({ east, north, keep, fresh }: KnotDrift, equations: readonly Equation[]): void => {
  const knots = east.length
  for (let k = 0; k < knots; k++) {
    const q = equations[k]
    let be = q.be
    let bn = q.bn
    if (k > 0) {
      const link = equations[k - 1]
      be += keep * fresh * east[k - 1] - link.linkEe * east[k - 1] - link.linkEn * north[k - 1]
      bn += keep * fresh * north[k - 1] - link.linkEn * east[k - 1] - link.linkNn * north[k - 1]
    }
    if (k + 1 < knots) {
      be += keep * fresh * east[k + 1] - q.linkEe * east[k + 1] - q.linkEn * north[k + 1]
      bn += keep * fresh * north[k + 1] - q.linkEn * east[k + 1] - q.linkNn * north[k + 1]
    }
    const determinant = q.ee * q.nn - q.en * q.en
    east[k] = (q.nn * be - q.en * bn) / determinant
    north[k] = (q.ee * bn - q.en * be) / determinant
  }
}

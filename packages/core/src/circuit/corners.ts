import { averageRound } from './average.ts'
import type { Circuit } from './circuit.ts'
import { distanceAhead, stationIndex } from './station.ts'

/** Shapes of corners. */
export type CornerShape = 'hairpin' | 'square' | 'sweeper' | 'kink' | 'tightening' | 'opening' | 'double-apex'

/** A corner as found from curvature. It runs from `start_m` to `end_m`, over the start line where end is less than start. */
export type Corner = {
  /** Stable name within a circuit: T1, T2, … in order of travel. */
  id: string
  name: string
  side: 'left' | 'right'
  shape: CornerShape
  start_m: number
  end_m: number
  /** Station of greatest curvature. */
  peak_m: number
  /** Least radius of the centreline (m). */
  radius_m: number
  /** Total change of heading (rad, positive). */
  turn_rad: number
}

/**
 * Thresholds of corner finding. Curvature is averaged over `window_m`; a corner begins where it passes `enter_1pm` and
 * reaches back and on to `leave_1pm`; neighbours of one sign closer than `join_m` become one; a corner that turns less
 * than `minTurn_rad` is left out.
 */
const cornerDefaults = {
  window_m: 12,
  enter_1pm: 1 / 220,
  leave_1pm: 1 / 450,
  join_m: 22,
  minTurn_rad: 0.14,
} as const

/** Overrides of {@link cornerDefaults}. */
export type CornerOptions = Partial<Record<keyof typeof cornerDefaults, number>>

type Span = { from: number; to: number; sign: number }

/** Finds, numbers and types the corners of a circuit in order of travel from the start line. */
export const findCorners = (circuit: Circuit, options: CornerOptions = {}): Corner[] => {
  const settings = { ...cornerDefaults, ...options }
  const kappa = smoothKappa(circuit, settings.window_m)
  const spans = joinNeighbours(findSpans(kappa, settings), settings.join_m / circuit.step_m)
  const corners = spans.map((span) => describeCorner(circuit, kappa, span)).filter((c) => c.turn_rad >= settings.minTurn_rad)
  corners.sort((a, b) => a.peak_m - b.peak_m)
  return corners.map((corner, i) => ({ ...corner, id: `T${i + 1}`, name: `T${i + 1}` }))
}

/** Curvature averaged over a window. */
const smoothKappa = (circuit: Circuit, window_m: number): Float64Array =>
  averageRound(circuit.kappa_1pm, Math.max(1, Math.floor(Math.round(window_m / circuit.step_m) / 2)))

/** The corner of given limits, without id and name: its side is that of its total turn. */
export const describeSpan = (circuit: Circuit, start_m: number, end_m: number): Corner => {
  const from = stationIndex(circuit, start_m + circuit.step_m / 2)
  const to = from + Math.max(1, Math.round(distanceAhead(start_m, end_m, circuit.length_m) / circuit.step_m))
  let turn = 0
  for (let i = from; i <= to; i++) turn += circuit.kappa_1pm[i % circuit.count]
  return describeCorner(circuit, smoothKappa(circuit, cornerDefaults.window_m), { from, to, sign: Math.sign(turn) })
}

/** Spans of stations by hysteresis, indices counted on past the start line; starts at a straight station. */
const findSpans = (kappa: Float64Array, settings: { enter_1pm: number; leave_1pm: number }): Span[] => {
  const n = kappa.length
  const straight = kappa.findIndex((k) => Math.abs(k) < settings.leave_1pm)
  if (straight < 0) return [{ from: 0, to: n - 1, sign: Math.sign(kappa[0]) }]
  const spans: Span[] = []
  let from = -1
  let entered = false
  const at = (i: number): number => kappa[i % n]
  for (let i = straight; i <= straight + n; i++) {
    const bends = Math.abs(at(i)) >= settings.leave_1pm
    const turnedRound = from >= 0 && Math.sign(at(i)) !== Math.sign(at(from))
    if (from >= 0 && (!bends || turnedRound)) {
      if (entered) spans.push({ from, to: i - 1, sign: Math.sign(at(from)) })
      from = -1
      entered = false
    }
    if (bends && from < 0) from = i
    if (from >= 0 && Math.abs(at(i)) >= settings.enter_1pm) entered = true
  }
  return spans
}

const joinNeighbours = (spans: Span[], gap: number): Span[] => {
  const out: Span[] = []
  for (const span of spans) {
    const last = out.at(-1)
    if (last && last.sign === span.sign && span.from - last.to <= gap) last.to = span.to
    else out.push({ ...span })
  }
  return out
}

const describeCorner = (circuit: Circuit, kappa: Float64Array, span: Span): Corner => {
  const n = circuit.count
  let peak = span.from
  let turn_rad = 0
  let weight = 0
  let moment = 0
  for (let i = span.from; i <= span.to; i++) {
    if (Math.abs(kappa[i % n]) > Math.abs(kappa[peak % n])) peak = i
    turn_rad += circuit.kappa_1pm[i % n] * circuit.step_m
    weight += kappa[i % n] ** 2
    moment += kappa[i % n] ** 2 * (i - span.from)
  }
  const start_m = circuit.s_m[span.from % n]
  const end_m = circuit.s_m[span.to % n]
  const centreShare = moment / (weight * Math.max(1, span.to - span.from))
  const radius_m = 1 / Math.abs(kappa[peak % n])
  return {
    id: '',
    name: '',
    side: span.sign > 0 ? 'left' : 'right',
    shape: hasTwoApexes(kappa, span, peak) ? 'double-apex' : shapeOf(Math.abs(turn_rad), radius_m, centreShare),
    start_m,
    end_m,
    peak_m: circuit.s_m[peak % n],
    radius_m,
    turn_rad: Math.abs(turn_rad),
  }
}

const shapeOf = (turn_rad: number, radius_m: number, centreShare: number): CornerShape => {
  if (turn_rad < 0.5) return 'kink'
  if (turn_rad > 2.4 && radius_m < 40) return 'hairpin'
  if (centreShare > 0.58) return 'tightening'
  if (centreShare < 0.42) return 'opening'
  return radius_m > 75 ? 'sweeper' : 'square'
}

/** Curvature has to fall to this share of the lesser peak, and that peak to reach this share of the greater, for two apexes. */
const DOUBLE = { dip: 0.75, lesser: 0.55 } as const

const hasTwoApexes = (kappa: Float64Array, span: Span, peak: number): boolean => {
  const at = (i: number): number => Math.abs(kappa[i % kappa.length])
  const beyond = (step: 1 | -1): boolean => {
    let min = at(peak)
    for (let i = peak; i >= span.from && i <= span.to; i += step) {
      min = Math.min(min, at(i))
      if (at(i) >= DOUBLE.lesser * at(peak) && min < DOUBLE.dip * at(i)) return true
    }
    return false
  }
  return beyond(1) || beyond(-1)
}

/** The corner of an id; undefined where there is none. */
export const cornerOf = <C extends { id: string }>(corners: readonly C[], id: string | null | undefined): C | undefined =>
  corners.find((corner) => corner.id === id)

/** The name of a corner, or `otherwise` (its id) where there is none. */
export const cornerName = (
  corners: readonly { id: string; name: string }[],
  id: string | null | undefined,
  otherwise: string = id ?? '',
): string => cornerOf(corners, id)?.name ?? otherwise

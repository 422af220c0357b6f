import { CoreError } from '../errors/errors.ts'
import type { Circuit } from './circuit.ts'
import { evaluateInterval, evaluateSpline, findInterval, naturalSpline, type PeriodicSpline, periodicSpline } from './periodic-spline.ts'
import { smoothSurvey } from './smooth.ts'
import { checkCrossing, checkSurvey, type Survey, thinSurvey } from './survey.ts'

/** Settings of {@link buildCircuit}. `step_m`: wanted spacing of stations, rounded so that a whole number fits; by default 2 m, less where the road bends tightly. */
export type CircuitOptions = { step_m?: number }
/** Spacing of stations, and the least one where the road bends tightly (m). */
const STEP_M = 2
const MIN_STEP_M = 0.5
/** Stations for each radian of the tightest bend: fewer cost the fast line more than 0.2 % of the lap. */
const STATIONS_A_RADIAN = 8
/** A bend counts by its mean curvature over this length (m): noise in single points is none. */
const BEND_M = 6
// Five-point Gauss–Legendre nodes and weights on [−1, 1] (Abramowitz & Stegun, table 25.4).
const gaussNodes = [-0.906179845938664, -0.5384693101056831, 0, 0.5384693101056831, 0.906179845938664]
const gaussWeights = [0.2369268850561891, 0.4786286704993665, 0.5688888888888889, 0.4786286704993665, 0.2369268850561891]
const speedAt = (fx: PeriodicSpline, fy: PeriodicSpline, i: number, t: number): number =>
  Math.hypot(evaluateInterval(fx, i, t).dy, evaluateInterval(fy, i, t).dy)
const arcLength = (fx: PeriodicSpline, fy: PeriodicSpline, i: number, from: number, to: number): number => {
  const half = (to - from) / 2
  const middle = (to + from) / 2
  let sum = 0
  for (let k = 0; k < 5; k++) sum += gaussWeights[k] * speedAt(fx, fy, i, middle + half * gaussNodes[k])
  return sum * half
}

/**
 * Resamples a survey, freed of its noise, to even stations with periodic cubic splines: plan by chord length, height and bank by station,
 * widths linearly. Curvature comes from the spline's own derivatives.
 * @throws CoreError when the survey cannot be a circuit, or a bend is tighter than the road is wide on its inside
 */
export const buildCircuit = (raw: Survey, options: CircuitOptions = {}): Circuit => {
  checkSurvey(raw)
  const survey = smoothSurvey(thinSurvey(raw))
  checkCrossing(survey)
  if (options.step_m !== undefined) return resampled(survey, options.step_m)
  const circuit = resampled(survey, STEP_M)
  const step_m = Math.max(MIN_STEP_M, tightestRadius(circuit) / STATIONS_A_RADIAN)
  return step_m < STEP_M ? resampled(survey, step_m) : circuit
}

/** Radius of the tightest bend, by mean curvature over some metres (m). */
const tightestRadius = ({ kappa_1pm, count, step_m }: Circuit): number => {
  const window = Math.max(1, Math.round(BEND_M / step_m))
  let most = 0
  for (let i = 0; i + window <= count; i++) {
    let sum = 0
    for (let j = 0; j < window; j++) sum += Math.abs(kappa_1pm[i + j])
    most = Math.max(most, sum / window)
  }
  return 1 / most
}

/** A smoothed survey at even stations. */
const resampled = (survey: Survey, wanted_m: number): Circuit => {
  const n = survey.x_m.length
  const open = survey.open === true
  const intervals = open ? n - 1 : n
  const spline = open ? naturalSpline : periodicSpline
  const t = new Float64Array(intervals + 1)
  for (let i = 0; i < intervals; i++) {
    const j = i === n - 1 ? 0 : i + 1
    t[i + 1] = t[i] + Math.hypot(survey.x_m[j] - survey.x_m[i], survey.y_m[j] - survey.y_m[i])
  }
  const fx = spline(t, survey.x_m)
  const fy = spline(t, survey.y_m)
  const knot_s = new Float64Array(intervals + 1)
  for (let i = 0; i < intervals; i++) knot_s[i + 1] = knot_s[i] + arcLength(fx, fy, i, t[i], t[i + 1])
  const length_m = knot_s[intervals]
  const fz = spline(knot_s, survey.z_m)
  const fBank = spline(knot_s, survey.bank_rad)

  const circuit = emptyCircuit(survey, length_m, Math.max(8, Math.round(length_m / wanted_m)))
  const { count, step_m } = circuit
  for (let k = 0; k < count; k++) {
    const s = Math.min(k * step_m, length_m)
    const i = findInterval(knot_s, s)
    const at = parameterAt(fx, fy, i, s - knot_s[i])
    const px = evaluateInterval(fx, i, at)
    const py = evaluateInterval(fy, i, at)
    const speed = Math.hypot(px.dy, py.dy)
    const share = (s - knot_s[i]) / (knot_s[i + 1] - knot_s[i])
    const j = i === n - 1 ? 0 : i + 1
    const height = evaluateSpline(fz, s)
    circuit.s_m[k] = s
    circuit.x_m[k] = px.y
    circuit.y_m[k] = py.y
    circuit.z_m[k] = height.y
    circuit.heading_rad[k] = Math.atan2(py.dy, px.dy)
    circuit.kappa_1pm[k] = (px.dy * py.ddy - py.dy * px.ddy) / speed ** 3
    circuit.widthLeft_m[k] = survey.widthLeft_m[i] * (1 - share) + survey.widthLeft_m[j] * share
    circuit.widthRight_m[k] = survey.widthRight_m[i] * (1 - share) + survey.widthRight_m[j] * share
    if (circuit.widthGiven) circuit.widthGiven[k] = Math.min(survey.widthGiven?.[i] ?? 0, survey.widthGiven?.[j] ?? 0)
    circuit.bank_rad[k] = evaluateSpline(fBank, s).y
    circuit.grade_rad[k] = Math.atan(height.dy)
    circuit.kappaVertical_1pm[k] = height.ddy
    checkInsideRadius(circuit, k)
  }
  return circuit
}

/** A circuit of a survey's name and place, with columns still at 0; an open one has a station more than steps. */
const emptyCircuit = (survey: Survey, length_m: number, steps: number): Circuit => {
  const count = survey.open ? steps + 1 : steps
  const column = (): Float64Array => new Float64Array(count)
  return {
    name: survey.name,
    length_m,
    step_m: length_m / steps,
    count,
    s_m: column(),
    x_m: column(),
    y_m: column(),
    z_m: column(),
    heading_rad: column(),
    kappa_1pm: column(),
    widthLeft_m: column(),
    widthRight_m: column(),
    bank_rad: column(),
    grade_rad: column(),
    kappaVertical_1pm: column(),
    ...(survey.origin ? { origin: survey.origin } : {}),
    ...(survey.open ? { open: true } : {}),
    ...(survey.widthAssumed ? { widthAssumed: true } : {}),
    ...(survey.widthGiven ? { widthGiven: column() } : {}),
    ...(survey.northSet ? { northSet: true } : {}),
  }
}

/** Spline parameter at a plan distance into interval i, by Newton on the arc length (error below 1e-9 m). */
const parameterAt = (fx: PeriodicSpline, fy: PeriodicSpline, i: number, along_m: number): number => {
  const { t } = fx
  let at = t[i] + along_m
  for (let k = 0; k < 8; k++) {
    const error = arcLength(fx, fy, i, t[i], at) - along_m
    at -= error / speedAt(fx, fy, i, at)
    if (Math.abs(error) < 1e-9) break
  }
  return Math.min(Math.max(at, t[i]), t[i + 1])
}

const checkInsideRadius = (circuit: Circuit, k: number): void => {
  const kappa = circuit.kappa_1pm[k]
  const inside = kappa > 0 ? circuit.widthLeft_m[k] : circuit.widthRight_m[k]
  if (Math.abs(kappa) * inside >= 1)
    throw new CoreError('circuit-curls-inside-width', `station ${Math.round(circuit.s_m[k])} m`, {
      radius_m: Number((1 / Math.abs(kappa)).toFixed(1)),
      width_m: Number(inside.toFixed(1)),
    })
}

import type { Circuit } from './circuit.ts'
import { surveyNoise } from './smooth.ts'
import type { Survey } from './survey.ts'

/** What can be doubtful in a survey that is good enough to be a circuit. */
export const doubtKinds = [
  'few-points',
  'gap',
  'closing-gap',
  'scatter',
  'no-heights',
  'steep',
  'width-assumed',
  'width-odd',
  'width-jump',
  'tight',
  'length-odd',
] as const
export type DoubtKind = (typeof doubtKinds)[number]

/** Something doubtful: where on the road (m; null: everywhere), and its measure in the unit of its kind (m, %, or a number of points). */
export type Doubt = { kind: DoubtKind; at_m: number | null; value: number }

/** Roads outside these bounds exist, but a wrong unit or a swapped column is the likelier reason. */
const usual = { length_m: [400, 26_000], width_m: [6, 25] } as const
/** A gap this many times the usual spacing, and longer than this (m), is a guess; so is a road with fewer points a kilometre. */
const GAP = { times: 5, least_m: 25, pointsPerKm: 25 } as const
/** Slopes beyond this share are rare on circuits. */
const STEEP = 0.16
/** A width that changes by more than this from one point to the next (m). */
const WIDTH_JUMP_M = 4
/** Noise beyond this moves edges visibly (m, 1σ). */
const SCATTER_M = 0.6
/** Bends tighter than this are rare even on kart tracks (m). */
const TIGHT_M = 6
/** No more of one kind are told: the worst ones. */
const MOST = 3

const worst = (kind: DoubtKind, found: readonly Doubt[]): Doubt[] =>
  found
    .filter((doubt) => doubt.kind === kind)
    .sort((a, b) => b.value - a.value)
    .slice(0, MOST)

/** Distance from the first point to each (m), and the way round. */
const along = ({ x_m, y_m, open }: Survey): { at_m: Float64Array; length_m: number; closing_m: number } => {
  const n = x_m.length
  const at_m = new Float64Array(n)
  for (let i = 1; i < n; i++) at_m[i] = at_m[i - 1] + Math.hypot(x_m[i] - x_m[i - 1], y_m[i] - y_m[i - 1])
  const closing_m = open ? 0 : Math.hypot(x_m[n - 1] - x_m[0], y_m[n - 1] - y_m[0])
  return { at_m, length_m: at_m[n - 1] + closing_m, closing_m }
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0

/** Gaps between points over which the road is a guess. */
const gapsIn = (survey: Survey): Doubt[] => {
  const { at_m, closing_m, length_m } = along(survey)
  const steps = Array.from({ length: at_m.length - 1 }, (_, i) => at_m[i + 1] - at_m[i])
  const usual_m = median(steps)
  const longest = Math.max(GAP.least_m, GAP.times * usual_m)
  const perKm = (1000 * at_m.length) / length_m
  return [
    ...(perKm < GAP.pointsPerKm ? [{ kind: 'few-points' as const, at_m: null, value: Math.round(perKm) }] : []),
    ...steps.flatMap((step, i) => (step > longest ? [{ kind: 'gap' as const, at_m: at_m[i], value: step }] : [])),
    ...(closing_m > Math.max(10, 2.5 * usual_m) ? [{ kind: 'closing-gap' as const, at_m: 0, value: closing_m }] : []),
  ]
}

const widthsOf = (survey: Survey): Doubt[] => {
  if (survey.widthAssumed) {
    const i = survey.widthGiven?.indexOf(0) ?? 0
    return [{ kind: 'width-assumed', at_m: i > 0 ? along(survey).at_m[i] : null, value: survey.widthLeft_m[i] + survey.widthRight_m[i] }]
  }
  const { at_m } = along(survey)
  const whole = Array.from(survey.widthLeft_m, (left, i) => left + survey.widthRight_m[i])
  return whole.flatMap((width, i): Doubt[] => [
    ...(width < usual.width_m[0] || width > usual.width_m[1] ? [{ kind: 'width-odd' as const, at_m: at_m[i], value: width }] : []),
    ...(i > 0 && Math.abs(width - whole[i - 1]) > WIDTH_JUMP_M
      ? [{ kind: 'width-jump' as const, at_m: at_m[i], value: Math.abs(width - whole[i - 1]) }]
      : []),
  ])
}

const shapeOf = (survey: Survey, circuit: Circuit): Doubt[] => {
  const flat = survey.z_m.every((z) => z === survey.z_m[0])
  const found: Doubt[] = []
  let steepest = -1
  let tightest = -1
  for (let i = 0; i < circuit.count; i++) {
    if (steepest < 0 || Math.abs(circuit.grade_rad[i]) > Math.abs(circuit.grade_rad[steepest])) steepest = i
    if (tightest < 0 || Math.abs(circuit.kappa_1pm[i]) > Math.abs(circuit.kappa_1pm[tightest])) tightest = i
  }
  const slope = Math.tan(Math.abs(circuit.grade_rad[steepest]))
  const radius_m = 1 / Math.abs(circuit.kappa_1pm[tightest])
  if (flat) found.push({ kind: 'no-heights', at_m: null, value: 0 })
  else if (slope > STEEP) found.push({ kind: 'steep', at_m: circuit.s_m[steepest], value: Math.round(100 * slope) })
  if (radius_m < TIGHT_M) found.push({ kind: 'tight', at_m: circuit.s_m[tightest], value: radius_m })
  return found
}

/**
 * What a person should look at before a survey is kept, the worst of each kind. None of it stops a circuit from being built;
 * all of it makes its numbers less sure. Cost grows with the number of points.
 */
export const doubtsOf = (survey: Survey, circuit: Circuit): Doubt[] => {
  const scatter_m = survey.open ? 0 : surveyNoise(survey)
  const { length_m } = circuit
  const found: Doubt[] = [
    ...gapsIn(survey),
    ...(scatter_m > SCATTER_M ? [{ kind: 'scatter' as const, at_m: null, value: scatter_m }] : []),
    ...widthsOf(survey),
    ...shapeOf(survey, circuit),
    ...(length_m < usual.length_m[0] || length_m > usual.length_m[1] ? [{ kind: 'length-odd' as const, at_m: null, value: length_m }] : []),
  ]
  return doubtKinds.flatMap((kind) => worst(kind, found))
}

import { bandSolver, emptyBand } from '../solve/banded.ts'
import { spread } from '../solve/robust.ts'
import { averageRound } from './average.ts'
import { polygonOver } from './polygon.ts'
import { nearestIndex } from './station.ts'
import type { Survey } from './survey.ts'

/** Below this noise (m, 1σ) a survey is taken as it is. */
const MIN_NOISE_M = 0.02
/** Spacing of the smoothed points (m). */
const SPACING_M = 3
/** Residuals of a good fit are a little smaller than the noise. */
const FIT = 1
/** Curvature may change more easily where it does already: this share of its mean change is always allowed. */
const EASE = 0.2
const SETTINGS = { rounds: 4, bisections: 16, leastLog: -2, mostLog: 12 } as const

/**
 * Noise (m, 1σ) of a column of evenly taken values: fourth differences leave nothing of a smooth curve and √70 σ of
 * white noise; their median makes single kinks harmless.
 */
const noiseOf = (column: Float64Array): number => {
  const n = column.length
  const differences = Float64Array.from(column, (_, i) => {
    const at = (k: number): number => column[(i + k) % n]
    return Math.abs(at(0) - 4 * at(1) + 6 * at(2) - 4 * at(3) + at(4))
  }).sort()
  return (1.4826 * differences[n >> 1]) / Math.sqrt(70)
}

/** Noise (m, 1σ) of a survey's positions. */
export const surveyNoise = ({ x_m, y_m }: Pick<Survey, 'x_m' | 'y_m'>): number => Math.hypot(noiseOf(x_m), noiseOf(y_m)) / Math.SQRT2

/**
 * A survey freed of its noise; one without noise, or an open one, is returned as it is. The path is moved sideways so that the
 * change of its curvature, ∫(dκ/ds)² ds, is least for the residuals that the noise leaves (the discrepancy principle):
 * straights and arcs cost nothing and keep their radius, only what wavers is smoothed; where curvature changes anyway, at the
 * ends of arcs, it may change more easily (weights renewed each round). Gauss–Newton over the path's polygon, its weight found
 * by bisection; each solve is a periodic band of half width 3. Heights likewise, by third differences.
 */
export const smoothSurvey = (survey: Survey, noise_m = surveyNoise(survey)): Survey => {
  if (survey.open || noise_m < MIN_NOISE_M) return survey
  const base = evenBase(survey, noise_m)
  const n = base.x_m.length
  const data = placeData(base, survey)
  const noiseZ_m = noiseOf(survey.z_m)
  const heights = data.map(({ station, share }, i) => ({ station, share, value: survey.z_m[i] }))
  const z_m = smoothHeights(n, heights, noiseZ_m)
  const column = (values: Float64Array): Float64Array =>
    meanByStation(
      n,
      data.map(({ station, share }, i) => ({ station, share, value: values[i] })),
    )
  return {
    ...survey,
    ...smoothPath(base, data, noise_m),
    z_m,
    widthLeft_m: column(survey.widthLeft_m),
    widthRight_m: column(survey.widthRight_m),
    bank_rad: column(survey.bank_rad),
  }
}

/** The path that changes its curvature least for the residuals that noise leaves, by bisection of the weight between the two. */
const smoothPath = (base: Base, data: readonly Datum[], noise_m: number): { x_m: Float64Array; y_m: Float64Array } => {
  const solveAt = (logWeight: number): Float64Array => {
    let at: Float64Array = new Float64Array(base.x_m.length)
    for (let round = 0; round < SETTINGS.rounds; round++) at = leastChange(base, data, at, 10 ** logWeight, round)
    return at
  }
  const offset = bisectWeight(solveAt, data, FIT * noise_m)
  return {
    x_m: base.x_m.map((x, i) => x - offset[i] * Math.sin(base.heading_rad[i])),
    y_m: base.y_m.map((y, i) => y + offset[i] * Math.cos(base.heading_rad[i])),
  }
}

/** Heights by station, as smooth as their noise asks for. */
const smoothHeights = (n: number, heights: readonly Datum[], noise_m: number): Float64Array =>
  noise_m < MIN_NOISE_M
    ? meanByStation(n, heights)
    : bisectWeight((logWeight) => leastThirdDifference(n, heights, 10 ** logWeight), heights, FIT * noise_m)

type Base = { x_m: Float64Array; y_m: Float64Array; heading_rad: Float64Array; step_m: number }
/** A value between two stations of the base: share 0 at the first, 1 at the next. */
type Datum = { station: number; share: number; value: number }

/** Even points on a running mean of the survey, wide enough that its noise no longer folds the path. */
const evenBase = (survey: Pick<Survey, 'x_m' | 'y_m'>, noise_m: number): Base => {
  const count = survey.x_m.length
  let around_m = 0
  for (let i = 0; i < count; i++) {
    const j = (i + 1) % count
    around_m += Math.hypot(survey.x_m[j] - survey.x_m[i], survey.y_m[j] - survey.y_m[i])
  }
  const half = Math.max(1, Math.min(Math.floor(count / 12), Math.round((10 * noise_m + 2) / (around_m / count))))
  const x = averageRound(survey.x_m, half)
  const y = averageRound(survey.y_m, half)
  const along = new Float64Array(count + 1)
  for (let i = 0; i < count; i++) {
    const j = (i + 1) % count
    along[i + 1] = along[i] + Math.hypot(x[j] - x[i], y[j] - y[i])
  }
  const n = Math.max(24, Math.round(along[count] / SPACING_M))
  const step_m = along[count] / n
  const base: Base = { x_m: new Float64Array(n), y_m: new Float64Array(n), heading_rad: new Float64Array(n), step_m }
  for (let k = 0, i = 0; k < n; k++) {
    while (along[i + 1] < k * step_m) i++
    const share = (k * step_m - along[i]) / Math.max(1e-9, along[i + 1] - along[i])
    const j = (i + 1) % count
    base.x_m[k] = x[i] + share * (x[j] - x[i])
    base.y_m[k] = y[i] + share * (y[j] - y[i])
  }
  for (let k = 0; k < n; k++) {
    const [before, after] = [(k - 1 + n) % n, (k + 1) % n]
    base.heading_rad[k] = Math.atan2(base.y_m[after] - base.y_m[before], base.x_m[after] - base.x_m[before])
  }
  return base
}

/** A point is sought this far on either side of the one before (m). */
const WINDOW_M = 130

/** Each point as an offset from the base, with the station that it passes; points come in order of travel. */
const placeData = (base: Base, points: Pick<Survey, 'x_m' | 'y_m'>): Datum[] => {
  const n = base.x_m.length
  const reach = Math.min(n >> 1, Math.ceil(WINDOW_M / base.step_m))
  let last = 0
  return Array.from(points.x_m, (x_m, i) => {
    const around = i === 0 ? n >> 1 : reach
    const best = nearestIndex(base, x_m, points.y_m[i], last - around, 2 * around + 1)
    last = best
    const dx = x_m - base.x_m[best]
    const dy = points.y_m[i] - base.y_m[best]
    const along = (dx * Math.cos(base.heading_rad[best]) + dy * Math.sin(base.heading_rad[best])) / base.step_m
    const value = -dx * Math.sin(base.heading_rad[best]) + dy * Math.cos(base.heading_rad[best])
    const station = along < 0 ? (best - 1 + n) % n : best
    return { station, share: Math.min(1, Math.max(0, along < 0 ? along + 1 : along)), value }
  })
}

/** Positions of a vehicle over several laps, in order of time. */
export type DrivenPath = Pick<Survey, 'x_m' | 'y_m' | 'z_m'>

/**
 * Several driven laps as one smooth closed path, beginning where `around` begins, a rough path of one of them. Fixes of all laps
 * count alike, however far apart; how much they waver is measured between neighbours of different laps.
 */
export const smoothLaps = (laps: readonly DrivenPath[], around: Pick<Survey, 'x_m' | 'y_m'>): DrivenPath => {
  const base = evenBase(closed(around), 0)
  const n = base.x_m.length
  const placed = laps.map((lap) => placeData(base, lap))
  const noise_m = placed.length > 1 ? Math.max(MIN_NOISE_M, wavering(placed)) : LONE_LAP_NOISE_M
  const heights = placed.map((data, k) => data.map(({ station, share }, i) => ({ station, share, value: laps[k].z_m[i] })))
  const noiseZ_m = heights.length > 1 ? wavering(heights) : 0
  return { ...smoothPath(base, placed.flat(), noise_m), z_m: smoothHeights(n, heights.flat(), noiseZ_m) }
}

/** A lap's rough path without the step between its end and its beginning, which is spread over the lap. */
const closed = ({ x_m, y_m }: Pick<Survey, 'x_m' | 'y_m'>): { x_m: Float64Array; y_m: Float64Array } => {
  const n = x_m.length
  // The last point lies a step before the first: what is across that step is the gap.
  const [ax, ay] = [x_m[1] - x_m[0], y_m[1] - y_m[0]]
  const across = ((x_m[n - 1] - x_m[0]) * -ay + (y_m[n - 1] - y_m[0]) * ax) / (ax * ax + ay * ay)
  return { x_m: x_m.map((x, i) => x + (across * ay * i) / (n - 1)), y_m: y_m.map((y, i) => y - (across * ax * i) / (n - 1)) }
}

/** Neighbours further apart than this differ by the road too (stations). */
const NEIGHBOURS = 1.5

/**
 * Standard deviation of laps from each other, by differences between neighbouring values of different laps; from few of them it is
 * taken larger by what it may err: a path that follows noise is worse than one that is a little too smooth.
 */
const wavering = (laps: readonly (readonly Datum[])[]): number => {
  const along = laps.flatMap((data, lap) => data.map(({ station, share, value }) => ({ lap, at: station + share, value })))
  along.sort((a, b) => a.at - b.at)
  const differences: number[] = []
  for (let i = 1; i < along.length; i++) {
    const [a, b] = [along[i - 1], along[i]]
    if (a.lap !== b.lap && b.at - a.at < NEIGHBOURS) differences.push(b.value - a.value)
  }
  // A spread by medians errs as that of 37 % of the values.
  const mayErr = 1.5 / Math.sqrt(2 * 0.37 * Math.max(1, differences.length))
  return ((1 + mayErr) * spread(differences)) / Math.SQRT2
}

/** Position noise assumed for a single lap (m): it cannot be measured, so a typical receiver's is used. */
const LONE_LAP_NOISE_M = 0.3

const residualOf = (data: readonly Datum[], column: Float64Array): number => {
  let sum = 0
  for (const { station, share, value } of data)
    sum += (value - column[station] * (1 - share) - column[(station + 1) % column.length] * share) ** 2
  return Math.sqrt(sum / data.length)
}

/** The smoothest solution whose residuals are those of the noise. */
const bisectWeight = (solve: (logWeight: number) => Float64Array, data: readonly Datum[], wanted: number): Float64Array => {
  let low: number = SETTINGS.leastLog
  let high: number = SETTINGS.mostLog
  let best = solve(low)
  for (let k = 0; k < SETTINGS.bisections; k++) {
    const middle = (low + high) / 2
    const trial = solve(middle)
    if (residualOf(data, trial) < wanted) {
      low = middle
      best = trial
    } else high = middle
  }
  return best
}

/** One Gauss–Newton step: least Σ residual² + weight·Σ(κ_{i+1} − κ_i)²/step around the given offsets. */
const leastChange = (base: Base, data: readonly Datum[], around: Float64Array, weight: number, step: number): Float64Array => {
  const n = around.length
  const polygon = polygonOver({ ...base, count: n })
  polygon.layOut(around, 1)
  const band = emptyBand(n, 3)
  const right = new Float64Array(n)
  addData(band.values, right, data)
  const row = new Float64Array(4)
  const ease = easeOf(polygon.kappa_1pm, step)
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    const scale = (weight / base.step_m) * ease[i]
    row[0] = -polygon.kappaByBefore[i]
    row[1] = polygon.kappaByBefore[j] - polygon.kappaByOwn[i]
    row[2] = polygon.kappaByOwn[j] - polygon.kappaByAfter[i]
    row[3] = polygon.kappaByAfter[j]
    let rest = polygon.kappa_1pm[j] - polygon.kappa_1pm[i]
    for (let a = 0; a < 4; a++) rest -= row[a] * around[(i - 1 + a + n) % n]
    for (let a = 0; a < 4; a++) {
      const at = (i - 1 + a + n) % n
      right[at] -= scale * row[a] * rest
      for (let b = a; b < 4; b++) band.values[4 * at + b - a] += scale * row[a] * row[b]
    }
  }
  return solved(band, right)
}

/** Freedom of curvature to change at each station: more where it does already, so that arcs stay arcs between their ends. */
const easeOf = (kappa: Float64Array, round: number): Float64Array => {
  const n = kappa.length
  if (round === 0) return new Float64Array(n).fill(1)
  const change = averageRound(
    kappa.map((k, i) => Math.abs(kappa[(i + 1) % n] - k)),
    2,
  )
  const mean = change.reduce((sum, c) => sum + c, 0) / n
  return change.map((c) => 1 / (EASE + c / mean))
}

/** Least Σ residual² + weight·Σ(third difference)². */
const leastThirdDifference = (n: number, data: readonly Datum[], weight: number): Float64Array => {
  const band = emptyBand(n, 3)
  const right = new Float64Array(n)
  addData(band.values, right, data)
  const row = [-1, 3, -3, 1]
  for (let i = 0; i < n; i++)
    for (let a = 0; a < 4; a++) for (let b = a; b < 4; b++) band.values[4 * ((i + a) % n) + b - a] += weight * row[a] * row[b]
  return solved(band, right)
}

const addData = (values: Float64Array, right: Float64Array, data: readonly Datum[]): void => {
  const n = right.length
  for (const { station, share, value } of data) {
    const next = (station + 1) % n
    values[4 * station] += (1 - share) ** 2
    values[4 * next] += share ** 2
    values[4 * station + 1] += share * (1 - share)
    right[station] += (1 - share) * value
    right[next] += share * value
  }
}

const solved = (band: ReturnType<typeof emptyBand>, right: Float64Array): Float64Array => {
  const solver = bandSolver(band.count, band.halfWidth)
  // Stations without data hang on their neighbours alone; a hair of weight of their own keeps the matrix definite.
  solver.factor(band, new Float64Array(band.count).fill(1e-9))
  solver.solve(right)
  return right
}

/** Values spread over even stations with next to no smoothing, so that gaps are bridged. */
const meanByStation = (n: number, data: readonly Datum[]): Float64Array => leastThirdDifference(n, data, 1e-4)

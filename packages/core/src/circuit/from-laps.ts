import { CoreError } from '../errors/errors.ts'
import type { GeoOrigin } from './geo-origin.ts'
import { evaluateInterval, naturalSpline } from './periodic-spline.ts'
import { type DrivenPath, smoothLaps } from './smooth.ts'
import { nearestIndex } from './station.ts'
import { ASSUMED_HALF_WIDTH_M, type Survey } from './survey.ts'

/** A return to the start counts within this distance (m) and this much of the heading, after this much of a lap. */
const RETURN = { within_m: 20, heading_rad: 1, least_m: 150 } as const
/** Fixes closer than this say nothing of direction (m). */
const STANDING_M = 1
/** Dense fixes are averaged over this much of the way, so that their noise does not turn the path (m). */
const GROUP_M = 6
/** Spacing of the rough path that laps are cut by (m). */
const FINE_M = 3
/** Half the length over which the rough path's direction is taken (m). */
const LOOK_M = 15
/** A straight bends by less than this (1/m). */
const STRAIGHT_1PM = 1 / 400
/** Laps longer or shorter than the usual one by more than this share went another way. */
const OTHER_WAY = 0.04

/** The road taken on each side of an averaged path (assumed where it is not given), and where it begins. */
export type FromLapsOptions = { halfWidth_m?: number; origin?: GeoOrigin | undefined; start?: { x_m: number; y_m: number } | undefined }

/**
 * A survey from logged laps where there is none: laps are cut at every return to the start line in the same direction, and
 * averaged; fixes may lie a second apart. Without a given place the start line is taken on the longest straight that is passed
 * more than once.
 * @throws CoreError 'log-no-lap' where not one lap closes
 */
export const surveyFromLaps = (name: string, path: DrivenPath, { halfWidth_m, origin, start }: FromLapsOptions): Survey => {
  const fixes = thinned(path)
  if (fixes.x_m.length < 20) throw new CoreError('log-no-lap', name, { crossings: 0 })
  const rough = roughPath(fixes)
  const at = start ? nearestIndex(rough, start.x_m, start.y_m) : startOnStraight(rough)
  const laps = at === null ? [] : usualLaps(cutLaps(rough, at))
  if (laps.length === 0) throw new CoreError('log-no-lap', name, { crossings: 1 })
  const driven = laps.map(({ from, to }) => slice(fixes, rough.fix[from], rough.fix[to]))
  const { x_m, y_m, z_m } = smoothLaps(driven, slice(rough, laps[0].from, laps[0].to))
  const n = x_m.length
  return {
    name,
    x_m,
    y_m,
    z_m,
    widthLeft_m: new Float64Array(n).fill(halfWidth_m ?? ASSUMED_HALF_WIDTH_M),
    widthRight_m: new Float64Array(n).fill(halfWidth_m ?? ASSUMED_HALF_WIDTH_M),
    bank_rad: new Float64Array(n),
    ...(halfWidth_m === undefined ? { widthAssumed: true } : {}),
    ...(origin ? { origin } : {}),
  }
}

const slice = ({ x_m, y_m, z_m }: DrivenPath, from: number, to: number): DrivenPath => ({
  x_m: x_m.slice(from, to),
  y_m: y_m.slice(from, to),
  z_m: z_m.slice(from, to),
})

/** Leaves out fixes of a standing car. */
const thinned = (path: DrivenPath): DrivenPath => {
  const keep: number[] = []
  for (let i = 0; i < path.x_m.length; i++) {
    const last = keep.at(-1)
    if (last === undefined || Math.hypot(path.x_m[i] - path.x_m[last], path.y_m[i] - path.y_m[last]) >= STANDING_M) keep.push(i)
  }
  const take = (column: Float64Array): Float64Array => Float64Array.from(keep, (i) => column[i])
  return { x_m: take(path.x_m), y_m: take(path.y_m), z_m: take(path.z_m) }
}

/** The way that was driven at even points; `fix[i]`: number of the first fix past point i; `heading_rad` over some metres. */
type RoughPath = DrivenPath & { fix: Int32Array; heading_rad: Float64Array; step_m: number }

/** A smooth path through fixes that may lie a second apart, or close together with noise. */
const roughPath = (fixes: DrivenPath): RoughPath => {
  const knots = grouped(fixes)
  const n = knots.x_m.length
  const t = new Float64Array(n)
  for (let i = 1; i < n; i++) t[i] = t[i - 1] + Math.hypot(knots.x_m[i] - knots.x_m[i - 1], knots.y_m[i] - knots.y_m[i - 1])
  const count = Math.max(2, Math.round(t[n - 1] / FINE_M))
  const step_m = t[n - 1] / count
  const [fx, fy] = [naturalSpline(t, knots.x_m), naturalSpline(t, knots.y_m)]
  const path: RoughPath = {
    x_m: new Float64Array(count),
    y_m: new Float64Array(count),
    z_m: new Float64Array(count),
    fix: new Int32Array(count),
    heading_rad: new Float64Array(count),
    step_m,
  }
  for (let k = 0, i = 0; k < count; k++) {
    while (i < n - 2 && t[i + 1] < k * step_m) i++
    path.x_m[k] = evaluateInterval(fx, i, k * step_m).y
    path.y_m[k] = evaluateInterval(fy, i, k * step_m).y
    path.fix[k] = knots.fix[i] + 1
  }
  const look = Math.max(1, Math.round(LOOK_M / step_m))
  for (let k = 0; k < count; k++) {
    const [a, b] = [Math.max(0, k - look), Math.min(count - 1, k + look)]
    path.heading_rad[k] = Math.atan2(path.y_m[b] - path.y_m[a], path.x_m[b] - path.x_m[a])
  }
  return path
}

/** Means of fixes that lie close together, each with the number of its middle fix; those that lie apart as they are. */
const grouped = ({ x_m, y_m }: DrivenPath): { x_m: Float64Array; y_m: Float64Array; fix: number[] } => {
  const xs: number[] = []
  const ys: number[] = []
  const fix: number[] = []
  for (let i = 0; i < x_m.length; ) {
    let j = i + 1
    while (j < x_m.length && Math.hypot(x_m[j] - x_m[i], y_m[j] - y_m[i]) < GROUP_M) j++
    const size = j - i
    xs.push(x_m.subarray(i, j).reduce((a, b) => a + b, 0) / size)
    ys.push(y_m.subarray(i, j).reduce((a, b) => a + b, 0) / size)
    fix.push(i + (size >> 1))
    i = j
  }
  return { x_m: Float64Array.from(xs), y_m: Float64Array.from(ys), fix }
}

const turned = (from_rad: number, to_rad: number): number => Math.atan2(Math.sin(to_rad - from_rad), Math.cos(to_rad - from_rad))

/** Point of the path in the middle of the longest straight that is passed again; null where no way is driven twice. */
const startOnStraight = (path: RoughPath): number | null => {
  const { heading_rad, step_m } = path
  const n = heading_rad.length
  const straights: { middle: number; length: number }[] = []
  for (let i = 1; i < n; ) {
    let j = i
    while (j < n && Math.abs(turned(heading_rad[j - 1], heading_rad[j])) < STRAIGHT_1PM * step_m) j++
    if (j > i) straights.push({ middle: (i + j) >> 1, length: j - i })
    i = j + 1
  }
  straights.sort((a, b) => b.length - a.length)
  const found = straights.find(({ middle }) => cutLaps(path, middle).length > 0)
  return found ? found.middle : cutLaps(path, n >> 1).length > 0 ? n >> 1 : null
}

type CutLap = { from: number; to: number }

/** Laps between passes over a line across the path at one of its points, in the same direction. */
const cutLaps = ({ x_m, y_m, heading_rad, step_m }: RoughPath, at: number): CutLap[] => {
  const [cos, sin] = [Math.cos(heading_rad[at]), Math.sin(heading_rad[at])]
  const along = (i: number): number => (x_m[i] - x_m[at]) * cos + (y_m[i] - y_m[at]) * sin
  const cuts: number[] = []
  for (let i = 1; i < x_m.length; i++) {
    if (!(along(i - 1) < 0 && along(i) >= 0)) continue
    const near = Math.hypot(x_m[i] - x_m[at], y_m[i] - y_m[at]) < RETURN.within_m
    const last = cuts.at(-1)
    const newLap = last === undefined || (i - last) * step_m >= RETURN.least_m
    if (near && newLap && Math.abs(turned(heading_rad[at], heading_rad[i])) < RETURN.heading_rad) cuts.push(i)
  }
  return cuts.slice(1).map((to, k) => ({ from: cuts[k], to }))
}

/** Laps about as long as the usual one: others went through the pit lane, or off the road. */
const usualLaps = (laps: readonly CutLap[]): CutLap[] => {
  const lengths = laps.map(({ from, to }) => to - from).sort((a, b) => a - b)
  const usual = lengths[lengths.length >> 1]
  return laps.filter(({ from, to }) => Math.abs(to - from - usual) <= OTHER_WAY * usual)
}

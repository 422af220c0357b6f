import { CoreError } from '../errors/errors.ts'
import type { GeoOrigin } from './geo-origin.ts'
import { averageLaps, type DrivenPath, smoothSurvey } from './smooth.ts'
import { nearestIndex } from './station.ts'
import type { Survey } from './survey.ts'

/** A return to the start counts within this distance (m) and this much of the heading, after this much of a lap. */
const RETURN = { within_m: 20, heading_rad: 1, least_m: 150 } as const
/** Fixes closer than this say nothing of direction (m). */
const STEP_M = 1

/** The road taken on each side of an averaged path, and where it begins. */
export type FromLapsOptions = { halfWidth_m: number; origin?: GeoOrigin | undefined; start?: { x_m: number; y_m: number } | undefined }

/**
 * A survey from logged laps where there is none: laps are cut at every return to a start (given, or the middle of the
 * recording, which is on the track for sure) in the same direction, and averaged. Widths are those given; the start line
 * is where the laps were cut.
 * @throws CoreError 'log-no-lap' where not one lap closes
 */
export const surveyFromLaps = (name: string, path: DrivenPath, { halfWidth_m, origin, start }: FromLapsOptions): Survey => {
  const moving = thinned(path)
  const laps = cutLaps(moving, start)
  if (laps.length === 0) throw new CoreError('log-no-lap', name, { crossings: 1 })
  const { x_m, y_m, z_m, noise_m } = averageLaps(laps)
  const n = x_m.length
  const survey: Survey = {
    name,
    x_m,
    y_m,
    z_m,
    widthLeft_m: new Float64Array(n).fill(halfWidth_m),
    widthRight_m: new Float64Array(n).fill(halfWidth_m),
    bank_rad: new Float64Array(n),
    ...(origin ? { origin } : {}),
  }
  return smoothSurvey(survey, noise_m)
}

/** Leaves out fixes of a standing car. */
const thinned = (path: DrivenPath): DrivenPath => {
  const keep: number[] = []
  for (let i = 0; i < path.x_m.length; i++) {
    const last = keep.at(-1)
    if (last === undefined || Math.hypot(path.x_m[i] - path.x_m[last], path.y_m[i] - path.y_m[last]) >= STEP_M) keep.push(i)
  }
  const take = (column: Float64Array): Float64Array => Float64Array.from(keep, (i) => column[i])
  return { x_m: take(path.x_m), y_m: take(path.y_m), z_m: take(path.z_m) }
}

const cutLaps = ({ x_m, y_m, z_m }: DrivenPath, start?: { x_m: number; y_m: number }): DrivenPath[] => {
  const n = x_m.length
  if (n < 20) return []
  const nearest = start ? nearestIndex({ x_m, y_m }, start.x_m, start.y_m) : n >> 1
  const at = Math.min(Math.max(2, nearest), n - 3)
  const headingOf = (i: number): number => {
    const [a, b] = [Math.max(0, i - 2), Math.min(n - 1, i + 2)]
    return Math.atan2(y_m[b] - y_m[a], x_m[b] - x_m[a])
  }
  const heading = headingOf(at)
  const cos = Math.cos(heading)
  const sin = Math.sin(heading)
  const along = (i: number): number => (x_m[i] - x_m[at]) * cos + (y_m[i] - y_m[at]) * sin
  const cuts: number[] = []
  let driven_m = Number.POSITIVE_INFINITY
  for (let i = 1; i < n; i++) {
    driven_m += Math.hypot(x_m[i] - x_m[i - 1], y_m[i] - y_m[i - 1])
    const crosses = along(i - 1) < 0 && along(i) >= 0
    const near = Math.hypot(x_m[i] - x_m[at], y_m[i] - y_m[at]) < RETURN.within_m
    if (!crosses || !near || driven_m < RETURN.least_m || Math.cos(headingOf(i) - heading) < Math.cos(RETURN.heading_rad)) continue
    cuts.push(i)
    driven_m = 0
  }
  return cuts.slice(1).map((end, k) => ({
    x_m: x_m.slice(cuts[k], end),
    y_m: y_m.slice(cuts[k], end),
    z_m: z_m.slice(cuts[k], end),
  }))
}

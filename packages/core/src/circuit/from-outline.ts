import { CoreError } from '../errors/errors.ts'
import { evaluateSpline, periodicSpline } from './periodic-spline.ts'
import type { Survey } from './survey.ts'

/** Fewer points than this make no lap. */
const MIN_POINTS = 5
/** Spacing of the survey's points (m). */
const SPACING_M = 5

/**
 * A survey from a few points clicked along the middle of the road, in metres and in order of travel: a closed smooth
 * curve through them, sampled about every 5 m, flat, of one width.
 * @throws CoreError 'circuit-too-few-points'
 */
export const surveyFromOutline = (name: string, x_m: readonly number[], y_m: readonly number[], halfWidth_m: number): Survey => {
  const n = x_m.length
  if (n < MIN_POINTS) throw new CoreError('circuit-too-few-points', name, { count: n, min: MIN_POINTS })
  const t = new Float64Array(n + 1)
  // Centripetal knots: long and short spans side by side do not make the curve swing out.
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    t[i + 1] = t[i] + Math.sqrt(Math.max(1e-6, Math.hypot(x_m[j] - x_m[i], y_m[j] - y_m[i])))
  }
  const fx = periodicSpline(t, Float64Array.from(x_m))
  const fy = periodicSpline(t, Float64Array.from(y_m))
  const fine = Array.from({ length: 40 * n + 1 }, (_, k) => (k / (40 * n)) * t[n])
  const points = fine.map((at) => [evaluateSpline(fx, at).y, evaluateSpline(fy, at).y])
  const along = [0]
  for (let k = 1; k < points.length; k++)
    along.push(along[k - 1] + Math.hypot(points[k][0] - points[k - 1][0], points[k][1] - points[k - 1][1]))
  const length_m = along[along.length - 1]
  const count = Math.max(16, Math.round(length_m / SPACING_M))
  const x = new Float64Array(count)
  const y = new Float64Array(count)
  for (let i = 0, k = 0; i < count; i++) {
    const s = (i / count) * length_m
    while (along[k + 1] < s) k++
    const share = (s - along[k]) / Math.max(1e-9, along[k + 1] - along[k])
    x[i] = points[k][0] + share * (points[k + 1][0] - points[k][0])
    y[i] = points[k][1] + share * (points[k + 1][1] - points[k][1])
  }
  return {
    name,
    x_m: x,
    y_m: y,
    z_m: new Float64Array(count),
    widthLeft_m: new Float64Array(count).fill(halfWidth_m),
    widthRight_m: new Float64Array(count).fill(halfWidth_m),
    bank_rad: new Float64Array(count),
  }
}

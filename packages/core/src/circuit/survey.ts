import { CoreError } from '../errors.ts'
import type { GeoOrigin } from './geodesy.ts'

/** A centreline as it was measured: closed, first point not repeated, columns of equal length. */
export type Survey = {
  name: string
  x_m: Float64Array
  y_m: Float64Array
  z_m: Float64Array
  widthLeft_m: Float64Array
  widthRight_m: Float64Array
  /** Cross slope, positive when the left edge is higher. */
  bank_rad: Float64Array
  /** Where x = y = 0 lies on Earth; absent for surveys in local coordinates. */
  origin?: GeoOrigin
}

const limits = { minPoints: 16, maxGap_m: 100, minWidth_m: 1, maxWidth_m: 60, minLength_m: 100, duplicate_m: 0.01 } as const

const row = (i: number): string => `point ${i + 1}`

/**
 * Checks that a survey can be a circuit: enough points, no duplicates, no jumps, closed, widths in range, not crossing
 * itself. Cost grows linearly with the number of points.
 * @throws CoreError naming the first offending point
 */
export const checkSurvey = (survey: Survey): void => {
  const { x_m, y_m } = survey
  const n = x_m.length
  if (n < limits.minPoints) throw new CoreError('circuit-too-few-points', survey.name, { count: n, min: limits.minPoints })
  const step = (i: number, j: number): number => Math.hypot(x_m[j] - x_m[i], y_m[j] - y_m[i])
  let length_m = 0
  for (let i = 0; i < n - 1; i++) {
    const d = step(i, i + 1)
    if (d < limits.duplicate_m) throw new CoreError('circuit-duplicate-point', row(i + 1))
    if (d > limits.maxGap_m)
      throw new CoreError('circuit-jump', `${row(i)} to ${row(i + 1)}`, { distance_m: Math.round(d), max_m: limits.maxGap_m })
    length_m += d
  }
  checkWidths(survey)
  const gap = step(n - 1, 0)
  const typical = length_m / (n - 1)
  const maxClosing_m = Math.max(20, 4 * typical)
  if (gap > maxClosing_m)
    throw new CoreError('circuit-open', `${row(n - 1)} to ${row(0)}`, {
      gap_m: Math.round(gap),
      max_m: Math.round(maxClosing_m),
    })
  length_m += gap
  if (length_m < limits.minLength_m)
    throw new CoreError('circuit-too-short', survey.name, { length_m: Math.round(length_m), min_m: limits.minLength_m })
  const crossing = findCrossing(x_m, y_m)
  if (crossing)
    throw new CoreError('circuit-self-crossing', `${row(crossing[0])} and ${row(crossing[1])}`, {
      at: `${row(crossing[0])} and ${row(crossing[1])}`,
    })
}

const checkWidths = (survey: Survey): void => {
  const sides = [
    ['left', survey.widthLeft_m],
    ['right', survey.widthRight_m],
  ] as const
  for (const [side, width] of sides)
    for (let i = 0; i < width.length; i++)
      if (!(width[i] >= limits.minWidth_m && width[i] <= limits.maxWidth_m))
        throw new CoreError('circuit-width', row(i), {
          side,
          width_m: Number(width[i].toFixed(2)),
          min_m: limits.minWidth_m,
          max_m: limits.maxWidth_m,
        })
}

/**
 * First pair of segments of a closed polygon that cross, or null. Segments are sorted into square cells of the longest
 * segment's size, so that only neighbours are compared.
 */
const findCrossing = (x: Float64Array, y: Float64Array): [number, number] | null => {
  const n = x.length
  const next = (i: number): number => (i + 1 === n ? 0 : i + 1)
  let cell_m = 0
  for (let i = 0; i < n; i++) cell_m = Math.max(cell_m, Math.hypot(x[next(i)] - x[i], y[next(i)] - y[i]))
  const cells = new Map<string, number[]>()
  const cross = (ax: number, ay: number, bx: number, by: number): number => ax * by - ay * bx
  const meets = (i: number, j: number): boolean => {
    const dx = x[next(i)] - x[i]
    const dy = y[next(i)] - y[i]
    const ex = x[next(j)] - x[j]
    const ey = y[next(j)] - y[j]
    const det = cross(dx, dy, ex, ey)
    if (det === 0) return false
    const u = cross(x[j] - x[i], y[j] - y[i], ex, ey) / det
    const w = cross(x[j] - x[i], y[j] - y[i], dx, dy) / det
    return u >= 0 && u <= 1 && w >= 0 && w <= 1
  }
  for (let i = 0; i < n; i++) {
    const k = next(i)
    const low = [Math.floor(Math.min(x[i], x[k]) / cell_m), Math.floor(Math.min(y[i], y[k]) / cell_m)]
    const high = [Math.floor(Math.max(x[i], x[k]) / cell_m), Math.floor(Math.max(y[i], y[k]) / cell_m)]
    for (let a = low[0]; a <= high[0]; a++)
      for (let b = low[1]; b <= high[1]; b++) {
        const key = `${a},${b}`
        const here = cells.get(key)
        if (!here) {
          cells.set(key, [i])
          continue
        }
        for (const j of here) {
          const apart = i - j
          if (apart > 1 && apart < n - 1 && meets(i, j)) return [j, i]
        }
        here.push(i)
      }
  }
  return null
}

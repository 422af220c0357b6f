import { CoreError } from '../errors/errors.ts'
import { degrees, radians } from '../units/convert.ts'
import type { GeoOrigin } from './geo-origin.ts'

/** A centreline as it was measured: closed by default, first point not repeated, columns of equal length. */
export type Survey = {
  name: string
  x_m: Float64Array
  y_m: Float64Array
  z_m: Float64Array
  widthLeft_m: Float64Array
  widthRight_m: Float64Array
  /** Cross slope, positive when the left edge is higher. */
  bank_rad: Float64Array
  /** Place of x = y = 0 on Earth; absent for surveys in local coordinates. */
  origin?: GeoOrigin
  /** An open course: it ends at its last point and does not lead back to the first. */
  open?: boolean
  /** Nobody measured the road's width: what lies at its edges is not known. */
  widthAssumed?: boolean
  /** Where the width was given all the same: 1 at those points, 0 at the others. */
  widthGiven?: Float64Array
  /** Local coordinates that somebody has turned so that y points north, as y does wherever there is an origin. */
  northSet?: boolean
}

/** Half width (m) taken on each side where neither file nor person gives one. */
export const ASSUMED_HALF_WIDTH_M = 5

const limits = { minPoints: 16, maxGap_m: 100, minWidth_m: 1, maxWidth_m: 60, minLength_m: 100, duplicate_m: 0.01 } as const

/** A survey with each of its columns changed alike. */
const withColumns = (survey: Survey, change: (column: Float64Array) => Float64Array): Survey => ({
  ...survey,
  x_m: change(survey.x_m),
  y_m: change(survey.y_m),
  z_m: change(survey.z_m),
  widthLeft_m: change(survey.widthLeft_m),
  widthRight_m: change(survey.widthRight_m),
  bank_rad: change(survey.bank_rad),
  ...(survey.widthGiven ? { widthGiven: change(survey.widthGiven).map(Math.floor) } : {}),
})

/** More points than this are a dense recording: neighbours may coincide, and groups of them are averaged. */
const DENSE = 20_000

/** A dense recording thinned to at most {@link DENSE} points by averaging neighbours; others come back as they are. */
export const thinSurvey = (survey: Survey): Survey => {
  const n = survey.x_m.length
  if (n <= DENSE) return survey
  const size = Math.ceil((2 * n) / DENSE)
  const groups = Math.floor(n / size)
  const mean = (column: Float64Array): Float64Array =>
    Float64Array.from({ length: groups }, (_, k) => {
      const end = k === groups - 1 ? n : (k + 1) * size
      let sum = 0
      for (let i = k * size; i < end; i++) sum += column[i]
      return sum / (end - k * size)
    })
  return withColumns(survey, mean)
}

const row = (i: number): string => `point ${i + 1}`

/** Checks that all columns hold finite numbers and are equally long. @throws CoreError 'number-invalid' naming the first offending point */
export const checkColumns = (survey: Survey): void => {
  for (const column of ['x_m', 'y_m', 'z_m', 'widthLeft_m', 'widthRight_m', 'bank_rad'] as const)
    for (let i = 0; i < survey.x_m.length; i++)
      if (!Number.isFinite(survey[column][i]))
        throw new CoreError('number-invalid', row(i), { value: String(survey[column][i]), column, range: 'that is finite' })
}

/**
 * Checks that a survey can be a circuit: enough points, no duplicates, no jumps, closed, widths in range, no
 * cliffs. Cost grows linearly with the number of points.
 * @throws CoreError naming the first offending point
 */
export const checkSurvey = (survey: Survey): void => {
  checkColumns(survey)
  const { x_m, y_m } = survey
  const n = x_m.length
  if (n < limits.minPoints) throw new CoreError('circuit-too-few-points', survey.name, { count: n, min: limits.minPoints })
  const step = (i: number, j: number): number => Math.hypot(x_m[j] - x_m[i], y_m[j] - y_m[i])
  let length_m = 0
  for (let i = 0; i < n - 1; i++) {
    const d = step(i, i + 1)
    if (n <= DENSE && d < limits.duplicate_m) throw new CoreError('circuit-duplicate-point', row(i + 1))
    if (d > limits.maxGap_m)
      throw new CoreError('circuit-jump', `${row(i)} to ${row(i + 1)}`, { distance_m: Math.round(d), max_m: limits.maxGap_m })
    length_m += d
  }
  checkWidths(survey)
  checkBank(survey)
  const gap = step(n - 1, 0)
  if (gap < limits.duplicate_m) throw new CoreError('circuit-duplicate-point', row(n - 1))
  const typical = length_m / (n - 1)
  const maxClosing_m = Math.max(20, 4 * typical)
  if (!survey.open && gap > maxClosing_m)
    throw new CoreError('circuit-open', `${row(n - 1)} to ${row(0)}`, {
      gap_m: Math.round(gap),
      max_m: Math.round(maxClosing_m),
    })
  if (!survey.open) length_m += gap
  if (length_m < limits.minLength_m)
    throw new CoreError('circuit-too-short', survey.name, { length_m: Math.round(length_m), min_m: limits.minLength_m })
  checkHeights(survey)
}

/** @throws CoreError 'circuit-self-crossing' naming the two stretches that cross */
export const checkCrossing = ({ x_m, y_m, open }: Pick<Survey, 'x_m' | 'y_m' | 'open'>): void => {
  const crossing = findCrossing(x_m, y_m, open === true)
  if (!crossing) return
  const at = `${row(crossing[0])} and ${row(crossing[1])}`
  throw new CoreError('circuit-self-crossing', at, { at })
}

/** Neighbouring points further apart than this in height, over the distance between them, are no road. */
const STEEPEST = 0.4
/** Minimum step over which heights show a slope rather than noise (m). */
const SLOPE_OVER_M = 10

const checkHeights = ({ x_m, y_m, z_m }: Survey): void => {
  const n = x_m.length
  let from = 0
  let length_m = 0
  for (let i = 1; i < n; i++) {
    length_m += Math.hypot(x_m[i] - x_m[i - 1], y_m[i] - y_m[i - 1])
    if (length_m < SLOPE_OVER_M) continue
    const rise_m = z_m[i] - z_m[from]
    if (Math.abs(rise_m) > STEEPEST * length_m)
      throw new CoreError('circuit-height', `${row(from)} to ${row(i)}`, { rise_m: Math.round(rise_m), length_m: Math.round(length_m) })
    from = i
    length_m = 0
  }
}

/** A new width reaches its value over this much of the road before and after its stretch (m). */
const TAPER_M = 15

/**
 * The same survey with a width that somebody gave (m on each side): everywhere, or from one station to another, over the start line where
 * `to_m` is less. A stretch runs out into the road beside it, which stays as it was; `widthGiven` tells the one from the other where widths were assumed.
 */
export const withWidth = (survey: Survey, left_m: number, right_m: number, stretch?: { from_m: number; to_m: number }): Survey => {
  if (!stretch) {
    const { widthAssumed: _, widthGiven: __, ...rest } = survey
    return { ...rest, widthLeft_m: survey.widthLeft_m.map(() => left_m), widthRight_m: survey.widthRight_m.map(() => right_m) }
  }
  const { x_m, y_m } = survey
  const n = x_m.length
  const at_m = new Float64Array(n)
  for (let i = 1; i < n; i++) at_m[i] = at_m[i - 1] + Math.hypot(x_m[i] - x_m[i - 1], y_m[i] - y_m[i - 1])
  const round_m = at_m[n - 1] + Math.hypot(x_m[0] - x_m[n - 1], y_m[0] - y_m[n - 1])
  const ahead = (from: number, to: number): number => (((to - from) % round_m) + round_m) % round_m
  const length_m = ahead(stretch.from_m, stretch.to_m)
  /** How much of the new width holds at a point: all of it within the stretch, less and less beside it. */
  const share = (i: number): number => {
    if (ahead(stretch.from_m, at_m[i]) <= length_m) return 1
    const away_m = Math.min(ahead(stretch.to_m, at_m[i]), ahead(at_m[i], stretch.from_m))
    return Math.max(0, 1 - away_m / TAPER_M)
  }
  const blend = (column: Float64Array, value: number): Float64Array => column.map((own, i) => own + share(i) * (value - own))
  const wide = { ...survey, widthLeft_m: blend(survey.widthLeft_m, left_m), widthRight_m: blend(survey.widthRight_m, right_m) }
  if (!survey.widthAssumed) return wide
  const widthGiven = Float64Array.from(at_m, (_, i) => (survey.widthGiven?.[i] === 1 || share(i) === 1 ? 1 : 0))
  if (widthGiven.some((given) => given === 0)) return { ...wide, widthGiven }
  const { widthAssumed: _, widthGiven: __, ...known } = wide
  return known
}

/**
 * A survey in local coordinates, turned so that y points north. `up_deg`: where the map's upper edge looks on the ground, clockwise from
 * north. Stations stay as they are.
 */
export const turnedToNorth = (survey: Survey, up_deg: number): Survey => {
  const [sin, cos] = [Math.sin(radians(up_deg)), Math.cos(radians(up_deg))]
  return {
    ...survey,
    x_m: survey.x_m.map((x, i) => x * cos + survey.y_m[i] * sin),
    y_m: survey.y_m.map((y, i) => y * cos - survey.x_m[i] * sin),
    northSet: true,
  }
}

/** A point nearer than this to one of the survey's is that one (m). */
const SAME_POINT_M = 0.5

/** The same closed survey, beginning at another place on its centreline. */
export const beginningAt = (survey: Survey, x_m: number, y_m: number): Survey => {
  const n = survey.x_m.length
  // The segment that passes nearest, and the share of it before the place.
  let best = { i: 0, share: 0, away_m: Number.POSITIVE_INFINITY }
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    const [dx, dy] = [survey.x_m[j] - survey.x_m[i], survey.y_m[j] - survey.y_m[i]]
    const along = ((x_m - survey.x_m[i]) * dx + (y_m - survey.y_m[i]) * dy) / (dx * dx + dy * dy)
    const share = Math.min(1, Math.max(0, along))
    const away_m = Math.hypot(survey.x_m[i] + share * dx - x_m, survey.y_m[i] + share * dy - y_m)
    if (away_m < best.away_m) best = { i, share, away_m }
  }
  const next = (best.i + 1) % n
  const length_m = Math.hypot(survey.x_m[next] - survey.x_m[best.i], survey.y_m[next] - survey.y_m[best.i])
  const before = best.share * length_m < SAME_POINT_M
  const after = (1 - best.share) * length_m < SAME_POINT_M
  const first = before ? best.i : next
  const turned = (column: Float64Array): Float64Array => {
    const rest = Float64Array.from({ length: n }, (_, k) => column[(first + k) % n])
    if (before || after) return rest
    return Float64Array.of(column[best.i] + best.share * (column[next] - column[best.i]), ...rest)
  }
  return withColumns(survey, turned)
}

/** The same survey in the other direction, from the same start point where it is closed. */
export const reverseSurvey = (survey: Survey): Survey => {
  const n = survey.x_m.length
  // A closed lap keeps its first point, an open course begins at its end.
  const turned = (column: Float64Array): Float64Array => Float64Array.from(column, (_, i) => column[survey.open ? n - 1 - i : (n - i) % n])
  return {
    ...survey,
    x_m: turned(survey.x_m),
    y_m: turned(survey.y_m),
    z_m: turned(survey.z_m),
    widthLeft_m: turned(survey.widthRight_m),
    widthRight_m: turned(survey.widthLeft_m),
    bank_rad: turned(survey.bank_rad).map((bank) => -bank),
    ...(survey.widthGiven ? { widthGiven: turned(survey.widthGiven) } : {}),
  }
}

/** A road is not banked by more than this (rad). */
const STEEPEST_BANK = Math.PI / 4

const checkBank = ({ bank_rad }: Survey): void => {
  const steep = bank_rad.findIndex((bank) => Math.abs(bank) > STEEPEST_BANK)
  if (steep >= 0)
    throw new CoreError('circuit-bank', row(steep), {
      bank_deg: Math.round(degrees(bank_rad[steep])),
      max_deg: Math.round(degrees(STEEPEST_BANK)),
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
const findCrossing = (x: Float64Array, y: Float64Array, open: boolean): [number, number] | null => {
  const n = x.length
  const next = (i: number): number => (i + 1 === n ? 0 : i + 1)
  let cell_m = 0
  const segments = open ? n - 1 : n
  for (let i = 0; i < segments; i++) cell_m = Math.max(cell_m, Math.hypot(x[next(i)] - x[i], y[next(i)] - y[i]))
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
  for (let i = 0; i < segments; i++) {
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

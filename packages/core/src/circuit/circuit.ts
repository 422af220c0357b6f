import type { GeoOrigin } from './geo-origin.ts'

/**
 * A circuit at even stations. All columns have length `count`; station i lies at s = i·step_m, and station `count`
 * would be station 0 again; on an open course the last station lies at its end. Signs: left is positive (offset, curvature), bank positive when the left edge is higher.
 */
export type Circuit = {
  name: string
  length_m: number
  step_m: number
  count: number
  s_m: Float64Array
  x_m: Float64Array
  y_m: Float64Array
  z_m: Float64Array
  /** Direction of travel, anticlockwise from east. */
  heading_rad: Float64Array
  kappa_1pm: Float64Array
  widthLeft_m: Float64Array
  widthRight_m: Float64Array
  bank_rad: Float64Array
  grade_rad: Float64Array
  /** d²z/ds²: positive in a dip, negative over a crest. */
  kappaVertical_1pm: Float64Array
  origin?: GeoOrigin
  /** An open course: station 0 and the last one are its ends, and the step from one to the other does not exist. */
  open?: boolean
  /** Nobody measured the road's width: what lies at its edges is not known. */
  widthAssumed?: boolean
  /** Where it was given all the same: 1 at those stations, 0 at the others. */
  widthGiven?: Float64Array
  /** Local coordinates that somebody has turned so that y points north. */
  northSet?: boolean
}

/** Where nobody gave the width of a road that is partly assumed, in order from the start line (m). */
export const assumedStretches = ({ widthGiven, step_m, length_m }: Circuit): { from_m: number; to_m: number }[] => {
  const found: { from_m: number; to_m: number }[] = []
  let from = -1
  for (const [i, given] of (widthGiven ?? new Float64Array()).entries()) {
    if (given === 0 && from < 0) from = i
    if (given === 1 && from >= 0) {
      found.push({ from_m: from * step_m, to_m: i * step_m })
      from = -1
    }
  }
  return from < 0 ? found : [...found, { from_m: from * step_m, to_m: length_m }]
}

/** Whether the width is only assumed anywhere on a stretch of `steps` stations from station number `first` on, over the start line too. */
export const isWidthAssumed = (
  { widthAssumed, widthGiven, count }: Pick<Circuit, 'widthAssumed' | 'widthGiven' | 'count'>,
  first = 0,
  steps = count,
): boolean => {
  if (!widthAssumed || !widthGiven) return widthAssumed === true
  for (let k = 0; k < steps; k++) if (widthGiven[(first + k) % count] === 0) return true
  return false
}

// Five-point Gauss–Legendre nodes and weights on [−1, 1] (Abramowitz & Stegun, table 25.4).

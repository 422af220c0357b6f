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
}
// Five-point Gauss–Legendre nodes and weights on [−1, 1] (Abramowitz & Stegun, table 25.4).

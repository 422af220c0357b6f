/** A recorded drive: columns of equal length; stamps strictly increasing. Only time and place are always there. */
export type Log = {
  time_s: Float64Array
  lat_deg: Float64Array
  lon_deg: Float64Array
  ele_m: Float64Array
  speed_mps?: Float64Array
  throttle_pct?: Float64Array
  brake_bar?: Float64Array
  steer_deg?: Float64Array
  gear?: Float64Array
  rpm?: Float64Array
}

/** The channels that a log may hold beside time and place. */
export const logChannels = ['speed_mps', 'throttle_pct', 'brake_bar', 'steer_deg', 'gear', 'rpm'] as const

/** All columns of a log in the order in which they are written; those of time and place are always there. */
export const logColumns = ['time_s', 'lat_deg', 'lon_deg', 'ele_m', ...logChannels] as const

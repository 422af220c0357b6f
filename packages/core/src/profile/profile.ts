/** A speed profile over a line's stations (columns of the circuit's `count` length). */
export type Profile = {
  speed_mps: Float64Array
  /** Lengthways tyre demand (m/s²): positive drives, negative brakes; slope, air and rolling are in it. */
  ax_mps2: Float64Array
  /** Sideways tyre demand (m/s²), positive to the left. */
  ay_mps2: Float64Array
  /** Time at each station from station 0 (s). */
  time_s: Float64Array
  gear: Uint8Array
  /** Share of the full dry ellipse in use, 0 … 1. */
  gripUsed: Float64Array
  lapTime_s: number
  iterations: number
  termination: 'converged' | 'iteration-limit'
}

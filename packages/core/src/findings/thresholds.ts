/** Starting values of what counts as a mistake: distances in m, times in s, demands in g, shares of one. A school may change them. */
export const thresholds = {
  brakeEarly_m: 8,
  brakeEarly_s: 0.35,
  brakeLate_m: 6,
  brakeLate_s: 0.25,
  /** Least share of the reference's hardest braking, in zones longer than `softZone_s`. */
  softPeak: 0.75,
  softZone_s: 1,
  build_s: 0.6,
  /** Let go below the first share of the peak and back above the second. */
  splitRelease: 0.25,
  splitAgain: 0.4,
  overSlowed: 0.06,
  hold_s: 0.3,
  dumpFrom: 0.6,
  dump_s: 0.15,
  inTurn_g: 0.1,
  inTurn_s: 0.3,
  noTrail_s: 0.4,
  coast_s: 0.7,
  setupNarrow_m: 1.5,
  turnIn_m: 5,
  turnIn_s: 0.2,
  apexPlace_m: 5,
  /** Share of the corner's length. */
  apexPlace: 0.12,
  apexMissed_m: 1.2,
  exitUnused_m: 2,
  exitWide_m: 0.3,
  /** A reference whose own margin at the exit is under this lowers exitWide_m to zero. */
  exitOwnMargin_m: 0.8,
  limit_m: 0,
  tooMuchRoad_m: 1.5,
  /** Share of the peak curvature by which the wheel goes back and up again for another bite. */
  bite: 0.12,
  pinch: 0.12,
  pinch_s: 0.35,
  caught: 0.1,
  throttleEarly_s: 0.1,
  throttleLate_s: 0.4,
  /** Points of pedal travel, as a share. */
  dip: 0.15,
  jabFrom: 0.2,
  jabTo: 0.8,
  jab_s: 0.25,
  shift_s: 0.4,
  /** Faster through the slowest point than the plan by this share is over its pace. */
  overPace: 0.06,
} as const

/** A threshold widened by noise to more than this many times its own value can not be judged. */
export const TELLS_UP_TO = 3

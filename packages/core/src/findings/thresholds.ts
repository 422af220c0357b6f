import type { MistakeCode } from '../mistakes/mistakes.ts'

/** Starting values of what counts as a mistake: distances in m, times in s, demands in g, shares of one. */
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
  fullLate_m: 15,
  fullLate_s: 0.5,
  /** Short of full throttle for this long, at the cost of this much. */
  short_s: 1,
  shortLost_s: 0.05,
  shift_s: 0.4,
  /** Longer than the reference between two downshifts of one zone. */
  shiftSlow_s: 0.35,
  /** The slowest point, where it lies elsewhere and costs this much. */
  slowest_m: 8,
  slowest_s: 0.35,
  slowestLost_s: 0.05,
  /** Faster through the slowest point than the plan by this share is over its pace. */
  overPace: 0.06,
} as const

/** Thresholds of mistakes as the judges use them. */
export type Thresholds = Readonly<Record<keyof typeof thresholds, number>>

/**
 * Thresholds that a school may set for itself, with the mistakes that they are about. The others are levels at which pedals
 * and wheel are measured: with other ones the same names would mean something else.
 */
export const ownThresholds = {
  brakeEarly_m: ['brake-early', 'lift-early'],
  brakeEarly_s: ['brake-early', 'lift-early'],
  brakeLate_m: ['brake-late', 'lift-late'],
  brakeLate_s: ['brake-late', 'lift-late'],
  softPeak: ['brake-soft'],
  build_s: ['brake-slow-build'],
  overSlowed: ['brake-over'],
  hold_s: ['brake-hold'],
  dump_s: ['brake-dump'],
  inTurn_s: ['brake-in-turn'],
  noTrail_s: ['no-trail'],
  coast_s: ['coast'],
  setupNarrow_m: ['setup-narrow'],
  turnIn_m: ['turn-in-early', 'turn-in-late'],
  turnIn_s: ['turn-in-early', 'turn-in-late'],
  apexPlace_m: ['apex-early', 'apex-late'],
  apexPlace: ['apex-early', 'apex-late'],
  apexMissed_m: ['apex-missed'],
  exitUnused_m: ['exit-unused'],
  exitWide_m: ['exit-wide'],
  tooMuchRoad_m: ['too-much-road'],
  bite: ['steer-notched'],
  pinch: ['steer-pinched'],
  pinch_s: ['steer-pinched'],
  throttleEarly_s: ['throttle-early'],
  throttleLate_s: ['throttle-late'],
  dip: ['throttle-dip'],
  jab_s: ['throttle-jab'],
  fullLate_m: ['throttle-full-late'],
  fullLate_s: ['throttle-full-late'],
  short_s: ['throttle-short'],
  shift_s: ['shift-early', 'shift-late'],
  shiftSlow_s: ['shift-slow'],
  slowest_m: ['slowest-early', 'slowest-late'],
  slowest_s: ['slowest-early', 'slowest-late'],
  overPace: ['overdriving'],
} as const satisfies Partial<Record<keyof Thresholds, readonly MistakeCode[]>>
export type OwnThreshold = keyof typeof ownThresholds
/** Thresholds that a school has set for itself; the rest are the usual ones. */
export type OwnThresholds = Readonly<Partial<Record<OwnThreshold, number>>>

/** Range around the usual value that a school may choose from; outside it the names would no longer be right. */
const LEAST = 0.4
const MOST = 4

/** The smallest and largest value that a school may set. */
export const thresholdRange = (name: OwnThreshold): readonly [number, number] =>
  name === 'softPeak' ? [0.5, 0.95] : [thousandths(LEAST * thresholds[name]), thousandths(MOST * thresholds[name])]

const thousandths = (value: number): number => Math.round(1000 * value) / 1000

/** The thresholds of a school: its own where it has set them within their range, the usual ones else. */
export const thresholdsOf = (own: OwnThresholds = {}): Thresholds => {
  const set = Object.entries(own).filter(([name, value]) => {
    const [min, max] = thresholdRange(name as OwnThreshold)
    return value >= min && value <= max
  })
  return { ...thresholds, ...Object.fromEntries(set) }
}

/** A threshold widened by noise to more than this many times its own value can not be judged. */
export const TELLS_UP_TO = 3

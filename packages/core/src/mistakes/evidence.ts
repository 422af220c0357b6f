import type { SuggestedCode } from './mistakes.ts'

/**
 * What is measured of each mistake, by code: its own value, what the reference did, and how much is allowed. Names carry
 * their units; `…Share` is a fraction, gears and numbers of steering inputs are counts. Places are in metres from the line
 * of the lap. Judges write exactly these, words read exactly these: the compiler holds both to this table.
 */
export const evidenceKeys = {
  'brake-early': ['brake_m', 'referenceBrake_m', 'later_m', 'speed_mps', 'allowed_m'],
  'brake-late': ['brake_m', 'referenceBrake_m', 'later_m', 'speed_mps', 'allowed_m'],
  'brake-soft': ['peak_g', 'referencePeak_g', 'share', 'allowedShare'],
  'brake-slow-build': ['build_s', 'referenceBuild_s', 'allowed_s'],
  'brake-split': ['leastShare', 'allowedShare'],
  'brake-over': ['slowest_mps', 'referenceSlowest_mps', 'underShare', 'allowedShare'],
  'brake-hold': ['release_m', 'referenceRelease_m', 'held_s', 'allowed_s'],
  'brake-dump': ['fall_s', 'allowed_s'],
  'brake-in-turn': ['inTurn_s', 'allowed_s'],
  'no-trail': ['gap_s', 'allowed_s'],
  coast: ['coast_s', 'referenceCoast_s', 'allowed_s'],
  'setup-narrow': ['outer_m', 'referenceOuter_m', 'short_m', 'speed_mps', 'allowed_m'],
  'turn-in-early': ['turnIn_m', 'referenceTurnIn_m', 'later_m', 'allowed_m'],
  'turn-in-late': ['turnIn_m', 'referenceTurnIn_m', 'later_m', 'allowed_m'],
  'apex-early': ['apex_m', 'referenceApex_m', 'later_m', 'allowed_m'],
  'apex-late': ['apex_m', 'referenceApex_m', 'later_m', 'allowed_m'],
  'apex-missed': ['inner_m', 'referenceInner_m', 'further_m', 'allowed_m'],
  'exit-unused': ['outer_m', 'referenceOuter_m', 'left_m', 'allowed_m'],
  'exit-wide': ['margin_m', 'referenceMargin_m', 'wanted_m'],
  'limit-crossed': ['over_m', 'inside'],
  'wrong-lane': ['over_m'],
  'too-much-road': ['wider_m', 'allowed_m'],
  'steer-notched': ['bites', 'referenceBites', 'at_m'],
  'steer-pinched': ['held_s', 'excessShare', 'allowed_s'],
  'steer-caught': ['againstShare', 'allowedShare'],
  'throttle-early': ['throttle_m', 'referenceThrottle_m', 'later_s', 'dipShare', 'allowed_s'],
  'throttle-late': ['throttle_m', 'referenceThrottle_m', 'later_s', 'allowed_s'],
  'throttle-dip': ['dipShare', 'referenceDipShare', 'allowedShare'],
  'throttle-jab': ['rise_s', 'allowed_s'],
  'throttle-full-late': ['full_m', 'referenceFull_m', 'later_m', 'allowed_m'],
  'throttle-short': ['short_s', 'lost_s', 'allowed_s'],
  'lift-missing': ['referenceLift_m'],
  'lift-late': ['lift_m', 'referenceLift_m', 'speed_mps', 'later_m', 'allowed_m'],
  'lift-early': ['lift_m', 'referenceLift_m', 'speed_mps', 'later_m', 'lost_s', 'allowed_m'],
  'shift-early': ['gear', 'referenceGear'],
  'shift-late': ['gear', 'referenceGear'],
  'shift-slow': ['pause_s', 'referencePause_s', 'allowed_s'],
  'wrong-gear': ['gear', 'referenceGear'],
  'slowest-early': ['slowest_m', 'referenceSlowest_m', 'later_m', 'lost_s', 'allowed_m'],
  'slowest-late': ['slowest_m', 'referenceSlowest_m', 'later_m', 'lost_s', 'allowed_m'],
  overdriving: ['slowest_mps', 'referenceSlowest_mps', 'overShare', 'allowedShare'],
} as const satisfies Record<SuggestedCode, readonly string[]>

/** The evidence of one code. */
export type EvidenceOf<C extends SuggestedCode> = Readonly<Record<(typeof evidenceKeys)[C][number], number>>

/** A code with its own evidence, for each of some codes. */
export type Evidenced<C extends SuggestedCode = SuggestedCode> = { [K in C]: { code: K; evidence: EvidenceOf<K> } }[C]

/** Evidence of any code. */
export type Evidence = EvidenceOf<SuggestedCode>

/** True if a record holds all that the evidence of a code needs, as finite numbers. */
export const isEvidenceOf = <C extends SuggestedCode>(code: C, record: Readonly<Record<string, unknown>>): record is EvidenceOf<C> =>
  evidenceKeys[code].every((key) => Number.isFinite(record[key]))

/** What tells how big a mistake was, whatever its code: the first of these that its evidence has. */
const sizeKeys = [
  'later_m',
  'later_s',
  'underShare',
  'overShare',
  'held_s',
  'inTurn_s',
  'gap_s',
  'coast_s',
  'short_m',
  'further_m',
  'left_m',
  'over_m',
  'wider_m',
  'dipShare',
  'short_s',
  'pause_s',
] as const

/** How big a mistake was, in the unit of its code; null where its evidence has no size. */
export const evidenceSize = ({ evidence }: { evidence: Readonly<Record<string, number>> }): number | null => {
  const key = sizeKeys.find((one) => evidence[one] !== undefined)
  return key === undefined ? null : Math.abs(evidence[key])
}

/** A size that changed by less than this share is the same. */
const SAME_SHARE = 0.2

/** Whether a mistake gets smaller or bigger from its first time to its last; null where too little is known. */
export const trendOf = (sizes: readonly number[]): 'smaller' | 'bigger' | 'same' | null => {
  const [first] = sizes
  const last = sizes.at(-1)
  if (sizes.length < 2 || first === undefined || last === undefined || first === 0) return null
  const change = last / first - 1
  return change < -SAME_SHARE ? 'smaller' : change > SAME_SHARE ? 'bigger' : 'same'
}

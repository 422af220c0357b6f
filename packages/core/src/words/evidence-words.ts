import type { Evidence } from '../findings/judged.ts'
import type { SuggestedCode } from '../mistakes/mistakes.ts'
import type { Measures } from '../units/format.ts'

/** The act with its size, what the reference did and what is allowed, by code; never about the person. */
export type EvidenceWords = Record<SuggestedCode, (e: Evidence) => string>

const upTo = (allowed: string): string => `(up to ${allowed} is fine)`

/** The act with its size, what the reference did and what is allowed, code by code. */
export const englishEvidence = ({ metres, fine, speed, seconds, percent }: Measures): EvidenceWords => ({
  'brake-early': (e) => `braked ${metres(e.later_m)} before the mark ${upTo(metres(e.allowed_m))}`,
  'brake-late': (e) => `braked ${metres(e.later_m)} after the mark ${upTo(metres(e.allowed_m))}`,
  'brake-soft': (e) => `pressed the brake to ${percent(e.share)} of what the corner asks (from ${percent(e.allowedShare)} on is fine)`,
  'brake-slow-build': (e) => `took ${seconds(e.build_s)} to full brake ${upTo(seconds(e.allowed_s))}`,
  'brake-split': (e) => `let the brake go to ${percent(e.leastShare)} and pressed it again`,
  'brake-over': (e) => `slowed to ${speed(e.slowest_mps)} where ${speed(e.referenceSlowest_mps)} holds`,
  'brake-hold': (e) => `held the brake ${seconds(e.held_s)} past its release ${upTo(seconds(e.allowed_s))}`,
  'brake-dump': (e) => `dropped the brake within ${seconds(Math.max(0, e.fall_s ?? 0), 2)} in the turn`,
  'brake-in-turn': (e) => `braked for ${seconds(e.inTurn_s)} after the turn-in ${upTo(seconds(e.allowed_s))}`,
  'no-trail': (e) => `the brake was gone ${seconds(e.gap_s)} before the turn-in ${upTo(seconds(e.allowed_s))}`,
  coast: (e) => `rolled ${seconds(e.coast_s)} on neither pedal ${upTo(seconds(e.allowed_s))}`,
  'setup-narrow': (e) => `turned in ${fine(e.short_m)} short of the outside ${upTo(fine(e.allowed_m))}`,
  'turn-in-early': (e) => `turned in ${metres(e.later_m)} early ${upTo(metres(e.allowed_m))}`,
  'turn-in-late': (e) => `turned in ${metres(e.later_m)} late ${upTo(metres(e.allowed_m))}`,
  'apex-early': (e) => `met the inside ${metres(e.later_m)} early ${upTo(metres(e.allowed_m))}`,
  'apex-late': (e) => `met the inside ${metres(e.later_m)} late ${upTo(metres(e.allowed_m))}`,
  'apex-missed': (e) => `passed the apex ${fine(e.farther_m)} farther out than planned ${upTo(fine(e.allowed_m))}`,
  'exit-unused': (e) => `left ${fine(e.left_m)} of road at the exit ${upTo(fine(e.allowed_m))}`,
  'exit-wide': (e) =>
    (e.margin_m ?? 0) < 0
      ? `ran ${fine(e.margin_m)} over the outer edge at the exit`
      : `came within ${fine(e.margin_m)} of the outer edge at the exit`,
  'limit-crossed': (e) => `a wheel was ${fine(e.over_m)} over the edge`,
  'wrong-lane': (e) => `a wheel was ${fine(e.over_m)} out of the lane`,
  'too-much-road': (e) => `went ${fine(e.wider_m)} wider than it pays ${upTo(fine(e.allowed_m))}`,
  'steer-notched': (e) => `turned the wheel in ${(e.bites ?? 2).toFixed(0)} bites`,
  'steer-pinched': (e) => `held the wheel for ${seconds(e.held_s)} after the apex with the throttle rising`,
  'steer-caught': (e) => `put on opposite lock, ${percent(e.againstShare)} of the corner’s`,
  'throttle-early': (e) => `touched the throttle ${seconds(e.later_s)} early and took ${percent(e.dipShare)} back`,
  'throttle-late': (e) => `touched the throttle ${seconds(e.later_s)} late ${upTo(seconds(e.allowed_s))}`,
  'throttle-dip': (e) => `took ${percent(e.dipShare)} of the throttle back ${upTo(percent(e.allowedShare))}`,
  'throttle-jab': (e) => `opened the throttle in ${seconds(Math.max(0, e.rise_s ?? 0), 2)}`,
  'lift-missing': () => 'went in without the lift',
  'lift-late': (e) => `lifted ${metres(e.later_m)} after the mark ${upTo(metres(e.allowed_m))}`,
  'shift-early': (e) => `was in gear ${e.gear ?? 0} where ${e.referenceGear ?? 0} is due: shifted too soon`,
  'shift-late': (e) => `was in gear ${e.gear ?? 0} where ${e.referenceGear ?? 0} is due: shifted too late`,
  'wrong-gear': (e) => `took the corner in gear ${e.gear ?? 0} where ${e.referenceGear ?? 0} is planned`,
  overdriving: (e) => `took it at ${speed(e.slowest_mps)} where ${speed(e.referenceSlowest_mps)} is the pace`,
})

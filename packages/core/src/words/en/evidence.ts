import type { Measures } from '../../units/format.ts'
import type { EvidenceTable, PraiseTable } from '../reader-words.ts'

const upTo = (limit: string): string => `(up to ${limit} is fine)`

/** The act with its size, in English. */
export const evidence = ({ metres, fine, speed, seconds, percent }: Measures): EvidenceTable => ({
  'brake-early': { act: (e) => `braked ${metres(e.later_m)} before the mark`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'brake-late': { act: (e) => `braked ${metres(e.later_m)} after the mark`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'brake-soft': {
    act: (e) => `braked at ${percent(e.share)} of what the corner needs`,
    allowed: (e) => `(${percent(e.allowedShare)} or more is fine)`,
  },
  'brake-slow-build': { act: (e) => `took ${seconds(e.build_s)} to reach full pressure`, allowed: (e) => upTo(seconds(e.allowed_s)) },
  'brake-split': { act: (e) => `came off to ${percent(e.leastShare)} and braked again` },
  'brake-over': { act: (e) => `slowed to ${speed(e.slowest_mps)}; ${speed(e.referenceSlowest_mps)} would hold` },
  'brake-hold': {
    act: (e) => `stayed on the brake ${seconds(e.held_s)} past the release point`,
    allowed: (e) => upTo(seconds(e.allowed_s)),
  },
  'brake-dump': { act: (e) => `came off the brake in ${seconds(Math.max(0, e.fall_s), 2)} after turn-in` },
  'brake-in-turn': { act: (e) => `was still braking ${seconds(e.inTurn_s)} after turn-in`, allowed: (e) => upTo(seconds(e.allowed_s)) },
  'no-trail': { act: (e) => `was off the brake ${seconds(e.gap_s)} before turn-in`, allowed: (e) => upTo(seconds(e.allowed_s)) },
  coast: { act: (e) => `coasted for ${seconds(e.coast_s)}`, allowed: (e) => upTo(seconds(e.allowed_s)) },
  'setup-narrow': { act: (e) => `turned in ${fine(e.short_m)} too far from the outside`, allowed: (e) => upTo(fine(e.allowed_m)) },
  'turn-in-early': { act: (e) => `turned in ${metres(e.later_m)} early`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'turn-in-late': { act: (e) => `turned in ${metres(e.later_m)} late`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'apex-early': { act: (e) => `reached the inside ${metres(e.later_m)} early`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'apex-late': { act: (e) => `reached the inside ${metres(e.later_m)} late`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'apex-missed': { act: (e) => `passed the apex ${fine(e.further_m)} further out than planned`, allowed: (e) => upTo(fine(e.allowed_m)) },
  'exit-unused': { act: (e) => `left ${fine(e.left_m)} of road unused at the exit`, allowed: (e) => upTo(fine(e.allowed_m)) },
  'exit-wide': {
    act: (e) =>
      e.margin_m < 0
        ? `ran ${fine(e.margin_m)} over the outer edge at the exit`
        : `came within ${fine(e.margin_m)} of the outer edge at the exit`,
  },
  'limit-crossed': { act: (e) => `put a wheel ${fine(e.over_m)} over the edge` },
  'wrong-lane': { act: (e) => `put a wheel ${fine(e.over_m)} out of the lane` },
  'too-much-road': { act: (e) => `went ${fine(e.wider_m)} wider than needed`, allowed: (e) => upTo(fine(e.allowed_m)) },
  'steer-notched': { act: (e) => `took ${e.bites.toFixed(0)} bites at the wheel` },
  'steer-pinched': { act: (e) => `kept the lock on for ${seconds(e.held_s)} after the apex while adding throttle` },
  'steer-caught': { act: (e) => `put on opposite lock, ${percent(e.againstShare)} of the lock for this corner` },
  'throttle-early': { act: (e) => `was on the throttle ${seconds(e.later_s)} early, then gave ${percent(e.dipShare)} back` },
  'throttle-late': { act: (e) => `was on the throttle ${seconds(e.later_s)} late`, allowed: (e) => upTo(seconds(e.allowed_s)) },
  'throttle-dip': { act: (e) => `came back off the throttle by ${percent(e.dipShare)}`, allowed: (e) => upTo(percent(e.allowedShare)) },
  'throttle-jab': { act: (e) => `opened the throttle in ${seconds(Math.max(0, e.rise_s), 2)}` },
  'throttle-full-late': { act: (e) => `was on full throttle ${metres(e.later_m)} late`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'throttle-short': {
    act: (e) => `was short of full throttle for ${seconds(e.short_s)} where it was due`,
    allowed: (e) => upTo(seconds(e.allowed_s)),
  },
  'lift-missing': { act: () => 'went in without lifting' },
  'lift-early': {
    act: (e) => `lifted ${metres(-e.later_m)} before the mark, ${e.lost_s.toFixed(2)} s lost up to the apex`,
    allowed: (e) => upTo(metres(-e.allowed_m)),
  },
  'lift-late': { act: (e) => `lifted ${metres(e.later_m)} after the mark`, allowed: (e) => upTo(metres(e.allowed_m)) },
  'shift-early': { act: (e) => `was in gear ${e.gear}, due ${e.referenceGear}: changed too soon` },
  'shift-late': { act: (e) => `was in gear ${e.gear}, due ${e.referenceGear}: changed too late` },
  'shift-slow': {
    act: (e) => `paused ${seconds(e.pause_s)} between two downshifts; the reference ${seconds(e.referencePause_s)}`,
    allowed: (e) => upTo(seconds(e.allowed_s)),
  },
  'slowest-early': {
    act: (e) => `was slowest ${metres(-e.later_m)} before the place, ${e.lost_s.toFixed(2)} s lost up to the next corner`,
    allowed: (e) => upTo(metres(-e.allowed_m)),
  },
  'slowest-late': {
    act: (e) => `was slowest ${metres(e.later_m)} past the place, ${e.lost_s.toFixed(2)} s lost up to the next corner`,
    allowed: (e) => upTo(metres(e.allowed_m)),
  },
  'wrong-gear': { act: (e) => `took the corner in gear ${e.gear}; ${e.referenceGear} is planned` },
  overdriving: { act: (e) => `took it at ${speed(e.slowest_mps)}; the pace is ${speed(e.referenceSlowest_mps)}` },
})

/** Praise for what held, in English. */
export const praise = ({ metres }: Measures): PraiseTable => ({
  gone: (mistake, lap) => `${mistake} up to lap ${lap}, not once since.`,
  brake: (within_m, laps) => `Braked within ${metres(within_m)} of the same spot on ${laps} laps; nothing else stood out.`,
  turnIn: (within_m, laps) => `Turned in within ${metres(within_m)} of the same spot on ${laps} laps; nothing else stood out.`,
  within: (laps) => `${laps} laps within the marks.`,
})

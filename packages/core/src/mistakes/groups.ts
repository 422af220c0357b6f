import type { MistakeCode } from './mistakes.ts'

/** Groups in which every mistake is found by hand, in the order in which they are shown. */
export const mistakeGroups = ['eyes-hands', 'brakes', 'line', 'throttle-gears', 'car-aids', 'traffic-flags-calls'] as const
export type MistakeGroup = (typeof mistakeGroups)[number]

const groups: Record<MistakeGroup, readonly MistakeCode[]> = {
  'eyes-hands': ['eyes-near', 'hands', 'tense', 'steer-notched', 'steer-pinched', 'steer-caught', 'position-on-seat', 'body-line'],
  brakes: [
    'brake-late',
    'brake-early',
    'brake-soft',
    'brake-slow-build',
    'lock-up',
    'brake-split',
    'brake-hold',
    'brake-dump',
    'brake-in-turn',
    'no-trail',
    'brake-over',
  ],
  line: [
    'turn-in-early',
    'turn-in-late',
    'apex-missed',
    'apex-early',
    'apex-late',
    'exit-wide',
    'exit-unused',
    'setup-narrow',
    'limit-crossed',
    'wrong-lane',
    'too-much-road',
  ],
  'throttle-gears': [
    'throttle-early',
    'throttle-late',
    'throttle-dip',
    'throttle-jab',
    'throttle-full-late',
    'throttle-short',
    'lift-missing',
    'lift-late',
    'lift-early',
    'coast',
    'shift-early',
    'shift-late',
    'shift-slow',
    'wrong-gear',
  ],
  'car-aids': ['aid-cut-in', 'spin', 'off', 'overdriving', 'slowest-early', 'slowest-late'],
  'traffic-flags-calls': ['flag-missed', 'following-traffic', 'poor-pass', 'spacing', 'pit-procedure', 'missed-call', 'call-too-late'],
}

/** Mistakes of riders, which nobody makes in a car. */
const ofRiders: ReadonlySet<MistakeCode> = new Set(['position-on-seat', 'body-line'])

/** The mistakes of a group that can be made with a vehicle. */
export const mistakesOf = (group: MistakeGroup, rider: boolean): MistakeCode[] =>
  groups[group].filter((code) => rider || !ofRiders.has(code))

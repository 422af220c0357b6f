import type { Evidence } from '../findings/judged.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import type { Measures } from '../units/format.ts'
import { CAR_LENGTH_M } from '../vehicle/car-length.ts'

/** Car lengths that a mark is moved by: half a one, one, or so many in all at one a lap. */
export const carLengths = (metres: number): 'half' | 'one' | number => {
  const n = Math.abs(metres) / CAR_LENGTH_M
  return n < 0.75 ? 'half' : n < 1.5 ? 'one' : Math.min(6, Math.round(n))
}

/** A distance in car lengths, as much as is changed in a lap: never more than one. */
const lengths = (metres: number): string => {
  const n = carLengths(metres)
  return n === 'half' ? 'half a car length' : n === 'one' ? 'a car length' : `a car length a lap, up to ${n} in all`
}

/** What is said of one mistake: with a size the student can do, how right feels, and a focus or drill for the next run. */
export type AdviceWords = Record<LogCode, { say: (e: Evidence) => string; cue: string; next: string }>

/** By how much a place is to change: whole metres or feet, a metre at least. */
export const atLeastOne = (measures: Measures, m: number | undefined): string => measures.metres(Math.max(1, m ?? 1))

/** What is said in English, code by code. */
export const englishAdvice = (measures: Measures): AdviceWords => ({
  'brake-early': {
    say: (e) => `Hold the throttle longer before the brake: ${lengths(e.later_m ?? 0)}.`,
    cue: 'The brake cone comes level with the mirror as the foot moves.',
    next: 'Call the cone aloud as the foot goes down, every lap.',
  },
  'brake-late': {
    say: (e) => `Brake earlier: ${lengths(e.later_m ?? 0)}. The rest follows.`,
    cue: 'There is time to breathe between brake and turn-in.',
    next: 'Half a length before the cone for three laps, then to the cone.',
  },
  'brake-soft': {
    say: () => 'Press firmly in the first third, then ease.',
    cue: 'The belt holds you at once, then lets go slowly.',
    next: 'Five stops in the box on the pad, same pressure each time.',
  },
  'brake-slow-build': {
    say: () => 'Reach full brake in half the time; squeeze, do not stamp.',
    cue: 'The nose is down before you have said “brake”.',
    next: 'Straight-line box on the pad: squeeze on a count of one.',
  },
  'brake-split': {
    say: () => 'One press, kept until it is done.',
    cue: 'The nose goes down once.',
    next: 'Say “one” with the pedal; no second word.',
  },
  'brake-over': {
    say: (e) => `Let it roll: ${measures.speedStep((e.referenceSlowest_mps ?? 0) - (e.slowest_mps ?? 0))} more at the slowest point.`,
    cue: 'You could go on without the throttle for a moment.',
    next: 'Same mark, a little less pressure at its end.',
  },
  'brake-hold': {
    say: () => 'Let go of the brake a moment sooner, at the mark that we agreed.',
    cue: 'The nose comes up as the wheel goes on.',
    next: 'Name the release aloud at this corner.',
  },
  'brake-dump': {
    say: () => 'Ease the brake off while the wheel goes on: twice as slowly.',
    cue: 'The nose rises as slowly as the wheel turns.',
    next: 'Slow laps: let the last of the brake take one second.',
  },
  'brake-in-turn': {
    say: () => 'Finish the brake before the wheel moves.',
    cue: 'The foot is still when the hands begin.',
    next: 'Brake half a length earlier, and be done by the cone.',
  },
  'no-trail': {
    say: () => 'Keep a trace of brake to the apex.',
    cue: 'The front still bites as you turn.',
    next: 'Slow laps: release on a count of three.',
  },
  coast: {
    say: () => 'Go straight from the brake to a steady throttle.',
    cue: 'One foot leaves as the other arrives.',
    next: 'Say “brake – gas” without a pause between.',
  },
  'setup-narrow': {
    say: (e) => `Use ${atLeastOne(measures, e.short_m)} more road before the corner.`,
    cue: 'The outside wheels run along the edge before you turn.',
    next: 'Be on the outside before the brake.',
  },
  'turn-in-early': {
    say: (e) => `Wait with the turn-in: ${lengths(e.later_m ?? 0)}.`,
    cue: 'It feels too late, and the apex comes by itself.',
    next: 'Touch the turn-in cone with the eyes, then turn.',
  },
  'turn-in-late': {
    say: (e) => `Look for the apex sooner and turn in earlier: ${lengths(e.later_m ?? 0)}.`,
    cue: 'The eyes are at the apex before the hands move.',
    next: 'Find the apex cone while still on the brake.',
  },
  'apex-early': {
    say: () => 'The inside comes too soon: wait with the turn-in.',
    cue: 'The wheel opens from the apex on, never closes again.',
    next: 'A car length later at the turn-in for three laps.',
  },
  'apex-late': {
    say: () => 'Come to the inside sooner: turn at the cone, eyes to the apex.',
    cue: 'The apex cone comes straight at you.',
    next: 'Eyes to the apex before the wheel moves.',
  },
  'apex-missed': {
    say: (e) => `${atLeastOne(measures, e.farther_m)} closer to the inside: slower in, eyes to the cone.`,
    cue: 'You could touch the cone.',
    next: 'Three laps at sighting pace, each over the apex mark.',
  },
  'exit-unused': {
    say: (e) => `Let the car run out: ${atLeastOne(measures, e.left_m)} of road are left.`,
    cue: 'The hands open and the car drifts to the edge by itself.',
    next: 'Open the wheel with the throttle, to the exit cone.',
  },
  'exit-wide': {
    say: () => 'Wait a car length with the turn-in; the exit then has room.',
    cue: 'The edge stays a metre away with the throttle open.',
    next: 'Half throttle until the exit is in sight.',
  },
  'limit-crossed': {
    say: () => 'Inside the lines first: slower, then the line.',
    cue: 'All four wheels stay on the road.',
    next: 'A step down in pace until three laps stay inside.',
  },
  'wrong-lane': {
    say: () => 'Back to the lane that we agreed.',
    cue: 'The seam stays on the same side of you.',
    next: 'Name the lane before each corner.',
  },
  'too-much-road': {
    say: () => 'The shorter way: width buys nothing here.',
    cue: 'Straight from one mark to the next.',
    next: 'Aim at the apex from the exit before.',
  },
  'steer-notched': {
    say: () => 'One slow, growing turn of the wheel.',
    cue: 'The hands move once and then wait.',
    next: 'Slalom on the pad at walking rhythm.',
  },
  'steer-pinched': {
    say: () => 'Open the wheel as the throttle goes down.',
    cue: 'The wheel comes back on its own.',
    next: 'Say “open” at the apex.',
  },
  'steer-caught': {
    say: () => 'Well caught; now find what led to it: throttle, lift or brake.',
    cue: 'The throttle moves as slowly as the wheel.',
    next: 'Circle on the pad: steady throttle to the edge of grip.',
  },
  'throttle-early': {
    say: () => 'Wait a moment, then once.',
    cue: 'The first touch is the one that stays.',
    next: 'Throttle only when the exit is in sight.',
  },
  'throttle-late': {
    say: () => 'A steady touch of throttle sooner.',
    cue: 'The car settles before the apex.',
    next: 'Say “touch” at the apex cone.',
  },
  'throttle-dip': {
    say: () => 'Take what you can keep: less at first, then more.',
    cue: 'The foot goes one way only.',
    next: 'Half throttle to the exit, then the rest.',
  },
  'throttle-jab': {
    say: () => 'Squeeze it open over a second.',
    cue: 'The back stays quiet.',
    next: 'Figure of eight on the pad with a slow foot.',
  },
  'lift-missing': {
    say: () => 'Lift, turn, back on.',
    cue: 'The nose takes a set before you turn.',
    next: 'Call the lift cone aloud.',
  },
  'lift-late': {
    say: (e) => `Lift sooner: ${lengths(e.later_m ?? 0)}.`,
    cue: 'The lift is over when the wheel moves.',
    next: 'Call the lift cone aloud.',
  },
  'shift-early': {
    say: () => 'A moment later with the lever, by the sound.',
    cue: 'The engine still pulls when you shift.',
    next: 'One thing only: the sound before the shift.',
  },
  'shift-late': {
    say: () => 'Shift before the wheel moves.',
    cue: 'Both hands are on the wheel at turn-in.',
    next: 'Shift at the second half of the brake.',
  },
  'wrong-gear': {
    say: (e) => `Gear ${e.referenceGear ?? ''} here, before turning in.`,
    cue: 'The engine answers at once on the way out.',
    next: 'Name the gear before each corner.',
  },
})

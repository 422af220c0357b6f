import type { Measures } from '../../units/format.ts'
import { carLengths } from '../../vehicle/car-length.ts'
import type { AdviceTable } from '../reader-words.ts'

/** A distance in car lengths, as much as is changed in a lap: never more than one. */
const lengths = (metres: number): string => {
  const n = carLengths(metres)
  return n === 'half' ? 'half a car length' : n === 'one' ? 'a car length' : `a car length a lap, up to ${n} in all`
}

const ordinals = ['', 'First', 'Second', 'Third', 'Fourth', 'Fifth', 'Sixth', 'Seventh', 'Eighth', 'Ninth', 'Tenth']

/** Advice on braking, in English. */
const braking = (measures: Measures) =>
  ({
    'brake-early': {
      say: (e) => `Stay on the throttle longer before you brake: ${lengths(e.later_m)}.`,
      cue: 'Your braking mark is level with your mirror as your foot moves.',
      next: 'Say “mark” out loud every lap as your foot goes down.',
    },
    'brake-late': {
      say: (e) => `Brake earlier: ${lengths(e.later_m)}. The rest follows.`,
      cue: 'You have time to breathe between braking and turning in.',
      next: 'Three laps half a car length before the mark, then at the mark.',
    },
    'brake-soft': {
      say: () => 'Press firmly in the first third, then ease.',
      cue: 'The belt holds you at once, then lets go slowly.',
      next: 'Five stops in the braking box, same pressure each time.',
    },
    'brake-slow-build': {
      say: () => 'Full pressure in half the time; build it, don’t stamp.',
      cue: 'The nose is down before you have said “brake”.',
      next: 'Braking box: full pressure by the count of one.',
    },
    'brake-split': {
      say: () => 'One press, held until you are slow enough.',
      cue: 'The nose goes down once.',
      next: 'Say “one” as you brake, and never “two”.',
    },
    'brake-over': {
      say: (e) => `Carry more: ${measures.speedStep(e.referenceSlowest_mps - e.slowest_mps)} faster at the slowest point.`,
      cue: 'The car still rolls for a moment before it needs throttle.',
      next: 'Same mark, a little less pressure at its end.',
    },
    'brake-hold': {
      say: () => 'Come off the brake a moment sooner, at the mark we agreed.',
      cue: 'The nose comes up as you turn in.',
      next: 'Say “off” out loud as you release here.',
    },
    'brake-dump': {
      say: () => 'Bleed the brake off as you turn in, half as fast.',
      cue: 'The nose rises as slowly as the wheel turns.',
      next: 'Slow laps: take a full second over the last of the brake.',
    },
    'brake-in-turn': {
      say: () => 'Finish braking before you turn.',
      cue: 'Your foot is still when your hands start.',
      next: 'Brake half a length earlier, and be done by the mark.',
    },
    'no-trail': {
      say: () => 'Carry a little brake to the apex.',
      cue: 'The front still bites as you turn.',
      next: 'Slow laps: release over a count of three.',
    },
    coast: {
      say: () => 'Go straight from the brake to a steady throttle.',
      cue: 'Your foot goes straight from one pedal to the other.',
      next: 'Say “brake, throttle” with no pause.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on the line, in English. */
const line = ({ atLeastOne }: Measures) =>
  ({
    'setup-narrow': {
      say: (e) => `Use ${atLeastOne(e.short_m)} more road before the corner.`,
      cue: 'The outside wheels run along the edge before you turn.',
      next: 'Be all the way out before you brake.',
    },
    'turn-in-early': {
      say: (e) => `Turn in later: ${lengths(e.later_m)}.`,
      cue: 'It feels too late, and the apex comes by itself.',
      next: 'Eyes on the turn-in mark, then turn.',
    },
    'turn-in-late': {
      say: (e) => `Look for the apex sooner and turn in earlier: ${lengths(e.later_m)}.`,
      cue: 'The eyes are at the apex before the hands move.',
      next: 'Find the apex while still on the brake.',
    },
    'apex-early': {
      say: () => 'You reach the inside too soon: turn in later.',
      cue: 'From the apex on you only unwind.',
      next: 'Three laps turning in a car length later.',
    },
    'apex-late': {
      say: () => 'Come to the inside sooner: turn at the mark, eyes to the apex.',
      cue: 'The apex comes straight at you.',
      next: 'Eyes to the apex before the wheel moves.',
    },
    'apex-missed': {
      say: (e) => `${atLeastOne(e.further_m)} closer to the inside: slower in, eyes to the apex.`,
      cue: 'You could touch the inner edge.',
      next: 'Three laps at sighting pace, on the apex every time.',
    },
    'exit-unused': {
      say: (e) => `Let the car run out: you have ${atLeastOne(e.left_m)} of road left.`,
      cue: 'The hands open and the car drifts to the edge by itself.',
      next: 'Unwind as the throttle goes in, out to the edge.',
    },
    'exit-wide': {
      say: () => 'Turn in a car length later and the exit has room.',
      cue: 'On the throttle you still have a metre to the edge.',
      next: 'Half throttle until the exit is in sight.',
    },
    'limit-crossed': {
      say: () => 'Stay on the track first: slow down, then work on the line.',
      cue: 'All four wheels stay on the road.',
      next: 'A step down in pace until three laps stay inside.',
    },
    'wrong-lane': {
      say: () => 'Back to the lane we agreed.',
      cue: 'The seam stays on the same side of you.',
      next: 'Name the lane before each corner.',
    },
    'too-much-road': {
      say: () => 'Take the shorter line: going wide gains nothing here.',
      cue: 'Straight from one mark to the next.',
      next: 'Aim at the apex from the exit before.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on the wheel, in English. */
const wheel = () =>
  ({
    'steer-notched': {
      say: () => 'One slow, growing turn of the wheel.',
      cue: 'The hands move once and then wait.',
      next: 'Slalom in a steady rhythm.',
    },
    'steer-pinched': {
      say: () => 'Unwind as the throttle goes in.',
      cue: 'The wheel comes back on its own.',
      next: 'Say “unwind” at the apex.',
    },
    'steer-caught': {
      say: () => 'Well caught. Now find what set it off: throttle, lift or brake.',
      cue: 'The throttle moves as slowly as the wheel.',
      next: 'Circle on the pad: steady throttle to the edge of grip.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on the throttle, in English. */
const throttle = () =>
  ({
    'throttle-early': {
      say: () => 'Wait a moment, then go once and stay on it.',
      cue: 'The first touch is the one that stays.',
      next: 'Throttle only when the exit is in sight.',
    },
    'throttle-late': {
      say: () => 'Pick up a steady throttle sooner.',
      cue: 'The car settles before the apex.',
      next: 'Say “touch” at the apex.',
    },
    'throttle-dip': {
      say: () => 'Only as much as you can keep: less at first, then more.',
      cue: 'The foot goes one way only.',
      next: 'Half throttle to the exit, then the rest.',
    },
    'throttle-jab': {
      say: () => 'Squeeze it open over a second.',
      cue: 'The rear stays settled.',
      next: 'Figure of eight with a slow right foot.',
    },
    'slowest-early': {
      say: (e) => `Ease off the brake later and more gently: ${lengths(e.later_m)}.`,
      cue: 'The car is still slowing a little as you reach the apex.',
      next: 'Roll in without a sudden end to the braking.',
    },
    'slowest-late': {
      say: (e) => `Be done slowing sooner: ${lengths(e.later_m)}.`,
      cue: 'From the apex on the car only gains speed.',
      next: 'Say “slow enough” out loud before the apex.',
    },
    'throttle-full-late': {
      say: (e) => `All of the throttle sooner: ${lengths(e.later_m)}.`,
      cue: 'The pedal is at its stop before the car is at the edge.',
      next: 'Say “all” out loud when your foot is down.',
    },
    'throttle-short': {
      say: () => 'Full throttle means to the floor, until you brake.',
      cue: 'Your foot feels the stop of the pedal.',
      next: 'One lap with the pedal on its stop down every straight.',
    },
    'lift-missing': {
      say: () => 'Lift, turn, back on.',
      cue: 'The nose takes a set before you turn.',
      next: 'Say “lift” out loud at the mark.',
    },
    'lift-early': {
      say: (e) => `Stay on the throttle longer before you lift: ${lengths(e.later_m)}.`,
      cue: 'The mark is beside you as your foot moves.',
      next: 'Say “lift” out loud at the mark, not before.',
    },
    'lift-late': {
      say: (e) => `Lift sooner: ${lengths(e.later_m)}.`,
      cue: 'You are done lifting before you turn.',
      next: 'Say “lift” out loud at the mark.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice on gears, in English. */
const gears = () =>
  ({
    'shift-early': {
      say: () => 'Change a moment later; go by the sound.',
      cue: 'The engine still pulls when you change gear.',
      next: 'Listen for one thing: the engine, before you change.',
    },
    'shift-late': {
      say: () => 'Change gear before the wheel moves.',
      cue: 'Both hands are on the wheel at turn-in.',
      next: 'Change down in the second half of the braking.',
    },
    'shift-slow': {
      say: () => 'Down one gear after the other, without a pause between.',
      cue: 'The last gear is in while you are still hard on the brake.',
      next: 'Count the gears down out loud as you brake.',
    },
    'wrong-gear': {
      say: (e) => `${ordinals[e.referenceGear] ?? `Gear ${e.referenceGear}`} here, before you turn in.`,
      cue: 'The engine pulls straight away at the exit.',
      next: 'Name the gear before each corner.',
    },
  }) satisfies Partial<AdviceTable>

/** Advice, in English, mistake by mistake. */
export const advice = (measures: Measures): AdviceTable => ({
  ...braking(measures),
  ...line(measures),
  ...wheel(),
  ...throttle(),
  ...gears(),
})

import type { MistakeCode } from '../mistakes/mistakes.ts'
import { mistakeName } from './words.ts'

/** A proposed change where most of a group make the same mistake: a cone by a car length at most, a sighter, an earlier call. */
const proposals: Partial<Record<MistakeCode, string>> = {
  'brake-early':
    'The brake cone may stand too soon for this pace: check it, then move it on by a car length at most, while half a second of grace is left.',
  'brake-late': 'Move the brake cone up by a car length, or call the brake earlier.',
  'brake-soft': 'Brief the pressure again; one stop each in the box on the pad.',
  'brake-slow-build': 'Brief the first squeeze again; one stop each in the box on the pad.',
  'brake-over': 'The brake cone may ask for too much: check the pace of the plan here, and say what to carry.',
  'brake-hold': 'Say where the brake ends; put the release into the call.',
  'turn-in-early': 'Move the turn-in cone on by a car length, and add a sighter where the eyes should be.',
  'turn-in-late': 'Call the turn-in earlier, or add a sighter before it.',
  'setup-narrow': 'Add a sighter on the outside before the corner.',
  'apex-early': 'Move the turn-in cone on by a car length.',
  'apex-late': 'Call “eyes to the apex” earlier.',
  'apex-missed': 'Make the apex cone taller, or add a sighter behind it.',
  'exit-wide': 'Move the turn-in cone on by a car length and brief the exit again; a step down until it is clear.',
  'exit-unused': 'Put the exit cone further out, and brief letting the car run.',
  'limit-crossed': 'Stop and brief the edge here before anybody drives on.',
  'throttle-early': 'Call the throttle later, with “once”.',
  'throttle-late': 'Call the throttle earlier.',
  'eyes-near': 'Add a sighter far ahead, and name it in the briefing.',
}

/** A proposed change for the group, in a sentence for the instructor. */
export const groupProposal = (code: MistakeCode): string =>
  proposals[code] ?? `Check cone, call and briefing for this first: ${mistakeName(code).toLowerCase()}.`

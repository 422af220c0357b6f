/** Codes of mistakes that a log can show; the others are logged by hand only. */
export const logCodes = [
  'brake-early',
  'brake-late',
  'brake-soft',
  'brake-slow-build',
  'brake-split',
  'brake-over',
  'brake-hold',
  'brake-dump',
  'brake-in-turn',
  'no-trail',
  'coast',
  'setup-narrow',
  'turn-in-early',
  'turn-in-late',
  'apex-early',
  'apex-late',
  'apex-missed',
  'exit-unused',
  'exit-wide',
  'limit-crossed',
  'wrong-lane',
  'too-much-road',
  'steer-notched',
  'steer-pinched',
  'steer-caught',
  'throttle-early',
  'throttle-late',
  'throttle-dip',
  'throttle-jab',
  'lift-missing',
  'lift-late',
  'shift-early',
  'shift-late',
  'wrong-gear',
] as const
export type LogCode = (typeof logCodes)[number]

/** Codes that running positions can suggest: those of a log, and going over the pace of the plan. */
export type SuggestedCode = LogCode | 'overdriving'

/** What a mistake is called, what is said against it, how it is meant for the student, and whether safety is at stake. */
export type MistakeWords = { name: string; correction: string; skill: Skill; safety: boolean }

/** Skills in the order in which they build on each other. */
export const skills = [
  'eyes',
  'braking place',
  'turn-in',
  'apex',
  'exit',
  'release of the brake',
  'throttle',
  'steering',
  'carrying speed',
  'safety',
] as const
export type Skill = (typeof skills)[number]

/** How teachable a skill is now, 0 … 1: those come first on which others build. */
export const teachableOf = (skill: Skill): number => 1 - 0.05 * skills.indexOf(skill)

/** Every mistake that can be logged, by code. */
export const mistakes = {
  'brake-early': {
    name: 'Braked early',
    correction: 'Hold the throttle to the mark; move by one car length a lap.',
    skill: 'braking place',
    safety: false,
  },
  'brake-late': { name: 'Braked late', correction: 'Brake earlier, at the cone; the rest follows.', skill: 'braking place', safety: true },
  'brake-soft': { name: 'Soft brake', correction: 'Firm first third, then ease.', skill: 'braking place', safety: false },
  'brake-over': {
    name: 'Slowed too much',
    correction: 'Brake less, or later by a length, and carry it.',
    skill: 'carrying speed',
    safety: false,
  },
  'turn-in-early': { name: 'Turned in early', correction: 'Wait; a car length later.', skill: 'turn-in', safety: false },
  'turn-in-late': { name: 'Turned in late', correction: 'Look for the apex sooner.', skill: 'turn-in', safety: false },
  'apex-missed': { name: 'Missed the apex', correction: 'Slower in, eyes to the cone.', skill: 'apex', safety: false },
  'exit-wide': { name: 'Ran wide at the exit', correction: 'Almost always an early turn-in: wait for it.', skill: 'exit', safety: true },
  'steer-notched': { name: 'Steering in bites', correction: 'One slow, growing turn of the wheel.', skill: 'steering', safety: false },
  'throttle-early': { name: 'Throttle too soon', correction: 'Wait, then once.', skill: 'throttle', safety: false },
  'throttle-late': { name: 'Throttle late', correction: 'Steady throttle sooner.', skill: 'throttle', safety: false },
  'eyes-near': { name: 'Eyes too near', correction: 'Eyes to the exit before the wheel moves.', skill: 'eyes', safety: false },
  'lock-up': { name: 'Locked a wheel', correction: 'Ease and re-apply; squeeze, then press.', skill: 'braking place', safety: true },
  tense: { name: 'Tense', correction: 'Breathe out on the straight; loose hands.', skill: 'steering', safety: false },
  'brake-slow-build': { name: 'Brake too slow to bite', correction: 'Squeeze sooner, not longer.', skill: 'braking place', safety: false },
  'brake-split': { name: 'Braked in two goes', correction: 'One application.', skill: 'release of the brake', safety: false },
  'brake-hold': {
    name: 'Held the brake too long',
    correction: 'Let go by the mark that we agreed.',
    skill: 'release of the brake',
    safety: false,
  },
  'brake-dump': {
    name: 'Dropped the brake',
    correction: 'Ease it off as the wheel goes on.',
    skill: 'release of the brake',
    safety: false,
  },
  'brake-in-turn': {
    name: 'Braked in the turn',
    correction: 'Finish it before the wheel moves.',
    skill: 'release of the brake',
    safety: false,
  },
  'no-trail': { name: 'Brake gone too soon', correction: 'Keep a trace of it to the apex.', skill: 'release of the brake', safety: false },
  coast: { name: 'Coasted', correction: 'Brake later, or stay on a steady throttle.', skill: 'throttle', safety: false },
  'setup-narrow': { name: 'Too narrow before it', correction: 'Use the road before the corner.', skill: 'turn-in', safety: false },
  'apex-early': { name: 'Apex too early', correction: 'It follows from the turn-in: wait.', skill: 'apex', safety: false },
  'apex-late': { name: 'Apex too late', correction: 'Turn in at the cone, eyes to the apex.', skill: 'apex', safety: false },
  'exit-unused': { name: 'Exit not used', correction: 'Unwind, let the car run out.', skill: 'exit', safety: false },
  'limit-crossed': { name: 'Over the limit of the road', correction: 'Inside the lines; come back slower.', skill: 'safety', safety: true },
  'wrong-lane': { name: 'Not in the lane', correction: 'Back to the lane that we agreed.', skill: 'safety', safety: false },
  'too-much-road': { name: 'Wider than it pays', correction: 'The shorter way.', skill: 'exit', safety: false },
  'steer-pinched': {
    name: 'Wheel held after the apex',
    correction: 'Open the wheel; throttle and wheel trade.',
    skill: 'steering',
    safety: false,
  },
  'steer-caught': { name: 'Caught a slide', correction: 'Look where it should go; then find its cause.', skill: 'steering', safety: false },
  'throttle-dip': { name: 'Took the throttle back', correction: 'A sign of too early: wait, then once.', skill: 'throttle', safety: false },
  'throttle-jab': { name: 'Throttle jabbed', correction: 'Squeeze.', skill: 'throttle', safety: false },
  'lift-missing': { name: 'Did not lift', correction: 'Lift, turn, back on.', skill: 'braking place', safety: true },
  'lift-late': { name: 'Lifted late', correction: 'Lift at the cone, turn, back on.', skill: 'braking place', safety: true },
  'shift-early': { name: 'Shifted too soon', correction: 'A moment later, by the sound.', skill: 'throttle', safety: false },
  'shift-late': { name: 'Shifted too late', correction: 'Sooner; before the wheel moves.', skill: 'throttle', safety: false },
  'wrong-gear': { name: 'Wrong gear', correction: 'The gear that we named, before turning in.', skill: 'carrying speed', safety: false },
  hands: { name: 'Hands', correction: 'Quarter to three; hand over hand stays away.', skill: 'steering', safety: false },
  'aid-cut-in': { name: 'An aid cut in', correction: 'Open the throttle with the wheel, not before it.', skill: 'throttle', safety: false },
  spin: { name: 'Spun', correction: 'Both feet in; come in and tell me what led to it.', skill: 'safety', safety: true },
  off: { name: 'Left the road', correction: 'Straight and slow; come in, whatever it feels like.', skill: 'safety', safety: true },
  'missed-call': { name: 'Missed a call', correction: 'Answer each call by doing it.', skill: 'safety', safety: false },
  'call-too-late': { name: 'I called too late', correction: 'Earlier next time; mine, not the student’s.', skill: 'safety', safety: false },
  overdriving: { name: 'Over the pace', correction: 'Back to the pace; smooth first.', skill: 'safety', safety: true },
  'following-traffic': { name: 'Followed the car ahead', correction: 'Your own marks; leave it room.', skill: 'eyes', safety: false },
  'poor-pass': { name: 'Poor pass', correction: 'Only by consent, only where we agreed.', skill: 'safety', safety: true },
  'flag-missed': { name: 'Missed a flag', correction: 'Every post, every lap.', skill: 'safety', safety: true },
  'pit-procedure': { name: 'Pit lane procedure', correction: 'Signal, walking pace, keep your lane.', skill: 'safety', safety: true },
  spacing: { name: 'Spacing', correction: 'Three seconds, no more and no less.', skill: 'safety', safety: true },
  'position-on-seat': { name: 'Place on the seat', correction: 'Settled before the brake.', skill: 'steering', safety: false },
  'body-line': { name: 'Body line', correction: 'Head and shoulders to the inside.', skill: 'steering', safety: false },
} as const satisfies Record<string, MistakeWords>
/** A code of a mistake, logged by hand or found in a log. */
export type MistakeCode = keyof typeof mistakes

/** All codes. */
export const mistakeCodes = Object.keys(mistakes) as MistakeCode[]

/** What usually causes what: from each mistake to those it leads to. Without circles. */
export const leadsTo: Partial<Record<MistakeCode, readonly MistakeCode[]>> = {
  'eyes-near': ['turn-in-late', 'turn-in-early'],
  'setup-narrow': ['turn-in-late', 'turn-in-early', 'steer-notched'],
  // Whoever braked too soon lets go again, and has to come back to it.
  'brake-early': ['brake-over', 'brake-soft', 'brake-split'],
  'brake-late': ['turn-in-late', 'brake-hold', 'brake-in-turn', 'brake-dump'],
  'brake-soft': ['coast', 'brake-hold', 'brake-in-turn'],
  'brake-slow-build': ['brake-hold', 'brake-in-turn'],
  'brake-split': ['brake-hold'],
  'brake-hold': ['brake-over', 'throttle-late', 'apex-missed', 'brake-in-turn', 'turn-in-late', 'brake-dump'],
  'brake-in-turn': ['throttle-late'],
  'brake-over': ['throttle-early', 'throttle-late', 'wrong-gear', 'shift-early', 'shift-late'],
  'brake-dump': ['steer-notched'],
  'no-trail': ['coast'],
  coast: ['throttle-late', 'brake-over'],
  'lift-missing': ['turn-in-late', 'apex-missed'],
  'lift-late': ['turn-in-late', 'apex-missed'],
  'turn-in-early': ['apex-early', 'steer-notched', 'brake-in-turn'],
  'turn-in-late': ['apex-late', 'steer-notched'],
  'apex-early': ['steer-notched', 'steer-pinched', 'throttle-dip', 'exit-wide', 'limit-crossed'],
  'apex-late': ['apex-missed', 'exit-unused', 'steer-notched'],
  'apex-missed': ['exit-wide', 'steer-pinched', 'steer-notched'],
  'steer-pinched': ['exit-unused', 'exit-wide', 'throttle-dip'],
  'throttle-early': ['throttle-dip', 'throttle-jab'],
  // Whoever stabs at the pedal has waited for it.
  'throttle-jab': ['throttle-dip', 'throttle-late'],
  'throttle-dip': ['exit-wide'],
  'exit-wide': ['limit-crossed'],
}

/** Whether one mistake can explain another, directly or through others. */
export const canExplain = (cause: MistakeCode, effect: MistakeCode): boolean =>
  (leadsTo[cause] ?? []).some((next) => next === effect || canExplain(next, effect))

/** Codes of mistakes that a log can show so far. */
export const logCodes = ['brake-early', 'brake-late', 'brake-over', 'turn-in-early', 'apex-missed', 'exit-wide'] as const
export type LogCode = (typeof logCodes)[number]

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
} as const satisfies Record<string, MistakeWords>
/** A code of a mistake, logged by hand or found in a log. */
export type MistakeCode = keyof typeof mistakes

/** All codes. */
export const mistakeCodes = Object.keys(mistakes) as MistakeCode[]

/** What usually causes what: from each mistake to those it leads to. */
export const leadsTo: Partial<Record<MistakeCode, readonly MistakeCode[]>> = {
  'turn-in-early': ['apex-missed', 'exit-wide', 'throttle-early'],
  'brake-early': ['brake-over', 'throttle-early', 'brake-soft'],
  'brake-late': ['turn-in-late', 'apex-missed', 'throttle-late'],
  'brake-over': ['throttle-early'],
  'turn-in-late': ['apex-missed'],
  'eyes-near': ['turn-in-late', 'turn-in-early'],
  'apex-missed': ['exit-wide'],
}

/** Whether one mistake can explain another, directly or through others. */
export const canExplain = (cause: MistakeCode, effect: MistakeCode): boolean =>
  (leadsTo[cause] ?? []).some((next) => next === effect || canExplain(next, effect))

/** Starting values of the thresholds: distances in m, times in s, shares of one. */
export const thresholds = {
  brakeEarly_m: 8,
  brakeEarly_s: 0.35,
  brakeLate_m: 6,
  brakeLate_s: 0.25,
  overSlowed: 0.06,
  turnInEarly_m: 5,
  turnInEarly_s: 0.2,
  apexMissed_m: 1.2,
  exitWide_m: 0.3,
  /** A plan whose own margin at the exit is under this lowers exitWide_m to zero. */
  exitOwnMargin_m: 0.8,
} as const

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
  'throttle-full-late',
  'throttle-short',
  'lift-missing',
  'lift-late',
  'lift-early',
  'shift-early',
  'shift-late',
  'shift-slow',
  'wrong-gear',
  'slowest-early',
  'slowest-late',
] as const
export type LogCode = (typeof logCodes)[number]

/** Codes that are about where the car was across the road. */
export const placeCodes = [
  'setup-narrow',
  'apex-early',
  'apex-late',
  'apex-missed',
  'exit-unused',
  'exit-wide',
  'limit-crossed',
  'wrong-lane',
  'too-much-road',
] as const satisfies readonly LogCode[]
/** Codes that are about gears. */
export const gearCodes = ['shift-early', 'shift-late', 'shift-slow', 'wrong-gear'] as const satisfies readonly LogCode[]
/** True for a mistake of gears. */
export const isGear = (code: LogCode): boolean => (gearCodes as readonly LogCode[]).includes(code)
/** Codes that are about the steering wheel. */
export const wheelCodes = ['turn-in-early', 'turn-in-late', 'steer-notched', 'steer-pinched'] as const satisfies readonly LogCode[]

/** Codes that running positions can suggest: those of a log, and going over the pace of the plan. */
export type SuggestedCode = LogCode | 'overdriving'

/** One mistake of the catalogue: the skill it belongs to, whether safety is at stake, and whether it is a miss of a mark on the road. */
export type MistakeRow = { skill: Skill; safety: boolean; atMark: boolean }

/** Skills in the order in which they build on each other. */
export const skills = [
  'eyes',
  'braking-point',
  'turn-in',
  'apex',
  'exit',
  'brake-release',
  'throttle',
  'steering',
  'carrying-speed',
  'safety',
] as const
export type Skill = (typeof skills)[number]

/** Weight of a skill in teaching, 0 … 1: skills on which others build come first. */
export const teachableOf = (skill: Skill): number => 1 - 0.05 * skills.indexOf(skill)

/** Every mistake that can be logged, by code. Names and corrections are in the words of each language. */
export const mistakes = {
  'brake-early': { skill: 'braking-point', safety: false, atMark: true },
  'brake-late': { skill: 'braking-point', safety: true, atMark: true },
  'brake-soft': { skill: 'braking-point', safety: false, atMark: false },
  'brake-over': { skill: 'carrying-speed', safety: false, atMark: false },
  'turn-in-early': { skill: 'turn-in', safety: false, atMark: true },
  'turn-in-late': { skill: 'turn-in', safety: false, atMark: true },
  'apex-missed': { skill: 'apex', safety: false, atMark: true },
  'exit-wide': { skill: 'exit', safety: true, atMark: true },
  'steer-notched': { skill: 'steering', safety: false, atMark: false },
  'throttle-early': { skill: 'throttle', safety: false, atMark: false },
  'throttle-late': { skill: 'throttle', safety: false, atMark: false },
  'eyes-near': { skill: 'eyes', safety: false, atMark: false },
  'lock-up': { skill: 'braking-point', safety: true, atMark: false },
  tense: { skill: 'steering', safety: false, atMark: false },
  'brake-slow-build': { skill: 'braking-point', safety: false, atMark: false },
  'brake-split': { skill: 'brake-release', safety: false, atMark: false },
  'brake-hold': { skill: 'brake-release', safety: false, atMark: false },
  'brake-dump': { skill: 'brake-release', safety: false, atMark: false },
  'brake-in-turn': { skill: 'brake-release', safety: false, atMark: false },
  'no-trail': { skill: 'brake-release', safety: false, atMark: false },
  coast: { skill: 'throttle', safety: false, atMark: false },
  'setup-narrow': { skill: 'turn-in', safety: false, atMark: true },
  'apex-early': { skill: 'apex', safety: false, atMark: true },
  'apex-late': { skill: 'apex', safety: false, atMark: true },
  'exit-unused': { skill: 'exit', safety: false, atMark: true },
  'limit-crossed': { skill: 'safety', safety: true, atMark: false },
  'wrong-lane': { skill: 'safety', safety: false, atMark: false },
  'too-much-road': { skill: 'exit', safety: false, atMark: false },
  'steer-pinched': { skill: 'steering', safety: false, atMark: false },
  'steer-caught': { skill: 'steering', safety: false, atMark: false },
  'throttle-dip': { skill: 'throttle', safety: false, atMark: false },
  'throttle-jab': { skill: 'throttle', safety: false, atMark: false },
  'throttle-full-late': { skill: 'throttle', safety: false, atMark: false },
  'throttle-short': { skill: 'throttle', safety: false, atMark: false },
  'lift-missing': { skill: 'braking-point', safety: true, atMark: true },
  'lift-late': { skill: 'braking-point', safety: true, atMark: true },
  'lift-early': { skill: 'braking-point', safety: false, atMark: true },
  'shift-early': { skill: 'throttle', safety: false, atMark: false },
  'shift-late': { skill: 'throttle', safety: false, atMark: false },
  'shift-slow': { skill: 'brake-release', safety: false, atMark: false },
  'slowest-early': { skill: 'carrying-speed', safety: false, atMark: false },
  'slowest-late': { skill: 'carrying-speed', safety: false, atMark: false },
  'wrong-gear': { skill: 'carrying-speed', safety: false, atMark: false },
  hands: { skill: 'steering', safety: false, atMark: false },
  'aid-cut-in': { skill: 'throttle', safety: false, atMark: false },
  spin: { skill: 'safety', safety: true, atMark: false },
  off: { skill: 'safety', safety: true, atMark: false },
  'missed-call': { skill: 'safety', safety: false, atMark: false },
  'call-too-late': { skill: 'safety', safety: false, atMark: false },
  overdriving: { skill: 'safety', safety: true, atMark: false },
  'following-traffic': { skill: 'eyes', safety: false, atMark: false },
  'poor-pass': { skill: 'safety', safety: true, atMark: false },
  'flag-missed': { skill: 'safety', safety: true, atMark: false },
  'pit-procedure': { skill: 'safety', safety: true, atMark: false },
  spacing: { skill: 'safety', safety: true, atMark: false },
  'position-on-seat': { skill: 'steering', safety: false, atMark: false },
  'body-line': { skill: 'steering', safety: false, atMark: false },
} as const satisfies Record<string, MistakeRow>
/** A code of a mistake, logged by hand or found in a log. */
export type MistakeCode = keyof typeof mistakes

/** All codes. */
export const mistakeCodes = Object.keys(mistakes) as MistakeCode[]

/** Usual consequences of each mistake. Without circles. */
export const leadsTo: Partial<Record<MistakeCode, readonly MistakeCode[]>> = {
  'eyes-near': ['turn-in-late', 'turn-in-early'],
  'setup-narrow': ['turn-in-late', 'turn-in-early', 'steer-notched'],
  // Whoever braked too soon lets go again, and has to come back to it.
  'brake-early': ['brake-over', 'brake-soft', 'brake-split', 'slowest-early'],
  'brake-late': ['turn-in-late', 'brake-hold', 'brake-in-turn', 'brake-dump', 'slowest-late'],
  'brake-soft': ['coast', 'brake-hold', 'brake-in-turn'],
  'brake-slow-build': ['brake-hold', 'brake-in-turn'],
  'brake-split': ['brake-hold'],
  'brake-hold': ['brake-over', 'throttle-late', 'apex-missed', 'brake-in-turn', 'turn-in-late', 'brake-dump', 'slowest-late', 'shift-slow'],
  'brake-in-turn': ['throttle-late'],
  'brake-over': [
    'throttle-early',
    'throttle-late',
    'wrong-gear',
    'shift-early',
    'shift-late',
    'throttle-full-late',
    'slowest-early',
    'slowest-late',
  ],
  'brake-dump': ['steer-notched', 'slowest-early'],
  'no-trail': ['coast'],
  coast: ['throttle-late', 'brake-over'],
  'lift-missing': ['turn-in-late', 'apex-missed'],
  'lift-late': ['turn-in-late', 'apex-missed', 'slowest-late'],
  'lift-early': ['brake-over', 'throttle-early', 'throttle-dip'],
  'turn-in-early': ['apex-early', 'steer-notched', 'brake-in-turn', 'slowest-early'],
  'turn-in-late': ['apex-late', 'steer-notched', 'slowest-late'],
  'apex-early': ['slowest-early', 'steer-notched', 'steer-pinched', 'throttle-dip', 'exit-wide', 'limit-crossed'],
  'apex-late': ['slowest-late', 'apex-missed', 'exit-unused', 'steer-notched'],
  'apex-missed': ['exit-wide', 'steer-pinched', 'steer-notched'],
  'steer-pinched': ['exit-unused', 'exit-wide', 'throttle-dip', 'throttle-full-late'],
  'throttle-early': ['throttle-dip', 'throttle-jab', 'slowest-early'],
  // Whoever stabs at the pedal has waited for it.
  'throttle-jab': ['throttle-dip', 'throttle-late'],
  'throttle-dip': ['slowest-late', 'exit-wide', 'throttle-full-late', 'throttle-short'],
  'throttle-late': ['throttle-full-late', 'slowest-late'],
  // Part throttle all the way to the next corner begins with the one after this corner.
  'throttle-full-late': ['throttle-short'],
  'exit-wide': ['limit-crossed', 'throttle-full-late'],
}

/** True if one mistake can explain another, directly or through others. */
export const canExplain = (cause: MistakeCode, effect: MistakeCode): boolean =>
  (leadsTo[cause] ?? []).some((next) => next === effect || canExplain(next, effect))

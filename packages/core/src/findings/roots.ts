import { canExplain, isGear, type LogCode } from '../mistakes/mistakes.ts'
import type { JudgedMistake } from './judged.ts'
import type { Frame } from './pass.ts'

/** A mistake with its place in the chain: `root` for the one that a corner is about, `because` for what explains the others. */
export type Rooted = JudgedMistake & { root: boolean; because: LogCode | null; linked?: boolean }

/** A line mistake explains an effect only if the effect exceeds its threshold by at most this many times as much as the cause does. */
const EXPLAINS_UP_TO = 2
/** Time past its allowance that a brake was held before it was dropped (s). */
const HELD_FIRST = 0.5
/** Mistakes of doing something too soon. */
const early: readonly LogCode[] = ['brake-early', 'turn-in-early', 'apex-early', 'throttle-early', 'shift-early']
/** Mistakes of where the car was: there a small cause has no large effect, but on a margin. */
const places: readonly LogCode[] = [
  'setup-narrow',
  'turn-in-early',
  'turn-in-late',
  'apex-early',
  'apex-late',
  'apex-missed',
  'exit-wide',
  'exit-unused',
  'steer-pinched',
]

/**
 * Finds the one root of a pass: the most upstream mistake that explains the rest. Where several explain nothing of each other
 * the earliest stage of the corner has it, then the one that explains most, then the one furthest past its threshold; the
 * others remain beside it without a cause.
 */
export const rootOf = (found: readonly JudgedMistake[]): Rooted[] => {
  const explains = (cause: JudgedMistake, effect: JudgedMistake): boolean =>
    cause !== effect &&
    canExplain(cause.code, effect.code) &&
    // A brake that was dropped ends a little later by itself; only one that was held for long was held first.
    !(cause.code === 'brake-hold' && effect.code === 'brake-dump' && over(cause) < HELD_FIRST) &&
    // Running wide leads over the outer edge; over the inner one leads only what turns in too soon.
    !(effect.code === 'limit-crossed' && effect.evidence.inside === 1 && !early.includes(cause.code)) &&
    (!places.includes(cause.code) ||
      !places.includes(effect.code) ||
      effect.code === 'exit-wide' ||
      // Who is not out wide turns in later by himself, and by much more along the road than he is short across it.
      (cause.code === 'setup-narrow' && effect.code === 'turn-in-late') ||
      over(effect) <= EXPLAINS_UP_TO * over(cause))
  const free = found.filter((mistake) => !found.some((other) => explains(other, mistake)))
  const explained = (cause: JudgedMistake): number => found.filter((mistake) => explains(cause, mistake)).length
  const [root] = [...free].sort((a, b) => stageOf(a) - stageOf(b) || explained(b) - explained(a) || b.times - a.times)
  return found.map((mistake) => {
    const cause =
      mistake === root ? null : (free.find((other) => explains(other, mistake)) ?? found.find((other) => explains(other, mistake)))
    return { ...mistake, root: mistake === root, because: cause?.code ?? null }
  })
}

/** Order of a driver's actions in a corner: brake, line and wheel, then the throttle, what shows in the speed alone, then the gear. */
const stageOf = ({ code }: JudgedMistake): number => {
  if (isGear(code)) return 3
  if (code === 'slowest-early' || code === 'slowest-late') return 2
  return code.startsWith('throttle') || code === 'coast' ? 1 : 0
}

/** Size of a mistake past its threshold: 0 just at it. */
const over = ({ times }: JudgedMistake): number => Math.max(0.05, times - 1)

/** Corners are linked where one turns in less than this past the apex of the one before (m), or past its exit where that was missed. */
const LINKED_M = { apex: 60, exit: 90 } as const
/** Mistakes that end at the exit. */
const ofTheExit: readonly LogCode[] = ['exit-unused', 'exit-wide', 'steer-pinched']
/** Mistakes that leave the car in another place, or show that it is. */
const ofTheLine = (code: LogCode): boolean =>
  places.includes(code) || code.startsWith('steer-') || code === 'limit-crossed' || code === 'too-much-road'

/**
 * In linked corners a mistake of the line goes on into the next one: there what concerns the line is a consequence of the
 * root before, not a root of its own.
 */
export const linked = (frame: Frame, before: Rooted | null, rooted: readonly Rooted[]): Rooted[] => {
  const near =
    frame.turnIn_m - frame.before_m < LINKED_M.apex ||
    (before !== null && ofTheExit.includes(before.code) && frame.turnIn_m - frame.beforeExit_m < LINKED_M.exit)
  // A wheel turned in bites leaves the car where it was.
  const follows = before !== null && ofTheLine(before.code) && before.code !== 'steer-notched' && near
  return rooted.map((mistake) =>
    follows && mistake.root && ofTheLine(mistake.code) && mistake.code !== 'limit-crossed'
      ? { ...mistake, root: false, because: before.code, linked: true }
      : mistake,
  )
}

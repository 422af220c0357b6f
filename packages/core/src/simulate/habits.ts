import { markOf } from '../marks/mark.ts'
import type { LogCode } from '../mistakes/mistakes.ts'
import { logCodes } from '../mistakes/mistakes.ts'
import type { Plan } from '../plan/plan.ts'
import { seededRandom } from '../units/random.ts'
import type { Habit } from './student.ts'

/** Usual size of each simulated mistake: metres along or across the road, seconds, or shares, as its kind is made. */
export const usualSize: Record<LogCode, (speed_mps: number) => number> = {
  'brake-early': (v) => Math.max(14, 0.6 * v),
  'brake-late': (v) => Math.max(11, 0.46 * v),
  'brake-soft': () => 0.6,
  'brake-slow-build': () => 1.1,
  'brake-split': () => 0.4,
  'brake-over': () => 0.12,
  'brake-hold': () => 0.75,
  'brake-dump': () => 0.25,
  'brake-in-turn': () => 0.75,
  'no-trail': () => 0.55,
  coast: () => 1.3,
  'setup-narrow': () => 2.8,
  'turn-in-early': (v) => Math.max(10, 0.5 * v),
  'turn-in-late': (v) => Math.max(10, 0.45 * v),
  'apex-early': () => 1.7,
  'apex-late': () => 1.7,
  'apex-missed': () => 2.1,
  'exit-unused': () => 3.2,
  'exit-wide': () => 1.7,
  'limit-crossed': () => 0.8,
  'wrong-lane': () => 1.5,
  'too-much-road': () => 2.6,
  'steer-notched': () => 0.45,
  'steer-pinched': () => 0.35,
  'steer-caught': () => 0.4,
  'throttle-early': () => 0.6,
  'throttle-late': () => 0.75,
  'throttle-dip': () => 0.35,
  'throttle-jab': () => 0.95,
  'throttle-full-late': () => 2,
  'throttle-short': () => 3,
  'lift-missing': () => 1,
  'lift-late': () => 0.6,
  'lift-early': () => 0.8,
  'shift-early': () => 1,
  'shift-late': () => 0.8,
  'shift-slow': () => 0.6,
  'wrong-gear': () => 0.8,
  'slowest-early': () => 1,
  'slowest-late': () => 1,
}

/** What comes about by other mistakes alone, and fine points that are not what a new driver keeps doing. */
const notHabits: ReadonlySet<LogCode> = new Set(['slowest-early', 'slowest-late', 'throttle-full-late', 'throttle-short', 'shift-slow'])

/** True if a plan leaves a mistake to make: some belong to one braking style, one line, or a lane on the road. */
const possible = ({ settings, ground }: Plan, code: LogCode): boolean => {
  if (code === 'brake-in-turn') return settings.school === 'straight'
  if (code === 'no-trail') return settings.school === 'trail'
  if (code === 'too-much-road') return settings.method === 'compact'
  if (notHabits.has(code)) return false
  return code !== 'wrong-lane' || ground.some((item) => item.kind === 'lane')
}

/**
 * Habits of a made-up student: in about a third of the corners one mistake that comes back, from a seed alone.
 * `skill` from 0 (new) to 1 (steady) makes them rarer.
 */
export const habitsOf = (seed: number, plan: Plan, skill: number): Habit[] => {
  const random = seededRandom(seed)
  const codes = logCodes.filter((code) => possible(plan, code))
  const habits: Habit[] = []
  for (const corner of plan.corners) {
    const has = random.uniform() < 0.4
    const code = codes[Math.floor(random.uniform() * codes.length)]
    const often = 0.35 + 0.5 * random.uniform()
    const brake = markOf(plan.marks, corner.id, 'brake')
    const turnIn = markOf(plan.marks, corner.id, 'turn-in')
    if (!has || !turnIn || (code.startsWith('brake') && !brake)) continue
    habits.push({
      cornerId: corner.id,
      code,
      probability: often * (1 - 0.6 * skill),
      size: usualSize[code](code === 'turn-in-early' ? turnIn.speed_mps : (brake ?? turnIn).speed_mps),
    })
  }
  return habits
}

/** A seed from any text (FNV-1a), so that a made-up student is always the same. */
export const seedOf = (text: string): number => {
  let hash = 0x811c9dc5
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193) >>> 0
  return hash % 2 ** 31
}

import type { LogCode } from '../findings/mistakes.ts'
import { logCodes } from '../findings/mistakes.ts'
import { markOf } from '../marks/marks.ts'
import type { Plan } from '../plan.ts'
import { seededRandom } from './random.ts'
import type { Habit } from './student.ts'

/** Usual size of each simulated mistake: metres, or a share of the slowest speed for brake-over. */
const usualSize: Record<LogCode, (speed_mps: number) => number> = {
  'brake-early': (v) => Math.max(12, 0.55 * v),
  'brake-late': (v) => Math.max(11, 0.42 * v),
  'brake-over': () => 0.12,
  'turn-in-early': (v) => Math.max(10, 0.5 * v),
  'apex-missed': () => 2.1,
  'exit-wide': () => 1.7,
}

/**
 * Habits of a made-up student: in about a third of the corners one mistake that comes back, from a seed alone.
 * `skill` from 0 (new) to 1 (steady) makes them rarer.
 */
export const habitsOf = (seed: number, plan: Plan, skill: number): Habit[] => {
  const random = seededRandom(seed)
  const habits: Habit[] = []
  for (const corner of plan.corners) {
    const has = random.uniform() < 0.4
    const code = logCodes[Math.floor(random.uniform() * logCodes.length)]
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

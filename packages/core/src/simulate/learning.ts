import type { MistakeCode } from '../mistakes/mistakes.ts'
import type { Habit } from './student.ts'

/** A correction given to a student: mistake, corner and lap. */
export type Correction = { cornerId: string; code: MistakeCode; lap: number }

/** Each correction leaves this share of a habit. */
const LEFT_BY_A_CORRECTION = 0.45
/** No habit is certain. */
const MOST = 0.95

/** Habits as they are in one lap: rarer by every correction in an earlier lap, more frequent by `tiring` (share) a lap. */
export const habitsInLap = (habits: readonly Habit[], lap: number, corrected: readonly Correction[], tiring: number): Habit[] =>
  habits.map((habit) => {
    const corrections = corrected.filter((c) => c.cornerId === habit.cornerId && c.code === habit.code && c.lap < lap).length
    const probability = habit.probability * LEFT_BY_A_CORRECTION ** corrections * (1 + tiring * (lap - 1))
    return { ...habit, probability: Math.min(MOST, probability) }
  })

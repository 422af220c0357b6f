/** How far a student has come; the school's three groups. */
export const levels = ['first-day', 'building', 'steady'] as const
export type Level = (typeof levels)[number]

/** Time (s) that a student of each level needs from seeing a cone to acting on it, beyond what the plan already holds. */
export const levelReaction_s: Record<Level, number> = { 'first-day': 0.5, building: 0.25, steady: 0 }

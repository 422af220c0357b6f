import type { LaidExercise, PadConeRole } from '../drills/exercise.ts'
import type { ConeColour } from './scheme.ts'

/** Colour of each role, so that an exercise is laid with what a school has in its shed. */
export const padColours: Record<PadConeRole, ConeColour> = {
  speed: 'green',
  brake: 'pink',
  gate: 'orange',
  stop: 'pink',
  slalom: 'orange',
  inner: 'orange',
  outer: 'yellow',
  reference: 'blue',
}

/** A colour of which a pad needs more than there are. */
export type PadShortage = { colour: ConeColour; needed: number; there: number }

/** Cones that a pad needs, by colour. */
export const padConesNeeded = (laid: readonly LaidExercise[]): Partial<Record<ConeColour, number>> => {
  const needed: Partial<Record<ConeColour, number>> = {}
  for (const { cones } of laid) for (const { role } of cones) needed[padColours[role]] = (needed[padColours[role]] ?? 0) + 1
  return needed
}

/** Colours of which a pad needs more than is in the shed; one without a number is there as often as it is wanted. */
export const padShortages = (laid: readonly LaidExercise[], stock: Partial<Record<ConeColour, number>>): PadShortage[] =>
  (Object.entries(padConesNeeded(laid)) as [ConeColour, number][]).flatMap(([colour, needed]) => {
    const there = stock[colour]
    return there !== undefined && needed > there ? [{ colour, needed, there }] : []
  })

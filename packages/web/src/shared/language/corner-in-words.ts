import { type Corner, degrees, formatDistance, type UnitSystem } from '@ochote/core'
import type { StudentWords } from './student-words.ts'

/** A corner in one line in somebody's language and units. */
export const cornerIn = (words: StudentWords, units: UnitSystem, corner: Corner): string =>
  words.corner(
    words.sides[corner.side],
    words.corners[corner.shape],
    formatDistance(corner.radius_m, units),
    Math.round(degrees(corner.turn_rad)),
  )

/** Distance past or before a landmark, in words. */
export const referenceIn = (words: StudentWords, units: UnitSystem, { name, past_m }: { name: string; past_m: number }): string =>
  words.reference(Math.abs(past_m) < 0.5 ? null : formatDistance(Math.abs(past_m), units), past_m > 0, name)

/** A distance from an apex, before or after it; null at it. */
export const fromApexIn = (words: StudentWords, units: UnitSystem, past_m: number): string | null => {
  if (Math.abs(past_m) < 0.5) return null
  const distance = formatDistance(Math.abs(past_m), units)
  return past_m < 0 ? words.before(distance) : words.after(distance)
}

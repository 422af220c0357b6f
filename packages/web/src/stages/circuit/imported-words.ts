import type { StartFound } from '@ochote/core'
import { say } from '../../language/say.ts'

/** How the start line of driven laps was found. */
export const startWords: Record<StartFound, string> = {
  given: say`where you said`,
  waypoint: say`where the file marks it`,
  'longest-straight': say`taken in the middle of the longest straight: drag it to its place`,
}

/** An angle on Earth with its direction. */
export const degreesInWords = (value: number, [plus, minus]: readonly [string, string]): string =>
  `${Math.abs(value).toFixed(3)}° ${value < 0 ? minus : plus}`

import type { ImportedCircuit } from '@ochote/contract'
import type { StartFound } from '@ochote/core'

const startWords: Record<StartFound, string> = {
  given: 'The lap begins where you said.',
  waypoint: 'The lap begins at the start line that the file marks.',
  'longest-straight': 'The start line was taken in the middle of the longest straight; move it under “Correct the survey”.',
}

const degreesInWords = (value: number, [plus, minus]: readonly [string, string]): string =>
  `${Math.abs(value).toFixed(3)}° ${value < 0 ? minus : plus}`

/** What came of an import: the lap, where on Earth it lies, and what was assumed. */
export const importedInWords = ({ name, length_m, corners, place, widthAssumed, startFound }: ImportedCircuit): string =>
  [
    `${name}: ${Math.round(length_m)} m, ${corners} ${corners === 1 ? 'corner' : 'corners'} found.`,
    place ? `It lies at ${degreesInWords(place.lat_deg, ['north', 'south'])}, ${degreesInWords(place.lon_deg, ['east', 'west'])}.` : '',
    startFound ? startWords[startFound] : '',
    widthAssumed ? 'Its width is assumed: set it under “Correct the survey”.' : '',
  ]
    .filter(Boolean)
    .join(' ')

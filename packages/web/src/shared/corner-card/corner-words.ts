import type { Corner } from '@ochote/core'
import { staffUnits } from '../../language/staff-units.ts'
import { cornerIn } from '../language/corner-in-words.ts'
import { staffWords } from '../language/staff-words.ts'

/** A corner in one line: which way, what shape, how tight. */
export const cornerInWords = (corner: Corner): string => cornerIn(staffWords, staffUnits, corner)

/** A corner's number, for where there is little room: `'3'`. */
export const cornerNumber = (corner: Pick<Corner, 'id'>): string => corner.id.slice(1)

/** A corner's number and name, `'3 Long Heron'`; a corner nobody named is `'T3'`. */
export const cornerLabel = (corner: Pick<Corner, 'id' | 'name'>): string =>
  corner.name === corner.id ? corner.id : `${cornerNumber(corner)} ${corner.name}`

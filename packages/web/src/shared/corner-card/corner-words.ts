import { type Corner, degrees, formatDistance } from '@ochote/core'

const shapeWords: Record<Corner['shape'], string> = {
  hairpin: 'hairpin',
  square: 'corner',
  sweeper: 'sweeper',
  kink: 'kink',
  tightening: 'tightening corner',
  opening: 'opening corner',
  'double-apex': 'double apex',
}

/** A corner in one line: which way, what shape, how tight. */
export const cornerInWords = (corner: Corner): string =>
  `${corner.side === 'left' ? 'Left' : 'Right'} ${shapeWords[corner.shape]}, radius ${formatDistance(corner.radius_m, 'metric')}, turns ${Math.round(degrees(corner.turn_rad))}°`

/** A corner's number, for where there is little room: `'3'`. */
export const cornerNumber = (corner: Pick<Corner, 'id'>): string => corner.id.slice(1)

/** A corner's number and name, `'3 Long Heron'`; a corner nobody named is `'T3'`. */
export const cornerLabel = (corner: Pick<Corner, 'id' | 'name'>): string =>
  corner.name === corner.id ? corner.id : `${cornerNumber(corner)} ${corner.name}`

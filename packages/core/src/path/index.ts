export { centreLine, type Line, lineFromOffsets } from './line.ts'
export { findTurnings, type Turning } from './turning.ts'

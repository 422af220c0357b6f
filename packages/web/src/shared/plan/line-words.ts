import type { BrakingSchool, LineMethod } from '@ochote/core'

/** Name and purpose of each way to choose a line. */
export const lineWords: Record<LineMethod, { name: string; explained: string }> = {
  smoothest: { name: 'Smoothest', explained: 'the widest arcs, for learning a place' },
  shortest: { name: 'Shortest', explained: 'the shortest distance, for comparison' },
  fast: { name: 'Fast', explained: 'the shortest lap time' },
  late: { name: 'Late', explained: 'apexes later, nearly straight at the exit' },
  wet: { name: 'Wet', explained: 'off the rubber, clear of kerbs and paint' },
  compact: { name: 'Compact', explained: 'extra distance only where it pays' },
}

/** Name of each braking style, and what it does. */
export const brakingWords: Record<BrakingSchool, { name: string; explained: string }> = {
  straight: { name: 'Straight', explained: 'all braking done before turn-in' },
  blend: { name: 'Blend', explained: 'a light brake carried in' },
  trail: { name: 'Trail', explained: 'easing off all the way to the apex' },
}

import type { BrakingSchool, LineMethod } from '@ochote/core'
import { say } from '../../language/say.ts'

/** Name and purpose of each way to choose a line. */
export const lineWords: Record<LineMethod, { name: string; explained: string }> = {
  smoothest: { name: say`Smoothest`, explained: say`the widest arcs, for learning a place` },
  shortest: { name: say`Shortest`, explained: say`the shortest distance, for comparison` },
  fast: { name: say`Fast`, explained: say`the shortest lap time` },
  late: { name: say`Late`, explained: say`apexes later, nearly straight at the exit` },
  wet: { name: say`Wet`, explained: say`off the rubber, clear of kerbs and paint` },
  compact: { name: say`Compact`, explained: say`extra distance only where it pays` },
}

/** Name of each braking style, and what it does. */
export const brakingWords: Record<BrakingSchool, { name: string; explained: string }> = {
  straight: { name: say`Straight`, explained: say`all braking done before turn-in` },
  blend: { name: say`Blend`, explained: say`a light brake carried in` },
  trail: { name: say`Trail`, explained: say`easing off all the way to the apex` },
}

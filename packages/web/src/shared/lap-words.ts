import type { LapKind, SetAsideReason } from '@ochote/core'
import { say } from '../language/say.ts'

/** Names of laps by what they are for. */
export const lapKindNames: Record<LapKind, string> = {
  out: say`Out lap`,
  sighting: say`Sighting lap`,
  'warm-up': say`Warm-up lap`,
  coached: say`Coached lap`,
  timed: say`Timed lap`,
  'cool-down': say`Cool-down lap`,
  in: say`In lap`,
}

/** Why a lap is not judged, in a word. */
export const asideWords: Record<SetAsideReason, string> = {
  traffic: say`traffic`,
  spoilt: say`spoilt`,
  flag: say`flag`,
  instructor: say`instructor drove`,
}

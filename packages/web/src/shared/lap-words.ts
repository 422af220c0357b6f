import type { LapKind, SetAsideReason } from '@ochote/core'

/** Names of laps by what they are for. */
export const lapKindNames: Record<LapKind, string> = {
  out: 'Out lap',
  sighting: 'Sighting lap',
  'warm-up': 'Warm-up lap',
  coached: 'Coached lap',
  timed: 'Timed lap',
  'cool-down': 'Cool-down lap',
  in: 'In lap',
}

/** Why a lap is not judged, in a word. */
export const asideWords: Record<SetAsideReason, string> = {
  traffic: 'traffic',
  spoilt: 'spoilt',
  flag: 'flag',
  instructor: 'instructor drove',
}

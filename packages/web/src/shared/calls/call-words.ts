import type { CallKind } from '@ochote/core'
import { say } from '../../language/say.ts'
import { groundWords } from '../marks/ground-words.ts'
import { markNames } from '../marks/mark-words.ts'

/** Name of each thing that can be called. */
export const callNames: Record<CallKind, string> = {
  lift: markNames.lift,
  brake: markNames.brake,
  release: markNames.release,
  'turn-in': markNames['turn-in'],
  apex: markNames.apex,
  throttle: markNames.throttle,
  exit: markNames.exit,
  downshift: say`Gear down`,
  upshift: say`Gear up`,
  look: say`Eyes on to the next corner`,
  side: say`Over to the other side`,
  stay: say`Stay on this side`,
  lane: groundWords.lane.name,
  diagonal: say`Straight across before braking`,
  crest: groundWords.crest.name,
  dip: groundWords.dip.name,
  bump: groundWords.bump.name,
  'off-camber': groundWords['off-camber'].name,
  kerb: groundWords.kerb.name,
  paint: groundWords.paint.name,
  'soft-edge': groundWords['soft-edge'].name,
  'standing-water': groundWords['standing-water'].name,
  pass: say`Stay behind`,
  'go-by': say`Where cars pass`,
  roll: say`Roll without the brake`,
  'last-lap': say`Last lap`,
  'pit-in': say`Into the pits`,
  parking: say`Parking`,
}

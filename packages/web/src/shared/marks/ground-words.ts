import type { GroundItem, GroundKind, ReferenceKind, RunOffSurface } from '@ochote/core'
import { say } from '../../language/say.ts'

/** Name of each kind of ground, whether it covers a stretch, and whether it is a band on the road. */
export const groundWords: Record<GroundKind, { name: string; stretch: boolean; band: boolean; warns: boolean }> = {
  blind: { name: say`Blind verge`, stretch: true, band: false, warns: true },
  crest: { name: say`Crest`, stretch: true, band: false, warns: true },
  'off-camber': { name: say`Off-camber`, stretch: true, band: false, warns: true },
  bump: { name: say`Bump`, stretch: false, band: false, warns: true },
  dip: { name: say`Dip`, stretch: true, band: false, warns: true },
  drop: { name: say`Drop`, stretch: true, band: false, warns: true },
  ditch: { name: say`Ditch`, stretch: true, band: false, warns: true },
  wall: { name: say`Wall`, stretch: true, band: false, warns: true },
  'soft-edge': { name: say`Soft edge`, stretch: true, band: true, warns: true },
  forbidden: { name: say`Forbidden band`, stretch: true, band: true, warns: true },
  paint: { name: say`Slippery paint`, stretch: true, band: true, warns: true },
  kerb: { name: say`Kerb to leave alone`, stretch: true, band: true, warns: true },
  'standing-water': { name: say`Standing water`, stretch: true, band: true, warns: true },
  'run-off': { name: say`Run-off`, stretch: true, band: false, warns: false },
  reference: { name: say`Landmark`, stretch: false, band: false, warns: false },
  'pit-exit': { name: say`Pit exit`, stretch: true, band: false, warns: false },
  'pit-entry': { name: say`Pit entry`, stretch: true, band: false, warns: false },
  'marshal-post': { name: say`Marshal post`, stretch: false, band: false, warns: false },
  lane: { name: say`Lane to keep to`, stretch: true, band: true, warns: false },
  passing: { name: say`Passing place`, stretch: true, band: false, warns: false },
}

export const referenceWords: Record<ReferenceKind, string> = {
  seam: say`seam`,
  patch: say`patch`,
  post: say`post`,
  board: say`board`,
  'kerb-end': say`end of a kerb`,
}

export const runOffWords: Record<RunOffSurface, string> = { asphalt: 'asphalt', gravel: 'gravel', grass: 'grass' }

/** An item that the survey itself shows; it cannot be edited. */
export const isFound = (item: Pick<GroundItem, 'id'>): boolean => item.id.startsWith('found-')

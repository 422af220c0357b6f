import type { GroundItem, GroundKind, ReferenceKind, RunOffSurface } from '@ochote/core'

/** Name of each kind of ground, whether it covers a stretch, and whether it is a band on the road. */
export const groundWords: Record<GroundKind, { name: string; stretch: boolean; band: boolean; warns: boolean }> = {
  blind: { name: 'Blind verge', stretch: true, band: false, warns: true },
  crest: { name: 'Crest', stretch: true, band: false, warns: true },
  'off-camber': { name: 'Off-camber', stretch: true, band: false, warns: true },
  bump: { name: 'Bump', stretch: false, band: false, warns: true },
  dip: { name: 'Dip', stretch: true, band: false, warns: true },
  drop: { name: 'Drop', stretch: true, band: false, warns: true },
  ditch: { name: 'Ditch', stretch: true, band: false, warns: true },
  wall: { name: 'Wall', stretch: true, band: false, warns: true },
  'soft-edge': { name: 'Soft edge', stretch: true, band: true, warns: true },
  forbidden: { name: 'Forbidden band', stretch: true, band: true, warns: true },
  paint: { name: 'Slippery paint', stretch: true, band: true, warns: true },
  'standing-water': { name: 'Standing water', stretch: true, band: true, warns: true },
  'run-off': { name: 'Run-off', stretch: true, band: false, warns: false },
  reference: { name: 'Landmark', stretch: false, band: false, warns: false },
  'pit-exit': { name: 'Pit exit', stretch: true, band: false, warns: false },
  'pit-entry': { name: 'Pit entry', stretch: true, band: false, warns: false },
  'marshal-post': { name: 'Marshal post', stretch: false, band: false, warns: false },
  lane: { name: 'Lane to keep to', stretch: true, band: true, warns: false },
}

export const referenceWords: Record<ReferenceKind, string> = {
  seam: 'seam',
  patch: 'patch',
  post: 'post',
  board: 'board',
  'kerb-end': 'end of a kerb',
}

export const runOffWords: Record<RunOffSurface, string> = { asphalt: 'asphalt', gravel: 'gravel', grass: 'grass' }

/** An item that the survey itself shows; it cannot be edited. */
export const isFound = (item: Pick<GroundItem, 'id'>): boolean => item.id.startsWith('found-')

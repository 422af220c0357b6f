import type { ConeKind, MarkKind } from '@ochote/core'

/** What each kind of mark is called on screen, short enough for a table. */
export const markNames: Record<MarkKind, string> = {
  lift: 'Lift',
  brake: 'Brake',
  release: 'Release',
  'turn-in': 'Turn-in',
  apex: 'Apex',
  slowest: 'Slowest',
  throttle: 'Throttle',
  'full-throttle': 'Full throttle',
  exit: 'Exit',
}

/** What each kind of cone is called: its mark, or what else it stands for. */
export const coneNames: Record<ConeKind, string> = { ...markNames, sighter: 'Sighter', 'pit-lane': 'Pit lane', 'no-go': 'No-go' }

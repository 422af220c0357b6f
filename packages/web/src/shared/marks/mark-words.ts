import type { MarkKind } from '@ochote/core'

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

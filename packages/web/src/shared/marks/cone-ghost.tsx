import type { Cone } from '@ochote/core'
import { coneOutline } from './cone-glyph.tsx'

/** True if a hand or a lock keeps a cone away from its computed place. */
export const isMoved = (cone: Cone): boolean => cone.moved.includes('nudged') || cone.moved.includes('locked')

/** The outline of a cone where the computation would put it. */
export const ConeGhost = ({ cone }: { cone: Cone }) => (
  <path d={coneOutline(cone.shape)} fill="none" stroke="var(--ink)" strokeWidth="1.1" strokeDasharray="2 1.6" />
)

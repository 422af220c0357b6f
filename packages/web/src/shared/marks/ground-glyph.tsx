import type { GroundItem, GroundKind } from '@ochote/core'
import { groundWords } from './ground-words.ts'

/** Each kind of ground by its shape, in a 12 × 12 box around its middle; colour comes from outside. */
const shapes: Record<GroundKind, React.ReactNode> = {
  blind: <path d="M-5 0 Q0 -5 5 0 M-5 4.5 L5 -5" fill="none" stroke="currentColor" strokeWidth="1.6" />,
  crest: <path d="M-5.5 3.5 Q0 -7.5 5.5 3.5" fill="none" stroke="currentColor" strokeWidth="2" />,
  'off-camber': <path d="M-5.5 4 H5.5 L-5.5 -4 Z" fill="currentColor" />,
  bump: <path d="M-5.5 3 H-2.5 Q0 -5 2.5 3 H5.5" fill="none" stroke="currentColor" strokeWidth="2" />,
  dip: <path d="M-5.5 -3.5 Q0 7.5 5.5 -3.5" fill="none" stroke="currentColor" strokeWidth="2" />,
  drop: <path d="M-5.5 -3 H0 V4 H5.5" fill="none" stroke="currentColor" strokeWidth="2" />,
  ditch: <path d="M-5.5 -3 H-3 L-1.5 4 H1.5 L3 -3 H5.5" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  wall: (
    <path
      d="M-5.5 -3.5 H5.5 V3.5 H-5.5 Z M-5.5 0 H5.5 M0 -3.5 V0 M-3 0 V3.5 M3 0 V3.5"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.3"
    />
  ),
  'soft-edge': <path d="M-5.5 1 q1.4 -4 2.75 0 t2.75 0 t2.75 0 t2.75 0" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  forbidden: <path d="M-5 -5 L5 5 M-5 5 L5 -5" stroke="currentColor" strokeWidth="2.2" />,
  paint: <path d="M-5.5 -2.5 H5.5 M-5.5 2.5 H5.5" stroke="currentColor" strokeWidth="2.4" strokeDasharray="3 1.6" />,
  kerb: <path d="M-5.5 3 L-3 -3 H3 L5.5 3 Z M-1 -3 L-1.5 3 M1 -3 L1.5 3" fill="none" stroke="currentColor" strokeWidth="1.6" />,
  'standing-water': <path d="M0 -5.5 Q5 0.5 3.2 3.4 A4 4 0 0 1 -3.2 3.4 Q-5 0.5 0 -5.5 Z" fill="currentColor" />,
  'run-off': <path d="M-5.5 -4 H5.5 M-5.5 -4 L-2 4 H2 L5.5 -4" fill="none" stroke="currentColor" strokeWidth="1.6" />,
  reference: <path d="M0 -5.5 V4.5 M-4 5 H4 M-2.6 -5 H2.6 M-2.6 -2 H2.6" fill="none" stroke="currentColor" strokeWidth="1.7" />,
  'pit-exit': <path d="M-5 4 L0 0 H5 M2 -3 L5 0 L2 3" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  'pit-entry': <path d="M-5 0 H0 L5 4 M1.5 4.2 H5 V0.8" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  'marshal-post': <path d="M-3 5.5 V-5.5 H4.5 L2.5 -3 L4.5 -0.5 H-3" fill="none" stroke="currentColor" strokeWidth="1.7" />,
  lane: <path d="M-3.5 -5.5 V5.5 M3.5 -5.5 V5.5 M0 -3 V3" stroke="currentColor" strokeWidth="1.7" />,
  passing: (
    <path d="M2.5 5 V-4 M-3 5 V1 L-3 -1 Q-3 -4 0 -5 M-5.5 -1.5 L-3 -4.5 L-0.5 -1.5" fill="none" stroke="currentColor" strokeWidth="1.6" />
  ),
}

/** The colour of a kind: warning for what can harm, ink for what helps. */
export const groundColour = (kind: GroundKind): string => (groundWords[kind].warns ? 'var(--warn)' : 'var(--ink)')

/** The drawing of a kind inside an SVG, on a plate so that it is seen on road and verge. */
export const GroundMark = ({ kind }: { kind: GroundItem['kind'] }) => (
  <g color={groundColour(kind)}>
    <rect x="-8" y="-8" width="16" height="16" fill="var(--ground)" stroke="currentColor" strokeWidth="0.8" />
    {shapes[kind]}
  </g>
)

/** The drawing of a kind in a line of text. */
export const GroundGlyph = ({ kind, size = 16 }: { kind: GroundItem['kind']; size?: number }) => (
  <svg width={size} height={size} viewBox="-9 -9 18 18" aria-hidden="true" style={{ verticalAlign: '-0.2em', flex: 'none' }}>
    <GroundMark kind={kind} />
  </svg>
)

import type { MarkKind } from '@ochote/core'

/** Each kind of mark by its shape, drawn in a 12 × 12 box around its middle; colour comes from outside. */
const shapes: Record<MarkKind, React.ReactNode> = {
  lift: <path d="M-4 3 L0 -3 L4 3" fill="none" stroke="currentColor" strokeWidth="1.8" />,
  'brake-again': <path d="M-2 -5 H2 V5 H-2 Z" fill="none" stroke="currentColor" strokeWidth="1.4" strokeDasharray="2 1.6" />,
  brake: <path d="M-4.5 -5 H-1.5 V5 H-4.5 Z M1.5 -5 H4.5 V5 H1.5 Z" fill="currentColor" />,
  release: <path d="M-4.2 -4.7 H-1.5 V4.7 H-4.2 Z M1.5 -4.7 H4.2 V4.7 H1.5 Z" fill="none" stroke="currentColor" strokeWidth="1.2" />,
  'turn-in': <path d="M-4 4.5 V-1 Q-4 -4 0 -4 H1 V-6 L5.5 -2.6 L1 0.8 V-1.2 H0 Q-1.2 -1.2 -1.2 0 V4.5 Z" fill="currentColor" />,
  apex: <path d="M0 -5.6 L5.6 0 L0 5.6 L-5.6 0 Z" fill="currentColor" />,
  slowest: <path d="M-5 -1.3 H5 M-5 2.3 H5" stroke="currentColor" strokeWidth="1.8" />,
  throttle: <path d="M-4.5 4.5 L4.5 4.5 L4.5 -4.5 Z" fill="currentColor" />,
  'full-throttle': <path d="M-5 4.5 L5 4.5 L5 -5 Z M-5 -1 L-1 -5" fill="currentColor" stroke="currentColor" strokeWidth="1.6" />,
  exit: <path d="M-5 4.5 Q3 4.5 4.4 -5" fill="none" stroke="currentColor" strokeWidth="2.4" />,
}

/** Kinds that lead through a corner; where there is little room only these are drawn. */
export const leading: ReadonlySet<MarkKind> = new Set(['brake', 'lift', 'turn-in', 'apex', 'exit'])

/** The drawing of a mark, for use inside an SVG at a place given by its parent's transform. */
export const MarkShape = ({ kind }: { kind: MarkKind }) => <>{shapes[kind]}</>

/** A mark's drawing in a line of text. */
export const MarkGlyph = ({ kind, size = 14 }: { kind: MarkKind; size?: number }) => (
  <svg width={size} height={size} viewBox="-7 -7 14 14" aria-hidden="true" style={{ verticalAlign: '-0.15em', flex: 'none' }}>
    <MarkShape kind={kind} />
  </svg>
)

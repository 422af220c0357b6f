import { type ConeColour, type ConeShape, coneColours } from '@ochote/core'

const outlines: Record<ConeShape, string> = {
  tall: 'M-1.2 -6 H1.2 L3.4 4 H5 V6 H-5 V4 H-3.4 Z',
  disc: 'M-5.5 2.5 Q-5 -2.5 0 -2.5 Q5 -2.5 5.5 2.5 Z',
  arrow: 'M-6 0 L0 -5 V-2 H6 V2 H0 V5 Z',
}

/** The outline of a shape, in a 16 × 16 box around its middle. */
export const coneOutline = (shape: ConeShape): string => outlines[shape]

/** A cone's drawing for use inside an SVG. */
export const ConeMark = ({ colour, shape }: { colour: ConeColour; shape: ConeShape }) => (
  <path d={outlines[shape]} fill={coneColours[colour]} stroke="var(--ink)" strokeWidth="0.9" />
)

/** A cone's drawing in a line of text. */
export const ConeGlyph = ({ colour, shape, size = 18 }: { colour: ConeColour; shape: ConeShape; size?: number }) => (
  <svg
    width={size}
    height={size}
    viewBox="-8 -8 16 16"
    role="img"
    aria-label={`${colour} ${shape}`}
    style={{ verticalAlign: '-0.25em', flex: 'none' }}
  >
    <ConeMark colour={colour} shape={shape} />
  </svg>
)

import type { SVGProps } from 'react'

/** Signs that controls are drawn with. */
type Sign = SVGProps<SVGSVGElement>
const drawn = {
  width: 20,
  height: 20,
  viewBox: '0 0 20 20',
  fill: 'none',
  stroke: 'currentColor',
  strokeWidth: 1.75,
  'aria-hidden': true,
} as const

/** A list unfolds from here: a bracket that opens downwards. */
export const UnfoldSign = (props: Sign) => (
  <svg {...drawn} {...props} aria-hidden style={{ right: 6, pointerEvents: 'none', position: 'absolute', top: 'calc(50% - 10px)' }}>
    <path d="M5 8v4h10V8" />
  </svg>
)

/** Sorted by this column. */
export const SortSign = (props: Sign) => (
  <svg {...drawn} {...props} aria-hidden width={14} height={14}>
    <path d="M4 5h12M4 10h8M4 15h4" />
  </svg>
)

/** Not ticked. */
export const UntickedSign = (props: Sign) => (
  <svg {...drawn} {...props} aria-hidden>
    <path d="M2.5 2.5h15v15h-15z" />
  </svg>
)

/** Ticked. */
export const TickSign = (props: Sign) => (
  <svg {...drawn} {...props} aria-hidden>
    <path d="M2.5 2.5h15v15h-15z" />
    <path d="M5.5 10.5l3.2 3.5 6-8" strokeWidth={2.5} />
  </svg>
)

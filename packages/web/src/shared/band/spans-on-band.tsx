import type { PointerEvent } from 'react'
import type { BandSpan } from '../road-layers.ts'

/** Stretches and what is said over them, on the road; a span that can be dragged tells where its end was put. */
export const SpansOnBand = ({
  spans,
  x,
  middle,
  half,
  selected,
  close,
  onSelect,
  onDrag,
}: {
  spans: readonly BandSpan[]
  x: (s_m: number) => number
  middle: number
  half: number
  selected: string | null
  close: boolean
  onSelect?: ((id: string) => void) | undefined
  /** Pixels by which a span was dragged; `done` when it is let go. */
  onDrag?: ((id: string, pixels: number, done: boolean) => void) | undefined
}) => {
  const down = (event: PointerEvent<SVGGElement>, id: string): void => {
    event.stopPropagation()
    onSelect?.(id)
    if (!onDrag) return
    const node = event.currentTarget
    const from = event.clientX
    node.setPointerCapture(event.pointerId)
    const move = (e: globalThis.PointerEvent): void => onDrag(id, e.clientX - from, false)
    const up = (e: globalThis.PointerEvent): void => {
      node.removeEventListener('pointermove', move)
      onDrag(id, e.clientX - from, true)
    }
    node.addEventListener('pointermove', move)
    node.addEventListener('pointerup', up, { once: true })
  }
  return (
    <g>
      {spans.map((span) => {
        const [from, to, mark] = [x(span.from_m), x(span.to_m), x(span.mark_m)]
        if (to < from) return null
        const active = span.id === selected
        const words = close ? (to - from > 46 ? shortened(span.label, to - from - 10) : '') : firstWord(span.label, to - from - 10)
        if (span.tone === 'lost')
          return (
            <g key={span.id}>
              <title>{span.label}</title>
              <rect x={from} y={middle - half - 7} width={Math.max(3, to - from)} height="5" fill="var(--warn)" />
            </g>
          )
        return (
          <g
            key={span.id}
            onPointerDown={(e) => down(e, span.id)}
            onPointerUp={(e) => e.stopPropagation()}
            style={{ cursor: onDrag ? 'ew-resize' : 'pointer' }}
          >
            <title>{span.label}</title>
            <rect x={from - 3} y={middle - 14} width={Math.max(8, to - from + 6)} height="28" fill="transparent" />
            <path d={`M${to} ${middle} H${mark}`} stroke="var(--roadEdge)" strokeWidth="1.3" strokeDasharray="1.5 2" />
            <rect
              x={from}
              y={middle - (active ? 9 : 7)}
              width={Math.max(4, to - from)}
              height={active ? 18 : 14}
              fill={span.tone === 'locked' ? 'var(--plannedOnRoad)' : 'var(--drivenOnRoad)'}
              stroke={active ? 'var(--accent)' : 'var(--onRoadInk)'}
              strokeWidth={active ? 3 : 1}
            />
            <path d={`M${mark} ${middle - 9} V${middle + 9}`} stroke="var(--roadEdge)" strokeWidth="2.2" />
            {words !== '' && (
              <text
                x={from + 5}
                y={middle + 4}
                className="type-note"
                fontWeight="620"
                fill="var(--onRoadInk)"
                pointerEvents="none"
                style={{ fontStretch: '80%' }}
              >
                {words}
              </text>
            )}
          </g>
        )
      })}
    </g>
  )
}

/** Width of a letter of these words (px). */
const LETTER_PX = 5.6

/** The first word of a label, where it fits whole. */
const firstWord = (label: string, width: number): string => {
  const [word = ''] = label.split(/[ ,]/)
  return word.length * LETTER_PX <= width ? word : ''
}

/** As much of a label as fits into so many pixels. */
const shortened = (label: string, width: number): string => {
  const max = Math.floor(width / LETTER_PX)
  return label.length <= max ? label : `${label.slice(0, Math.max(1, max - 1)).trimEnd()}…`
}

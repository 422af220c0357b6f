import type { QuizPicture } from '@ochote/core'
import { useRef } from 'react'

type Point = { x_m: number; y_m: number }

/** A column of x, y pairs as points of the drawing: y down. */
const points = (flat: readonly number[]): string =>
  Array.from({ length: flat.length / 2 }, (_, i) => `${flat[2 * i].toFixed(1)},${(-flat[2 * i + 1]).toFixed(1)}`).join(' ')

/** A corner without marks, to tap a place on. `placed`: what was tapped, `right`: what is right, once it is known. */
export const CornerPicture = ({
  picture,
  placed,
  right,
  label,
  onPlace,
}: {
  picture: QuizPicture
  placed: Point | null
  right: Point | null
  label: string
  onPlace: ((place: Point) => void) | null
}) => {
  const ref = useRef<SVGSVGElement>(null)
  const xs = [...picture.left, ...picture.right].filter((_, i) => i % 2 === 0)
  const ys = [...picture.left, ...picture.right].filter((_, i) => i % 2 === 1)
  const [x0, x1, y0, y1] = [Math.min(...xs) - 8, Math.max(...xs) + 8, Math.min(...ys) - 8, Math.max(...ys) + 8]
  const size = Math.max(x1 - x0, y1 - y0)
  const unit = size / 100
  const road = `${points(picture.left)} ${points(reversed(picture.right))}`
  const arrows = [0.12, 0.88].map((share) => {
    const i = Math.min(picture.travel.length / 2 - 2, Math.floor((share * picture.travel.length) / 2))
    const [ax, ay, bx, by] = picture.travel.slice(2 * i, 2 * i + 4)
    return { x: ax, y: -ay, turn: (Math.atan2(-(by - ay), bx - ax) * 180) / Math.PI }
  })
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: a place on a picture is tapped
    <svg
      ref={ref}
      viewBox={`${(x0 + x1 - size) / 2} ${-(y0 + y1 + size) / 2} ${size} ${size}`}
      role="img"
      aria-label={label}
      style={{ width: '100%', aspectRatio: '1', display: 'block', background: 'var(--verge)', touchAction: 'manipulation' }}
      onClick={(event) => {
        const node = ref.current
        if (!node || !onPlace) return
        const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(node.getScreenCTM()?.inverse())
        onPlace({ x_m: at.x, y_m: -at.y })
      }}
    >
      <polygon points={road} fill="var(--road)" />
      {arrows.map((a) => (
        <g key={`${a.x} ${a.y}`} transform={`translate(${a.x} ${a.y}) rotate(${a.turn}) scale(${unit})`}>
          <path d="M-3.4 -2.4 L3.6 0 L-3.4 2.4 L-1.6 0 Z" fill="var(--roadEdge)" />
        </g>
      ))}
      {placed && (
        <g transform={`translate(${placed.x_m} ${-placed.y_m}) scale(${unit})`}>
          <circle r="3.2" fill="none" stroke="var(--ground)" strokeWidth="2" />
          <circle r="3.2" fill="none" stroke="var(--ink)" strokeWidth="1.1" />
        </g>
      )}
      {right && (
        <g transform={`translate(${right.x_m} ${-right.y_m}) scale(${unit})`}>
          <path d="M0 -4.6 L4.6 0 L0 4.6 L-4.6 0 Z" fill="var(--accent)" stroke="var(--ground)" strokeWidth="1.2" />
        </g>
      )}
    </svg>
  )
}

const reversed = (flat: readonly number[]): number[] => {
  const out: number[] = []
  for (let i = flat.length - 2; i >= 0; i -= 2) out.push(flat[i], flat[i + 1])
  return out
}

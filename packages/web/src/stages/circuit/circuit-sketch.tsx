import { Box } from '@mui/material'
import type { CircuitPreview } from '@ochote/contract'
import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from 'react'
import { say } from '../../language/say.ts'

/** Width of the drawing in its own units; its height follows the circuit's. */
const WIDTH = 1000
const ROOM = 60
/** Share of the lap that one press of a key moves the start line by. */
const KEY_SHARE = 1 / 400

type Props = { preview: CircuitPreview; onStart: ((start_m: number) => void) | null }

/** A circuit's road in the units of the drawing: north up. */
const laidOut = ({ road, open }: CircuitPreview) => {
  const { x_m, y_m, left_m, right_m } = road
  const n = x_m.length
  const [minX, maxX] = [Math.min(...x_m), Math.max(...x_m)]
  const [minY, maxY] = [Math.min(...y_m), Math.max(...y_m)]
  const scale = (WIDTH - 2 * ROOM) / Math.max(maxX - minX, (maxY - minY) * 1.2)
  // A tall circuit stands in the middle.
  const left = (WIDTH - (maxX - minX) * scale) / 2
  const place = (x: number, y: number): [number, number] => [left + (x - minX) * scale, ROOM + (maxY - y) * scale]
  const tangent = (i: number): [number, number] => {
    const [a, b] = open ? [Math.max(0, i - 1), Math.min(n - 1, i + 1)] : [(i + n - 1) % n, (i + 1) % n]
    const [dx, dy] = [x_m[b] - x_m[a], y_m[b] - y_m[a]]
    const length = Math.hypot(dx, dy) || 1
    return [dx / length, dy / length]
  }
  const offset = (i: number, away_m: number): [number, number] => {
    const [tx, ty] = tangent(i)
    return place(x_m[i] - ty * away_m, y_m[i] + tx * away_m)
  }
  return {
    n,
    place,
    tangent,
    offset,
    scale,
    height: 2 * ROOM + (maxY - minY) * scale,
    leftOf: (i: number) => offset(i, left_m[i]),
    rightOf: (i: number) => offset(i, -right_m[i]),
  }
}

const path = (points: readonly (readonly [number, number])[]): string =>
  points.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`).join('')

/** The road that was read, with its corners, its start line and direction, and what is doubtful; the start line can be dragged along it. */
export const CircuitSketch = ({ preview, onStart }: Props) => {
  const { road, corners, open, doubts } = preview
  const laid = useMemo(() => laidOut(preview), [preview])
  const drawing = useRef<SVGSVGElement>(null)
  const [dragged, setDragged] = useState<number | null>(null)
  const indexAt = (station_m: number): number => Math.min(laid.n - 1, Math.max(0, Math.round(station_m / road.step_m))) % laid.n
  const start = dragged ?? 0
  const nearest = (event: PointerEvent): number => {
    const rect = drawing.current?.getBoundingClientRect()
    if (!rect) return 0
    const [px, py] = [((event.clientX - rect.left) * WIDTH) / rect.width, ((event.clientY - rect.top) * laid.height) / rect.height]
    let best = 0
    let least = Number.POSITIVE_INFINITY
    for (let i = 0; i < laid.n; i++) {
      const [x, y] = laid.place(road.x_m[i], road.y_m[i])
      const d = (x - px) ** 2 + (y - py) ** 2
      if (d < least) {
        least = d
        best = i
      }
    }
    return best
  }
  const letGo = (): void => {
    if (dragged !== null && dragged !== 0) onStart?.(dragged * road.step_m)
    setDragged(null)
  }
  const onKey = (event: KeyboardEvent): void => {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (by === 0 || !onStart) return
    event.preventDefault()
    onStart((preview.length_m * (1 + by * KEY_SHARE)) % preview.length_m)
  }
  const edges = [laid.leftOf, laid.rightOf].map((side) => Array.from({ length: laid.n }, (_, i) => side(i)))
  const d = open ? `${path([...edges[0], ...edges[1].toReversed()])}Z` : `${path(edges[0])}Z${path(edges[1])}Z`
  // A flag of its own size, however wide the road is.
  const flag = [laid.offset(start, road.left_m[start] + 14 / laid.scale), laid.offset(start, -road.right_m[start] - 14 / laid.scale)]
  const arrow = indexAt(preview.length_m * 0.02 + start * road.step_m)
  const [ax, ay] = laid.offset(arrow, road.left_m[arrow] + 22 / laid.scale)
  const [tx, ty] = laid.tangent(arrow)
  return (
    <Box sx={{ border: 'hair', borderColor: 'divider' }}>
      <svg
        ref={drawing}
        viewBox={`0 0 ${WIDTH} ${laid.height.toFixed(0)}`}
        role="img"
        aria-label={preview.place ? say`Map of ${preview.name}, north up` : say`Map of ${preview.name}`}
        style={{ display: 'block', width: '100%', maxHeight: '60dvh', touchAction: 'none' }}
        onPointerMove={(event) => dragged !== null && setDragged(nearest(event))}
        onPointerUp={letGo}
        onPointerLeave={letGo}
      >
        <path d={d} fill="var(--road)" fillRule="evenodd" stroke="var(--ink)" strokeWidth={1} />
        {doubts.map((doubt, k) => {
          if (doubt.at_m === null) return null
          const [x, y] = laid.place(road.x_m[indexAt(doubt.at_m)], road.y_m[indexAt(doubt.at_m)])
          return (
            <g key={`${doubt.kind} ${doubt.at_m}`} fill="none" stroke="var(--warn)" strokeWidth={4}>
              <circle cx={x} cy={y} r={22} />
              <title>{`${k + 1}`}</title>
            </g>
          )
        })}
        {corners.map((corner) => {
          const i = indexAt(corner.apex_m)
          const [x, y] = laid.offset(i, road.left_m[i] + 26 / laid.scale)
          return (
            <text
              key={corner.id}
              x={x}
              y={y}
              textAnchor="middle"
              dominantBaseline="central"
              fill="var(--ink)"
              style={{ fontSize: 'calc(var(--text) * 1.4)' }}
            >
              {corner.id.slice(1)}
            </text>
          )
        })}
        <path
          d={`M${ax - 12 * tx} ${ay + 12 * ty} L${ax + 16 * tx} ${ay - 16 * ty} M${ax + 16 * tx - 10 * (tx - ty)} ${ay - 16 * ty + 10 * (ty + tx)} L${ax + 16 * tx} ${ay - 16 * ty} L${ax + 16 * tx - 10 * (tx + ty)} ${ay - 16 * ty - 10 * (tx - ty)}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={3}
        >
          <title>{say`Direction of the lap`}</title>
        </path>
        <g
          role="slider"
          aria-label={say`Start line: drag it along the road, or press the arrow keys`}
          aria-valuemin={0}
          aria-valuemax={Math.round(preview.length_m)}
          aria-valuenow={Math.round(start * road.step_m)}
          tabIndex={onStart ? 0 : -1}
          onKeyDown={onKey}
          onPointerDown={(event) => {
            if (!onStart) return
            event.preventDefault()
            setDragged(0)
          }}
          style={{ cursor: onStart ? 'grab' : 'default' }}
        >
          <line x1={flag[0][0]} y1={flag[0][1]} x2={flag[1][0]} y2={flag[1][1]} stroke="var(--danger)" strokeWidth={7} />
          <circle cx={flag[0][0]} cy={flag[0][1]} r={14} fill="var(--danger)" />
        </g>
      </svg>
    </Box>
  )
}

import { type Cone, cornerOf, type GroundItem, type Mark, nearestStation, type Plan, placeAt, placeOn } from '@ochote/core'
import { type MouseEvent, memo, type PointerEvent, type ReactNode, useEffect, useMemo, useRef, useState } from 'react'
import type { LiveDay } from '../../data/live/live-store.ts'
import { cornerLabel, cornerNumber } from '../corner-card/corner-words.ts'
import { ConeGhost, isMoved } from '../marks/cone-ghost.tsx'
import { ConeMark } from '../marks/cone-glyph.tsx'
import { overlayDash } from '../marks/dashes.ts'
import { leading, MarkShape } from '../marks/mark-glyph.tsx'
import { nearestCorner } from '../marks/nearest-corner.ts'
import { useLapSelection } from '../selection/lap-selection.tsx'
import { useSize } from '../use-size.ts'
import { CarsOnGround } from './cars-on-ground.tsx'
import { circuitBox, cornerBox, groundOffsetPath, groundPath, groundRoad, placeNames } from './ground-geometry.ts'
import { GroundItems } from './ground-items.tsx'
import { NorthArrow, ScaleBar, TravelArrow } from './map-signs.tsx'

type Props = {
  plan: Plan
  marks?: readonly Mark[]
  cones?: readonly Cone[]
  otherOffset_m?: Float64Array
  /** More lines, thin, e.g. by other methods. */
  overlays?: readonly { id: string; offset_m: Float64Array }[]
  /** Hazards, run-offs, references and posts. */
  ground?: readonly GroundItem[]
  /** Takes clicks instead of the selection: where on the lap, and on which half of the road. */
  onPick?: ((station_m: number, side: 'left' | 'right') => void) | undefined
  /** A leading mark of the selected corner was dragged to another place on the road. */
  onDragMark?: ((mark: Mark, place: { station_m: number; offset_m: number }) => void) | undefined
  car_m?: number | null
  /** All running cars, drawn as they move. */
  live?: LiveDay | undefined
  /** Drawn over the road in its own metres (y down), with the size of a pixel in them; stands for the cursor. */
  overlay?: ((pixel: number) => ReactNode) | undefined
  /** Zoom to the selected corner; the whole circuit otherwise. */
  zoomToCorner?: boolean
  /** How much of the road before the corner is in view with it (m). */
  before_m?: number
  height?: number | string
  /** Without north arrow and scale, for small drawings. */
  bare?: boolean
  /** For the projector: numbers and glyphs readable from eight metres. */
  big?: boolean
  label?: string
}

/** Marks that share a place: those that a cone may show are drawn last, on top. */
const drawingOrder = (marks: readonly Mark[]): Mark[] =>
  [...marks].sort((a, b) => Number(leading.has(a.kind)) - Number(leading.has(b.kind)))

/** Marks that place the car: these can be dragged, the line then goes through them. */
const draggable: ReadonlySet<Mark['kind']> = new Set(['turn-in', 'apex', 'exit'])

/** However far out, the road is drawn at least this wide (px). */
const THINNEST_ROAD_PX = 5
/** Room for names around the whole circuit (px). */
const NAME_ROOM_PX = 30
const BIG_NAME_ROOM_PX = 58
/** Half the width of a corner's name (px), by its letters. */
const nameWidth = (corner: { id: string; name: string }): number => 3.1 * (cornerLabel(corner).length + 1)

/** How far the view was moved from showing everything. */
type Moved = { zoom: number; x_m: number; y_m: number }
const unmoved: Moved = { zoom: 1, x_m: 0, y_m: 0 }
const MAX_ZOOM = 40

/** The plan map, north up; the wheel zooms, dragging moves, a double click shows everything: road between its edges, line, marks, cones, cursor. */
export const GroundView = memo(
  ({
    plan,
    marks,
    cones,
    otherOffset_m,
    overlays,
    ground,
    onPick,
    onDragMark,
    car_m,
    live,
    overlay,
    zoomToCorner = true,
    before_m,
    height = 360,
    big = false,
    bare = false,
    label = 'Ground view, north up',
  }: Props) => {
    const { circuit, corners, line } = plan
    const [ref, size] = useSize<HTMLDivElement>()
    const { cornerId, station_m, selectCorner, moveTo } = useLapSelection()
    const road = useMemo(() => groundRoad(circuit), [circuit])
    const middle = useMemo(() => groundPath(circuit.x_m, circuit.y_m, circuit.open), [circuit])
    const path = useMemo(() => groundPath(line.x_m, line.y_m, circuit.open), [line, circuit.open])
    const other = useMemo(() => (otherOffset_m ? groundOffsetPath(circuit, otherOffset_m) : null), [circuit, otherOffset_m])
    const others = useMemo(
      () => (overlays ?? []).map((o) => ({ id: o.id, path: groundOffsetPath(circuit, o.offset_m) })),
      [circuit, overlays],
    )
    const corner = zoomToCorner ? cornerOf(corners, cornerId) : undefined
    const box = useMemo(() => (corner ? cornerBox(circuit, corner, before_m) : circuitBox(circuit)), [circuit, corner, before_m])
    const room = corner ? 0 : big ? BIG_NAME_ROOM_PX : NAME_ROOM_PX
    const fit = Math.min((size.width - 2 * room) / (box.maxX - box.minX), (size.height - 2 * room) / (box.maxY - box.minY)) || 1
    const [moved, setMoved] = useState(unmoved)
    // A new circuit or corner begins with all of it in view.
    useEffect(() => {
      if (box) setMoved(unmoved)
    }, [box])
    const scale = fit * moved.zoom
    const viewWidth = size.width / scale
    const viewHeight = size.height / scale
    const left = (box.minX + box.maxX - viewWidth) / 2 + moved.x_m
    const top = -(box.minY + box.maxY) / 2 - viewHeight / 2 + moved.y_m
    const drag = useRef<{ x: number; y: number; from: Moved; far: boolean } | null>(null)
    const pixel = 1 / scale
    const [held, setHeld] = useState<{ mark: Mark; x_m: number; y_m: number } | null>(null)
    const names = useMemo(
      () =>
        placeNames(circuit, corners, {
          away_m: 14 / scale,
          halfHeight_m: (big ? 16 : 7) / scale,
          halfWidth_m: (c) => (big ? 22 : nameWidth(c)) / scale,
        }),
      [circuit, corners, scale, big],
    )

    useEffect(() => {
      const node = ref.current
      if (!node) return
      // React listens passively to the wheel, which could not keep the page from scrolling.
      const onWheel = (event: WheelEvent): void => {
        event.preventDefault()
        const rect = node.getBoundingClientRect()
        const [fromX, fromY] = [event.clientX - rect.left - rect.width / 2, event.clientY - rect.top - rect.height / 2]
        setMoved((m) => {
          const zoom = Math.min(MAX_ZOOM, Math.max(1, m.zoom * (event.deltaY > 0 ? 0.8 : 1.25)))
          const keep = 1 / (fit * m.zoom) - 1 / (fit * zoom)
          return zoom === 1 ? unmoved : { zoom, x_m: m.x_m + fromX * keep, y_m: m.y_m + fromY * keep }
        })
      }
      node.addEventListener('wheel', onWheel, { passive: false })
      return () => node.removeEventListener('wheel', onWheel)
    }, [ref, fit])
    const onPointerDown = (event: PointerEvent): void => {
      drag.current = { x: event.clientX, y: event.clientY, from: moved, far: false }
    }
    const groundAt = (event: { clientX: number; clientY: number }): { x_m: number; y_m: number } | null => {
      const rect = ref.current?.getBoundingClientRect()
      if (!rect) return null
      return { x_m: left + (event.clientX - rect.left) * pixel, y_m: -(top + (event.clientY - rect.top) * pixel) }
    }
    const onPointerUp = (): void => {
      if (!held) return
      setHeld(null)
      onDragMark?.(held.mark, placeOn(circuit, held.x_m, held.y_m, { station_m: held.mark.station_m, reach_m: 80 }))
    }
    const onPointerMove = (event: PointerEvent): void => {
      if (held) {
        const at = groundAt(event)
        if (at) setHeld({ mark: held.mark, ...at })
        return
      }
      const from = drag.current
      if (!from || event.buttons === 0) return
      const [dx, dy] = [event.clientX - from.x, event.clientY - from.y]
      if (Math.hypot(dx, dy) > 4) from.far = true
      if (from.far) setMoved({ zoom: from.from.zoom, x_m: from.from.x_m - dx / scale, y_m: from.from.y_m - dy / scale })
    }

    const onClick = (event: MouseEvent): void => {
      const rect = ref.current?.getBoundingClientRect()
      if (!rect || drag.current?.far) return
      const x_m = left + (event.clientX - rect.left) * pixel
      const y_m = -(top + (event.clientY - rect.top) * pixel)
      const s_m = nearestStation(circuit, x_m, y_m)
      if (onPick) {
        onPick(s_m, placeOn(circuit, x_m, y_m).offset_m > 0 ? 'left' : 'right')
        return
      }
      moveTo(s_m)
      selectCorner(nearestCorner(corners, s_m, circuit.length_m)?.id ?? null)
    }
    const at = (s_m: number, offset_m: number, size = 1): string => {
      const place = placeAt(circuit, s_m, offset_m)
      return `translate(${place.x_m.toFixed(2)} ${(-place.y_m).toFixed(2)}) scale(${size * pixel})`
    }
    const start = placeAt(circuit, 0, 0)
    return (
      // biome-ignore lint/a11y/useKeyWithClickEvents: the same steps are on the arrow keys of the band
      // biome-ignore lint/a11y/noStaticElementInteractions: a map to click on
      <div
        ref={ref}
        onClick={onClick}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onDoubleClick={() => setMoved(unmoved)}
        style={{ width: '100%', height, cursor: 'crosshair', touchAction: 'none' }}
      >
        {size.width > 2 * NAME_ROOM_PX && (
          <svg
            width={size.width}
            height={size.height}
            viewBox={`${left} ${top} ${viewWidth} ${viewHeight}`}
            role="img"
            aria-label={label}
            style={{ display: 'block' }}
          >
            <path d={middle} fill="none" stroke="var(--road)" strokeWidth={(big ? 9 : THINNEST_ROAD_PX) * pixel} />
            <path d={road} fill="var(--road)" fillRule="evenodd" />
            <path d={path} fill="none" stroke="var(--roadEdge)" strokeWidth={1.5 * pixel} />
            {other && <path d={other} fill="none" stroke="var(--other)" strokeWidth={2 * pixel} />}
            {others.map((o, i) => (
              <path
                key={o.id}
                d={o.path}
                fill="none"
                stroke="var(--roadEdge)"
                strokeWidth={1.3 * pixel}
                strokeDasharray={overlayDash(i)
                  .split(' ')
                  .map((d) => Number(d) * pixel)
                  .join(' ')}
              />
            ))}
            <GroundItems circuit={circuit} items={ground ?? []} alone={corner !== undefined} pixel={pixel} />
            <g transform={`translate(${start.x_m} ${-start.y_m}) rotate(${(-start.heading_rad * 180) / Math.PI})`}>
              <line
                y1={-circuit.widthLeft_m[0] - 3}
                y2={circuit.widthRight_m[0] + 3}
                stroke="var(--ink)"
                strokeWidth={Math.max(1.5, 3 * pixel)}
              />
            </g>
            {corners.map((c, i) => (
              <text
                key={c.id}
                x={names[i].x_m}
                y={-names[i].y_m}
                fontSize={(big ? 30 : 12.5) * pixel}
                textAnchor="middle"
                dominantBaseline="middle"
                fontWeight={c.id === cornerId ? 750 : 560}
                fill={c.id === cornerId ? 'var(--accent)' : 'var(--ink)'}
                stroke="var(--ground)"
                strokeWidth={3 * pixel}
                paintOrder="stroke"
                style={{ fontStretch: '82%' }}
              >
                {big ? cornerNumber(c) : cornerLabel(c)}
              </text>
            ))}
            {(corner ? drawingOrder(marks ?? []) : []).map((m) => (
              <g
                key={`${m.cornerId}${m.kind}`}
                transform={at(m.station_m, m.offset_m)}
                color="var(--ink)"
                {...(onDragMark && m.cornerId === cornerId && draggable.has(m.kind)
                  ? {
                      style: { cursor: 'move' },
                      'aria-label': `Drag the ${m.kind}`,
                      onPointerDown: (event: PointerEvent) => {
                        event.stopPropagation()
                        drag.current = { x: 0, y: 0, from: moved, far: true }
                        const place = groundAt(event)
                        if (place) setHeld({ mark: m, ...place })
                      },
                    }
                  : {})}
              >
                <title>{`${m.cornerId} ${m.kind}`}</title>
                <circle r="9" fill="var(--ground)" stroke="var(--ink)" strokeWidth="1" />
                <MarkShape kind={m.kind} />
              </g>
            ))}
            {held && (
              <g
                transform={`translate(${held.x_m.toFixed(2)} ${(-held.y_m).toFixed(2)}) scale(${pixel})`}
                color="var(--accent)"
                pointerEvents="none"
              >
                <circle r="10" fill="var(--ground)" stroke="var(--accent)" strokeWidth="2" />
                <MarkShape kind={held.mark.kind} />
              </g>
            )}
            <TravelArrow place={placeAt(circuit, corner ? corner.start_m - 60 : 40, 0)} size={(corner ? 1 : 0.8) * (big ? 2 : 1) * pixel} />
            {(cones ?? []).filter(isMoved).map((c) => (
              <g key={`ghost ${c.id}`} transform={at(c.computed.station_m, c.computed.offset_m, (corner ? 1.15 : 0.62) * (big ? 2 : 1))}>
                <ConeGhost cone={c} />
              </g>
            ))}
            {(cones ?? []).map((c) => (
              <g key={c.id} transform={at(c.station_m, c.offset_m, (corner ? 1.15 : 0.62) * (big ? 2 : 1))}>
                <title>{`${c.cornerId} ${c.kind}: ${c.colour}`}</title>
                <ConeMark colour={c.colour} shape={c.shape} />
              </g>
            ))}
            {station_m !== null && !overlay && (
              <g transform={at(station_m, 0)} pointerEvents="none">
                <circle r="11" fill="none" stroke="var(--ink)" strokeWidth="5" />
                <circle r="11" fill="none" stroke="var(--ground)" strokeWidth="2" />
              </g>
            )}
            {car_m !== undefined && car_m !== null && (
              <g transform={at(car_m, 0)}>
                <circle r="8" fill="var(--ground)" stroke="var(--ink)" strokeWidth="3" />
              </g>
            )}
            {live && <CarsOnGround live={live} plan={plan} pixel={pixel} />}
            {overlay?.(pixel)}
            {!bare && <NorthArrow x={left + 22 * pixel} y={top + 26 * pixel} pixel={pixel} />}
            {!big && !bare && <ScaleBar x={left + 14 * pixel} y={top + viewHeight - 14 * pixel} pixel={pixel} />}
          </svg>
        )}
      </div>
    )
  },
)

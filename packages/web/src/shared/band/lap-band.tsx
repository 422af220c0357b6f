import type { Cone, GroundItem, Mark, Plan } from '@ochote/core'
import { memo, type PointerEvent, type ReactNode, useEffect, useMemo, useRef, useState, type WheelEvent } from 'react'
import type { LiveDay } from '../../data/live/live-store.ts'
import { dashes, overlayDash } from '../marks/dashes.ts'
import { leading, MarkShape } from '../marks/mark-glyph.tsx'
import { nearestCorner } from '../marks/nearest-corner.ts'
import { useLapSelection } from '../selection/lap-selection.tsx'
import { useSize } from '../use-size.ts'
import { BandCursor } from './band-cursor.tsx'
import {
  type BandFrame,
  type BandView,
  columnPath,
  offsetPath,
  offsetToY,
  panView,
  placeGround,
  roadPath,
  stationToX,
  wholeLap,
  xToStation,
  zoomView,
} from './band-geometry.ts'
import { CarsOnBand } from './cars-on-band.tsx'
import { ConesOnBand } from './cones-on-band.tsx'
import { CornerNames } from './corner-names.tsx'
import { GroundOnBand } from './ground-on-band.tsx'
import { type BandNote, NotesOnBand } from './notes-on-band.tsx'
import { type BandSpan, SpansOnBand } from './spans-on-band.tsx'
import { LEGEND_PX, type Strip, StripLegend, speedStrip, stripColours } from './strips.tsx'

/** What a stage lays over the band beyond the road itself. */
type BandLayers = {
  marks?: readonly Mark[]
  cones?: readonly Cone[]
  /** Small flags under the road at stations, e.g. findings and observations. */
  notes?: readonly BandNote[]
  /** Another path over the road, e.g. a driven lap. */
  otherOffset_m?: Float64Array
  /** More paths over the road, thin, e.g. lines by other methods. */
  overlays?: readonly { id: string; offset_m: Float64Array }[]
  /** Hazards, run-offs, references and posts at their side of the road. */
  ground?: readonly GroundItem[]
  /** Columns drawn in the strip beneath the road instead of the speed, up to four. */
  strips?: readonly Strip[]
  car_m?: number | null
  /** All running cars, drawn as they move. */
  live?: LiveDay
  /** What is said, over the road, with its mark. */
  spans?: readonly BandSpan[]
  selectedSpan?: string | null
}

type Props = {
  plan: Plan
  layers?: BandLayers
  height?: number
  compact?: boolean
  label?: string
  children?: ReactNode
  /** Takes clicks instead of the selection: where on the lap, and on which half of the road. */
  onPick?: ((station_m: number, side: 'left' | 'right') => void) | undefined
  onCone?: ((cone: Cone) => void) | undefined
  onSpan?: ((id: string) => void) | undefined
  /** A span is dragged by so many metres along the lap; `done` when it is let go. */
  onSpanDrag?: ((id: string, along_m: number, done: boolean) => void) | undefined
}

/**
 * The lap laid out flat: road against station, swelling to the side to which it bends, with height and speed beneath.
 * Wheel zooms, dragging moves along, a click selects the corner and moves the cursor there.
 */
export const LapBand = memo(
  ({ plan, layers = {}, height = 230, compact = false, label = 'Lap laid out flat', onPick, onCone, onSpan, onSpanDrag }: Props) => {
    const { circuit, corners, line, profile } = plan
    const [ref, { width }] = useSize<HTMLDivElement>()
    const [view, setView] = useState<BandView>(() => wholeLap(circuit))
    const { cornerId, station_m, selectCorner, moveTo } = useLapSelection()
    const drag = useRef<{ x: number; view: BandView; moved: boolean } | null>(null)
    const length = circuit.length_m
    useEffect(() => setView({ start_m: 0, end_m: length }), [length])

    const stripHeight = compact ? 0 : 60
    const frame: BandFrame = useMemo(
      () => ({
        width,
        middle: 26 + (height - 26 - stripHeight) / 2,
        half: compact ? 13 : 19,
        swell: (height - 26 - stripHeight) / 2 - (compact ? 26 : 38),
      }),
      [width, height, stripHeight, compact],
    )
    const drawn = useMemo(() => {
      if (width === 0) return null
      const strip = { top: height - stripHeight + 4, bottom: height - LEGEND_PX }
      return {
        road: roadPath(circuit, view, frame),
        line: offsetPath(circuit, line.offset_m, view, frame),
        other: layers.otherOffset_m ? offsetPath(circuit, layers.otherOffset_m, view, frame) : null,
        heightProfile: compact
          ? null
          : `${columnPath(circuit, circuit.z_m, view, frame, strip)}L${width} ${height - LEGEND_PX}L0 ${height - LEGEND_PX}Z`,
        strips: compact ? [] : (layers.strips ?? [speedStrip(profile)]).map((s) => columnPath(circuit, s.column, view, frame, strip)),
        overlays: (layers.overlays ?? []).map((o) => ({ id: o.id, path: offsetPath(circuit, o.offset_m, view, frame) })),
      }
    }, [circuit, line, profile, layers.otherOffset_m, layers.overlays, layers.strips, view, frame, width, height, stripHeight, compact])

    const placed = useMemo(() => placeGround(circuit, layers.ground ?? [], view, frame), [circuit, layers.ground, view, frame])
    const x = (s_m: number): number => stationToX(s_m, view, frame, length)
    const seen = (s_m: number): boolean => x(s_m) >= -20 && x(s_m) <= width + 20
    const span = view.end_m - view.start_m
    const close = span < 900
    const stationOf = (event: { clientX: number }): number => {
      const left = ref.current?.getBoundingClientRect().left ?? 0
      return xToStation(event.clientX - left, view, frame, length)
    }
    const onWheel = (event: WheelEvent): void => setView((v) => zoomView(v, stationOf(event), event.deltaY > 0 ? 1.25 : 0.8, length))
    const onPointerDown = (event: PointerEvent): void => {
      drag.current = { x: event.clientX, view, moved: false }
    }
    const onPointerMove = (event: PointerEvent): void => {
      const from = drag.current
      if (!from) return
      const by = event.clientX - from.x
      if (Math.abs(by) > 4) from.moved = true
      if (from.moved) setView(panView(from.view, (-by / width) * span, length))
    }
    const onPointerUp = (event: PointerEvent): void => {
      const from = drag.current
      drag.current = null
      if (!from || from.moved) return
      const s_m = stationOf(event)
      if (onPick) {
        const top = ref.current?.getBoundingClientRect().top ?? 0
        onPick(s_m, event.clientY - top < frame.middle ? 'left' : 'right')
        return
      }
      moveTo(s_m)
      selectCorner(nearestCorner(corners, s_m, length)?.id ?? null)
    }

    return (
      <div
        ref={ref}
        role="application"
        aria-label={`${label}. Arrow keys step through marks, with shift through corners; the wheel zooms.`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the band takes arrow keys
        tabIndex={0}
        style={{
          width: '100%',
          height,
          touchAction: 'pan-y',
          cursor: onPick ? 'crosshair' : span < length ? 'grab' : 'default',
          userSelect: 'none',
        }}
        onWheel={onWheel}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerLeave={() => {
          drag.current = null
        }}
        onDoubleClick={() => setView(wholeLap(circuit))}
      >
        {drawn && (
          <svg width={width} height={height} role="img" aria-label={label} style={{ display: 'block', overflow: 'hidden' }}>
            {drawn.heightProfile && <path d={drawn.heightProfile} fill="var(--verge)" />}
            <path d={drawn.road} fill="var(--road)" />
            <line
              x1={x(0)}
              x2={x(0)}
              y1={frame.middle - frame.half - 8}
              y2={frame.middle + frame.half + 8}
              stroke="var(--ink)"
              strokeWidth="3"
              strokeDasharray="4 4"
            />
            <path d={drawn.line} fill="none" stroke="var(--roadEdge)" strokeWidth="1.6" opacity="0.9" />
            {drawn.other && <path d={drawn.other} fill="none" stroke="var(--other)" strokeWidth="2" />}
            {drawn.overlays.map((o, i) => (
              <path key={o.id} d={o.path} fill="none" stroke="var(--roadEdge)" strokeWidth="1.3" strokeDasharray={overlayDash(i)} />
            ))}
            {!compact && <StripLegend plan={plan} strips={layers.strips ?? [speedStrip(profile)]} y={height - 3} />}
            {drawn.strips.map((path, i) => (
              <path
                key={layers.strips?.[i]?.id ?? 'speed'}
                d={path}
                fill="none"
                stroke={stripColours[i % stripColours.length]}
                strokeWidth="1.5"
                strokeDasharray={dashes[i % dashes.length]}
              />
            ))}
            {placed.map((p) => (
              <GroundOnBand key={p.item.id} placed={p} frame={frame} />
            ))}
            <CornerNames
              corners={corners}
              x={x}
              seen={seen}
              selected={cornerId}
              frame={frame}
              pixelsPerMetre={width / span}
              stripTop={height - Math.max(stripHeight, 8) - 2}
            />
            {(layers.marks ?? [])
              .filter((m) => seen(m.station_m) && (close || leading.has(m.kind)))
              .map((m) => (
                <g
                  key={`${m.cornerId}${m.kind}`}
                  transform={`translate(${x(m.station_m).toFixed(1)} ${offsetToY(circuit, m.station_m, m.offset_m, frame).toFixed(1)}) scale(${close ? 1.15 : 0.82})`}
                  color="var(--roadEdge)"
                  opacity={cornerId === null || m.cornerId === cornerId ? 1 : 0.55}
                >
                  <title>{`${m.cornerId} ${m.kind}`}</title>
                  <MarkShape kind={m.kind} />
                </g>
              ))}
            <ConesOnBand
              circuit={circuit}
              cones={(layers.cones ?? []).filter((c) => seen(c.station_m))}
              x={x}
              frame={frame}
              close={close}
              onCone={
                onCone &&
                ((cone, event) => {
                  if (drag.current?.moved) return
                  drag.current = null
                  event.stopPropagation()
                  onCone(cone)
                })
              }
            />
            {layers.spans && (
              <SpansOnBand
                spans={layers.spans.filter((s) => seen(s.to_m) || seen(s.from_m))}
                x={x}
                middle={frame.middle}
                half={frame.half}
                selected={layers.selectedSpan ?? null}
                close={close}
                onSelect={onSpan}
                onDrag={onSpanDrag && ((id, pixels, done) => onSpanDrag(id, (pixels / width) * span, done))}
              />
            )}
            <NotesOnBand notes={(layers.notes ?? []).filter((n) => seen(n.station_m))} x={x} y={height - stripHeight - 2} />
            {station_m !== null && seen(station_m) && (
              <BandCursor
                top={height - Math.max(stripHeight, 24)}
                x={x(station_m)}
                height={height}
                plan={plan}
                station_m={station_m}
                width={width}
              />
            )}
            {layers.live && <CarsOnBand live={layers.live} x={x} y={frame.middle} seen={seen} />}
            {layers.car_m !== undefined && layers.car_m !== null && seen(layers.car_m) && (
              <g transform={`translate(${x(layers.car_m).toFixed(1)} ${frame.middle})`}>
                <path d="M-13 -8 H5 L14 0 L5 8 H-13 Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
              </g>
            )}
          </svg>
        )}
      </div>
    )
  },
)

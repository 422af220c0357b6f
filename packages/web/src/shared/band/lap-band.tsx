import { type Cone, type Corner, distanceAhead, type Plan } from '@ochote/core'
import { memo, useEffect, useMemo, useState } from 'react'
import { say } from '../../language/say.ts'
import { leading } from '../marks/mark-glyph.tsx'
import { nearestCorner } from '../marks/nearest-corner.ts'
import type { PickPlace, RoadLayers } from '../road-layers.ts'
import { useLapSelection } from '../selection/lap-selection.tsx'
import { type ScreenPlace, useGestures } from '../use-gestures.ts'
import { measuredFrame, useSize } from '../use-size.ts'
import { BandCursor } from './band-cursor.tsx'
import { type BandFrame, type BandView, panView, placeGround, stationToX, wholeLap, xToStation, zoomView } from './band-geometry.ts'
import { CarsOnBand } from './cars-on-band.tsx'
import { ConesOnBand } from './cones-on-band.tsx'
import { CornerNames } from './corner-names.tsx'
import { GroundOnBand } from './ground-on-band.tsx'
import { MarksOnBand } from './marks-on-band.tsx'
import { NotesOnBand } from './notes-on-band.tsx'
import { RoadOnBand } from './road-on-band.tsx'
import { SpansOnBand } from './spans-on-band.tsx'

type Props = {
  plan: Plan
  layers?: RoadLayers
  height?: number
  compact?: boolean
  /** Corners by number, and only the next one by name: for a glance in a moving car. */
  atAGlance?: boolean
  label?: string
  onPick?: PickPlace | undefined
  onCone?: ((cone: Cone) => void) | undefined
  onSpan?: ((id: string) => void) | undefined
  /** A span is dragged by so many metres along the lap; `done` when it is let go. */
  onSpanDrag?: ((id: string, along_m: number, done: boolean) => void) | undefined
}

const noLayers: RoadLayers = {}
/** Height of the strip beneath the road, and room for names above it (px). */
const STRIP_PX = 60
const NAMES_PX = 26
/** From here on marks have room enough to be shown all (m in view). */
const CLOSE_M = 900

const frameOf = (width: number, height: number, stripHeight: number, compact: boolean): BandFrame => {
  const room = (height - NAMES_PX - stripHeight) / 2
  return { width, middle: NAMES_PX + room, half: compact ? 13 : 19, swell: room - (compact ? 26 : 38) }
}

/**
 * The lap laid out flat: road against station, swelling to the side to which it bends, with height and speed beneath.
 * Wheel zooms, dragging moves along, a click selects the corner and moves the cursor there.
 */
export const LapBand = memo(
  ({
    plan,
    layers = noLayers,
    height = 230,
    compact = false,
    atAGlance = false,
    label = say`Lap laid out flat`,
    onPick,
    ...handling
  }: Props) => {
    const { circuit, corners } = plan
    const length = circuit.length_m
    const [ref, { width }] = useSize<HTMLDivElement>()
    const [view, setView] = useState<BandView>(() => wholeLap(circuit))
    const { selectCorner, moveTo } = useLapSelection()
    useEffect(() => setView({ start_m: 0, end_m: length }), [length])
    const stripHeight = compact ? 0 : STRIP_PX
    const frame = useMemo(() => frameOf(width, height, stripHeight, compact), [width, height, stripHeight, compact])
    const span_m = view.end_m - view.start_m
    const stationOf = ({ clientX }: ScreenPlace): number =>
      xToStation(clientX - (ref.current?.getBoundingClientRect().left ?? 0), view, frame, length)
    const gestures = useGestures(ref, {
      onZoom: (at, factor) => setView((v) => zoomView(v, stationOf(at), 1 / factor, length)),
      onPan: (dx) => setView((v) => panView(v, (-dx / width) * (v.end_m - v.start_m), length)),
      onTap: (at) => {
        const s_m = stationOf(at)
        if (onPick) {
          onPick(s_m, at.clientY - (ref.current?.getBoundingClientRect().top ?? 0) < frame.middle ? 'left' : 'right')
          return
        }
        moveTo(s_m)
        selectCorner(nearestCorner(corners, s_m, length)?.id ?? null)
      },
    })
    return (
      <div
        ref={ref}
        role="application"
        aria-label={say`${label}. Arrow keys step through marks, with shift through corners; the wheel zooms.`}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the band takes arrow keys
        tabIndex={0}
        style={{
          ...measuredFrame,
          height,
          touchAction: 'pan-y',
          cursor: onPick ? 'crosshair' : span_m < length ? 'grab' : 'default',
          userSelect: 'none',
        }}
        {...gestures.handlers}
        onDoubleClick={() => setView(wholeLap(circuit))}
      >
        {width > 0 && (
          <BandDrawing
            {...handling}
            plan={plan}
            layers={layers}
            view={view}
            frame={frame}
            size={{ width, height, stripHeight }}
            label={label}
            atAGlance={atAGlance}
            isDragged={gestures.isDragged}
            onTaken={gestures.cancel}
          />
        )}
      </div>
    )
  },
)

/** The corner that comes next for a car; the first one where it is not known. */
const nextCorner = ({ circuit, corners }: Plan, car_m: number | null): string | null =>
  corners.reduce<Corner | null>(
    (best, c) =>
      best && distanceAhead(car_m ?? 0, best.peak_m, circuit.length_m) <= distanceAhead(car_m ?? 0, c.peak_m, circuit.length_m) ? best : c,
    null,
  )?.id ?? null

type DrawingProps = Pick<Props, 'plan' | 'onCone' | 'onSpan' | 'onSpanDrag'> & {
  layers: RoadLayers
  view: BandView
  frame: BandFrame
  size: { width: number; height: number; stripHeight: number }
  label: string
  atAGlance: boolean
  isDragged: () => boolean
  /** A press was taken by something drawn on the road. */
  onTaken: () => void
}

const BandDrawing = ({
  plan,
  layers,
  view,
  frame,
  size,
  label,
  atAGlance,
  isDragged,
  onTaken,
  onCone,
  onSpan,
  onSpanDrag,
}: DrawingProps) => {
  const { circuit, corners } = plan
  const { width, height, stripHeight } = size
  const { cornerId, station_m } = useLapSelection()
  const { marks = [], cones = [], ground, spans, selectedSpan = null, notes = [], live, car_m = null } = layers
  const placed = useMemo(() => placeGround(circuit, ground ?? [], view, frame), [circuit, ground, view, frame])
  const span_m = view.end_m - view.start_m
  const close = span_m < CLOSE_M
  const x = (s_m: number): number => stationToX(s_m, view, frame, circuit.length_m)
  const seen = (s_m: number): boolean => x(s_m) >= -20 && x(s_m) <= width + 20
  return (
    <svg width={width} height={height} role="img" aria-label={label} style={{ display: 'block', overflow: 'hidden' }}>
      <RoadOnBand plan={plan} layers={layers} view={view} frame={frame} size={size} start_px={x(0)} />
      {placed.map((p) => (
        <GroundOnBand key={p.item.id} placed={p} frame={frame} />
      ))}
      <CornerNames
        corners={corners}
        x={x}
        seen={seen}
        selected={cornerId}
        frame={frame}
        pixelsPerMetre={width / span_m}
        stripTop={height - Math.max(stripHeight, 8) - 2}
        {...(atAGlance ? { named: nextCorner(plan, car_m) } : {})}
      />
      <MarksOnBand
        circuit={circuit}
        marks={marks.filter((m) => seen(m.station_m) && (close || leading.has(m.kind)))}
        x={x}
        frame={frame}
        close={close}
        cornerId={cornerId}
      />
      <ConesOnBand
        circuit={circuit}
        cones={cones.filter((c) => seen(c.station_m))}
        x={x}
        frame={frame}
        close={close}
        onCone={
          onCone &&
          ((cone, event) => {
            if (isDragged()) return
            onTaken()
            event.stopPropagation()
            onCone(cone)
          })
        }
      />
      {spans && (
        <SpansOnBand
          spans={spans.filter((s) => seen(s.to_m) || seen(s.from_m))}
          x={x}
          middle={frame.middle}
          half={frame.half}
          selected={selectedSpan}
          close={close}
          onSelect={onSpan}
          onDrag={onSpanDrag && ((id, pixels, done) => onSpanDrag(id, (pixels / width) * span_m, done))}
        />
      )}
      <NotesOnBand notes={notes.filter((n) => seen(n.station_m))} x={x} y={height - stripHeight - 2} />
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
      {live && <CarsOnBand live={live} initials={layers.initials} x={x} y={frame.middle} seen={seen} />}
      {car_m !== null && seen(car_m) && (
        <g transform={`translate(${x(car_m).toFixed(1)} ${frame.middle})`}>
          <path d="M-13 -8 H5 L14 0 L5 8 H-13 Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
        </g>
      )}
    </svg>
  )
}

import { cornerOf, nearestStation, type Plan, placeAt, placeOn } from '@ochote/core'
import { memo, type ReactNode, useMemo } from 'react'
import { say } from '../../language/say.ts'
import { nearestCorner } from '../marks/nearest-corner.ts'
import type { PickPlace, RoadLayers } from '../road-layers.ts'
import { useLapSelection } from '../selection/lap-selection.tsx'
import { useGestures } from '../use-gestures.ts'
import { measuredFrame, useSize } from '../use-size.ts'
import { CarsOnGround } from './cars-on-ground.tsx'
import { ConesOnGround, type DragCones } from './cones-on-ground.tsx'
import { circuitBox, cornerBox, stretchBox } from './ground-geometry.ts'
import { GroundItems } from './ground-items.tsx'
import { NorthArrow, ScaleBar, TravelArrow } from './map-signs.tsx'
import { type DragMark, MarksOnGround } from './marks-on-ground.tsx'
import { NamesOnGround } from './names-on-ground.tsx'
import { NotesOnGround } from './notes-on-ground.tsx'
import { RoadOnGround } from './road-on-ground.tsx'
import { useGroundFrame } from './use-ground-frame.ts'

type Props = {
  plan: Plan
  layers?: RoadLayers
  onPick?: PickPlace | undefined
  /** A leading mark of the selected corner was dragged to another place on the road. */
  onDragMark?: DragMark | undefined
  /** One is held over a place of the road, before it is let go. */
  onHoldMark?: DragMark | undefined
  /** It is let go, at a place or nowhere. */
  onLetGoMark?: (() => void) | undefined
  /** A group of cones that can be dragged. */
  dragCones?: DragCones | undefined
  /** Drawn over the road in its own metres (y down), with the size of a pixel in them; stands for the cursor. */
  overlay?: ((pixel: number) => ReactNode) | undefined
  /** Zoom to the selected corner; the whole circuit otherwise. */
  zoomToCorner?: boolean
  /** Road in view before the corner (m). */
  before_m?: number
  /** The road in view where it is neither the selected corner's nor all. */
  stretch?: { from_m: number; span_m: number } | undefined
  height?: number | string
  /** Without north arrow and scale, for small drawings. */
  bare?: boolean
  /** With a scale, where somebody may measure. */
  scaled?: boolean
  /** For the projector: numbers and glyphs readable from eight metres. */
  big?: boolean
  label?: string
}

const noLayers: RoadLayers = {}
/** Room for names around the whole circuit (px). */
const NAME_ROOM_PX = { near: 30, big: 58 }

/** The plan map, north up; the wheel zooms, dragging moves, a double click shows everything: road between its edges, line, marks, cones, cursor. */
export const GroundView = memo(
  ({
    plan,
    layers = noLayers,
    onPick,
    onDragMark,
    onHoldMark,
    onLetGoMark,
    dragCones,
    overlay,
    zoomToCorner = true,
    before_m,
    stretch,
    height = 360,
    big = false,
    bare = false,
    scaled = true,
    label,
  }: Props) => {
    const { circuit, corners } = plan
    const northKnown = circuit.origin !== undefined || circuit.northSet === true
    const { marks = [], cones = [], ground = [], car_m = null, live, notes = [] } = layers
    const [ref, size] = useSize<HTMLDivElement>()
    const { cornerId, station_m, selectCorner, moveTo } = useLapSelection()
    const corner = zoomToCorner ? cornerOf(corners, cornerId) : undefined
    const box = useMemo(
      () => (stretch ? stretchBox(circuit, stretch) : corner ? cornerBox(circuit, corner, before_m) : circuitBox(circuit)),
      [circuit, corner, before_m, stretch],
    )
    const room_px = corner ? 0 : big ? NAME_ROOM_PX.big : NAME_ROOM_PX.near
    const { frame, groundAt, zoomAt, pan, reset } = useGroundFrame(ref, size, box, room_px)
    const { left, top, pixel } = frame
    const gestures = useGestures(ref, {
      onZoom: zoomAt,
      onPan: pan,
      onTap: (at) => {
        const place = groundAt(at)
        if (!place) return
        const s_m = nearestStation(circuit, place.x_m, place.y_m)
        if (onPick) {
          onPick(s_m, placeOn(circuit, place.x_m, place.y_m).offset_m > 0 ? 'left' : 'right')
          return
        }
        moveTo(s_m)
        selectCorner(nearestCorner(corners, s_m, circuit.length_m)?.id ?? null)
      },
    })
    return (
      // biome-ignore lint/a11y/noStaticElementInteractions: a map to click on; the same steps are on the arrow keys of the band
      <div
        ref={ref}
        {...gestures.handlers}
        onDoubleClick={reset}
        style={{ ...measuredFrame, height, cursor: 'crosshair', touchAction: 'none' }}
      >
        {size.width > 2 * NAME_ROOM_PX.near && (
          <svg
            width={size.width}
            height={size.height}
            viewBox={`${left} ${top} ${frame.width} ${frame.height}`}
            role="img"
            aria-label={label ?? (northKnown ? say`Ground view, north up` : say`Ground view`)}
            style={{ display: 'block' }}
          >
            <RoadOnGround plan={plan} layers={layers} pixel={pixel} big={big} />
            <GroundItems circuit={circuit} items={ground} alone={corner !== undefined} pixel={pixel} />
            <NamesOnGround plan={plan} cornerId={cornerId} frame={frame} big={big} />
            <MarksOnGround
              circuit={circuit}
              marks={corner ? marks : []}
              cornerId={cornerId}
              pixel={pixel}
              groundAt={groundAt}
              onDrag={onDragMark}
              onHeld={onHoldMark}
              onLetGo={onLetGoMark}
              onTaken={gestures.cancel}
            />
            <TravelArrow place={placeAt(circuit, corner ? corner.start_m - 60 : 40, 0)} size={(corner ? 1 : 0.8) * (big ? 2 : 1) * pixel} />
            <ConesOnGround
              circuit={circuit}
              cones={cones}
              size={(corner ? 1.15 : 0.62) * (big ? 2 : 1) * pixel}
              drag={dragCones}
              groundAt={groundAt}
              onTaken={gestures.cancel}
            />
            {station_m !== null && !overlay && <Ring plan={plan} station_m={station_m} pixel={pixel} />}
            {car_m !== null && <CarDot plan={plan} station_m={car_m} pixel={pixel} />}
            {notes.length > 0 && <NotesOnGround plan={plan} notes={notes} pixel={pixel} />}
            {live && <CarsOnGround live={live} initials={layers.initials} plan={plan} pixel={pixel} />}
            {overlay?.(pixel)}
            {!bare && northKnown && !(big && corner) && <NorthArrow x={left + 22 * pixel} y={top + 26 * pixel} pixel={pixel} />}
            {!big && !bare && scaled && <ScaleBar x={left + 14 * pixel} y={top + frame.height - 14 * pixel} pixel={pixel} />}
          </svg>
        )}
      </div>
    )
  },
)

type SpotProps = { plan: Plan; station_m: number; pixel: number }

const spotAt = ({ plan, station_m, pixel }: SpotProps): string => {
  const { x_m, y_m } = placeAt(plan.circuit, station_m, 0)
  return `translate(${x_m.toFixed(2)} ${(-y_m).toFixed(2)}) scale(${pixel})`
}

/** The cursor, seen on road and ground alike. */
const Ring = (props: SpotProps) => (
  <g transform={spotAt(props)} pointerEvents="none">
    <circle r="11" fill="none" stroke="var(--ink)" strokeWidth="5" />
    <circle r="11" fill="none" stroke="var(--ground)" strokeWidth="2" />
  </g>
)

const CarDot = (props: SpotProps) => (
  <g transform={spotAt(props)}>
    <circle r="8" fill="var(--ground)" stroke="var(--ink)" strokeWidth="3" />
  </g>
)

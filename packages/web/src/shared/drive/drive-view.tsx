import { atStation, type Cone, type GroundItem, type Plan, placeAt, stationAtTime } from '@ochote/core'
import { memo, useEffect, useMemo, useRef } from 'react'
import { groundPath, groundRoad } from '../ground/ground-geometry.ts'
import { ConeMark } from '../marks/cone-glyph.tsx'
import { GroundMark } from '../marks/ground-glyph.tsx'
import { measuredFrame, useSize } from '../use-size.ts'
import type { LapClock } from './lap-clock.ts'

/** Road seen from top to bottom (m); the car is at this share from the top. */
const SEEN_M = 170
const CAR_AT = 0.78
/** Glyphs have their own size in a drawing of this height (px), and grow with it. */
const GLYPH_HEIGHT_PX = 270

type Props = {
  plan: Plan
  clock: LapClock
  /** Those in sight now. */
  cones: readonly Cone[]
  ground?: readonly GroundItem[]
  /** Place to look at (station, m). */
  eyes_m?: number | null
  height: number | string
  /** Size of a metre (px); without it so that the usual stretch of road is in the picture. */
  metre_px?: number
  label: string
}

/** The road as it comes towards the car, travel up. Moved by frames: nothing is drawn anew while the car drives. */
export const DriveView = memo(({ plan, clock, cones, ground = [], eyes_m = null, height, metre_px, label }: Props) => {
  const { circuit, line } = plan
  const [ref, size] = useSize<HTMLDivElement>()
  const world = useRef<SVGGElement>(null)
  const road = useMemo(() => groundRoad(circuit), [circuit])
  const path = useMemo(() => groundPath(line.x_m, line.y_m, circuit.open), [line, circuit.open])
  const scale = metre_px ?? (size.height > 0 ? size.height / SEEN_M : 1)
  const glyph = size.height / GLYPH_HEIGHT_PX
  useEffect(
    () =>
      clock.listen((time_s) => {
        const s_m = stationAtTime(plan, time_s)
        const at = placeAt(circuit, s_m, atStation(circuit, line.offset_m, s_m))
        const turn = (at.heading_rad * 180) / Math.PI - 90
        world.current?.setAttribute(
          'transform',
          `translate(${size.width / 2} ${size.height * CAR_AT}) scale(${scale}) rotate(${turn.toFixed(2)}) translate(${(-at.x_m).toFixed(2)} ${at.y_m.toFixed(2)})`,
        )
      }),
    [clock, plan, circuit, line, size.width, size.height, scale],
  )
  const place = (s_m: number, offset_m: number, times: number): string => {
    const at = placeAt(circuit, s_m, offset_m)
    // Glyphs stand upright to the travel at their own place, so that they hardly turn as they come.
    return `translate(${at.x_m.toFixed(2)} ${(-at.y_m).toFixed(2)}) rotate(${(90 - (at.heading_rad * 180) / Math.PI).toFixed(1)}) scale(${(times * glyph) / scale})`
  }
  const eyes = eyes_m === null ? null : place(eyes_m, atStation(circuit, line.offset_m, eyes_m), 0.5)
  return (
    <div ref={ref} style={{ ...measuredFrame, height, overflow: 'hidden' }}>
      {size.width > 0 && (
        <svg width={size.width} height={size.height} role="img" aria-label={label} style={{ display: 'block', background: 'var(--verge)' }}>
          <g ref={world}>
            <path d={road} fill="var(--road)" fillRule="evenodd" />
            <path
              d={path}
              fill="none"
              stroke="var(--roadEdge)"
              strokeWidth={2 / scale}
              strokeDasharray={`${8 / scale} ${8 / scale}`}
              opacity="0.8"
            />
            {ground.map((item) => {
              const side = item.side === 'left' ? 1 : -1
              const edge = atStation(circuit, side === 1 ? circuit.widthLeft_m : circuit.widthRight_m, item.from_m)
              return (
                <g key={item.id} transform={place(item.from_m, side * (edge + 5), 0.9)}>
                  <GroundMark kind={item.kind} />
                </g>
              )
            })}
            {cones.map((c) => (
              <g key={c.id} transform={place(c.station_m, c.offset_m + (c.offset_m > 0 ? 1 : -1), 1)}>
                <ConeMark colour={c.colour} shape={c.shape} />
              </g>
            ))}
            {eyes && (
              <g transform={eyes}>
                <ellipse rx="30" ry="16" fill="none" stroke="var(--ground)" strokeWidth="8" />
                <ellipse rx="30" ry="16" fill="none" stroke="var(--accent)" strokeWidth="4" />
                <circle r="7" fill="var(--accent)" stroke="var(--ground)" strokeWidth="2" />
              </g>
            )}
          </g>
          <g transform={`translate(${size.width / 2} ${size.height * CAR_AT}) scale(${0.6 * glyph})`}>
            <path d="M-11 18 V-8 L0 -22 L11 -8 V18 Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="3" />
          </g>
        </svg>
      )}
    </div>
  )
})

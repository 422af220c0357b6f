import { type Plan, placeAt } from '@ochote/core'
import { useMemo } from 'react'
import { overlayDash } from '../marks/dashes.ts'
import type { RoadLayers } from '../road-layers.ts'
import { groundOffsetPath, groundPath, groundRoad } from './ground-geometry.ts'

/** However far out, the road is drawn at least this wide (px); wider for the projector. */
const THINNEST_PX = { near: 5, big: 9 }

type Props = { plan: Plan; layers: RoadLayers; pixel: number; big: boolean }

/** The road between its edges, the line, other paths over it, and the start line. `pixel`: metres of one. */
export const RoadOnGround = ({ plan, layers, pixel, big }: Props) => {
  const { circuit, line } = plan
  const { otherOffset_m, overlays } = layers
  const road = useMemo(() => groundRoad(circuit), [circuit])
  const middle = useMemo(() => groundPath(circuit.x_m, circuit.y_m, circuit.open), [circuit])
  const path = useMemo(() => groundPath(line.x_m, line.y_m, circuit.open), [line, circuit.open])
  const other = useMemo(() => (otherOffset_m ? groundOffsetPath(circuit, otherOffset_m) : null), [circuit, otherOffset_m])
  const others = useMemo(
    () => (overlays ?? []).map((o) => ({ id: o.id, path: groundOffsetPath(circuit, o.offset_m) })),
    [circuit, overlays],
  )
  const start = placeAt(circuit, 0, 0)
  return (
    <>
      <path d={middle} fill="none" stroke="var(--road)" strokeWidth={(big ? THINNEST_PX.big : THINNEST_PX.near) * pixel} />
      <path d={road} fill="var(--road)" fillRule="evenodd" />
      <path d={path} fill="none" stroke="var(--plannedOnRoad)" strokeWidth={1.8 * pixel} strokeDasharray={`${7 * pixel} ${4 * pixel}`} />
      {other && <path d={other} fill="none" stroke="var(--drivenOnRoad)" strokeWidth={2 * pixel} />}
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
      <g transform={`translate(${start.x_m} ${-start.y_m}) rotate(${(-start.heading_rad * 180) / Math.PI})`}>
        <line
          y1={-circuit.widthLeft_m[0] - 3}
          y2={circuit.widthRight_m[0] + 3}
          stroke="var(--ink)"
          strokeWidth={Math.max(1.5, 3 * pixel)}
        />
      </g>
    </>
  )
}

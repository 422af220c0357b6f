import type { Plan } from '@ochote/core'
import { useMemo } from 'react'
import { dashes, overlayDash } from '../marks/dashes.ts'
import type { RoadLayers, Strip } from '../road-layers.ts'
import { type BandFrame, type BandView, columnPath, offsetPath, roadPath, stationToX } from './band-geometry.ts'
import { LEGEND_PX, StripAxis, StripLegend, speedStrip, stripColours } from './strips.tsx'

type Props = {
  plan: Plan
  layers: RoadLayers
  view: BandView
  frame: BandFrame
  size: { width: number; height: number; stripHeight: number }
  /** Position of the start line (px). */
  start_px: number
}

/** The road laid out flat with its lines, and beneath it heights and the strip of columns. */
export const RoadOnBand = ({ plan, layers, view, frame, size, start_px }: Props) => {
  const { circuit, line, profile } = plan
  const { width, height, stripHeight } = size
  const { otherOffset_m, overlays, strips: chosen } = layers
  const strips: readonly Strip[] = useMemo(
    () => (stripHeight === 0 ? [] : (chosen ?? [speedStrip(profile)])),
    [chosen, profile, stripHeight],
  )
  const drawn = useMemo(() => {
    const strip = { top: height - stripHeight + 4, bottom: height - LEGEND_PX }
    return {
      strip,
      road: roadPath(circuit, view, frame),
      line: offsetPath(circuit, line.offset_m, view, frame),
      other: otherOffset_m ? offsetPath(circuit, otherOffset_m, view, frame) : null,
      heights:
        stripHeight === 0
          ? null
          : `${columnPath(circuit, circuit.z_m, view, frame, strip)}L${width} ${height - LEGEND_PX}L0 ${height - LEGEND_PX}Z`,
      strips: strips.map((s) => ({ id: s.id, path: columnPath(circuit, s.column, view, frame, strip) })),
      overlays: (overlays ?? []).map((o) => ({ id: o.id, path: offsetPath(circuit, o.offset_m, view, frame) })),
    }
  }, [circuit, line, otherOffset_m, overlays, strips, view, frame, width, height, stripHeight])
  const lit = layers.lit && {
    from: stationToX(layers.lit.from_m, view, frame, circuit.length_m),
    to: stationToX(layers.lit.to_m, view, frame, circuit.length_m),
  }
  return (
    <>
      {lit && lit.to > lit.from && <rect x={lit.from} width={lit.to - lit.from} y="0" height={height} fill="var(--accentWash)" />}
      {drawn.heights && <path d={drawn.heights} fill="var(--verge)" />}
      <path d={drawn.road} fill="var(--road)" />
      <line
        x1={start_px}
        x2={start_px}
        y1={frame.middle - frame.half - 8}
        y2={frame.middle + frame.half + 8}
        stroke="var(--ink)"
        strokeWidth="3"
        strokeDasharray="4 4"
      />
      <path d={drawn.line} fill="none" stroke="var(--plannedOnRoad)" strokeWidth="2" strokeDasharray="7 4" />
      {drawn.other && <path d={drawn.other} fill="none" stroke="var(--drivenOnRoad)" strokeWidth="2" />}
      {drawn.overlays.map((o, i) => (
        <path key={o.id} d={o.path} fill="none" stroke="var(--roadEdge)" strokeWidth="1.3" strokeDasharray={overlayDash(i)} />
      ))}
      {strips.length > 0 && <StripLegend plan={plan} strips={strips} y={height - 3} />}
      {drawn.strips.map((s, i) => (
        <path
          key={s.id}
          d={s.path}
          fill="none"
          stroke={stripColours[i % stripColours.length]}
          strokeWidth="1.5"
          strokeDasharray={dashes[i % dashes.length]}
        />
      ))}
      <StripAxis strips={strips} width={width} room={drawn.strip} />
    </>
  )
}

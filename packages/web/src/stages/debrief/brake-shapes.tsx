import { Box, Typography } from '@mui/material'
import type { Debrief } from '@ochote/contract'
import { type BrakeShape, brakeShape, cornerOf, distanceAhead, type Plan } from '@ochote/core'
import { useMemo } from 'react'
import { say } from '../../language/say.ts'
import type { ChartLap } from './trace-columns.ts'
import { useTraces } from './use-traces.ts'

/** A brake for a corner is looked for so far before it (m). */
const BEFORE_M = 260
const SIZE = { width: 640, height: 170, left: 34, bottom: 24 }

/** The brake of every lap at one corner, each from its first touch on, over the one it is held against. */
export const BrakeShapes = ({
  plan,
  debrief,
  cornerId,
  lap,
  reference,
}: {
  plan: Plan
  debrief: Debrief
  cornerId: string
  lap: number
  reference: ChartLap
}) => {
  const laps = useMemo(() => debrief.laps.map((l) => l.lap), [debrief.laps])
  const traces = useTraces(debrief.runId, laps)
  const corner = cornerOf(plan.corners, cornerId)
  const shapes = useMemo(() => {
    if (!corner) return []
    const before = plan.corners.at(plan.corners.indexOf(corner) - 1)
    const free_m = before ? distanceAhead(before.peak_m, corner.peak_m, plan.circuit.length_m) : BEFORE_M
    const stretch = { from_m: corner.peak_m - Math.min(BEFORE_M, 0.9 * free_m), to_m: corner.peak_m + 20 }
    const driven = [...traces].map(([of, trace]) => ({ lap: of, shape: brakeShape(plan.circuit, trace, stretch) }))
    return [...driven, { lap: null, shape: brakeShape(plan.circuit, reference, stretch) }].flatMap(({ lap: of, shape }) =>
      shape ? [{ lap: of, shape }] : [],
    )
  }, [plan, corner, traces, reference])
  if (!corner || shapes.length === 0) return null
  return <ShapesDrawing shapes={shapes} lap={lap} reference={reference.name} cornerName={corner.name} />
}

/** The drawing itself; `lap` null is the reference's shape. */
export const ShapesDrawing = ({
  shapes,
  lap,
  reference,
  cornerName,
}: {
  shapes: readonly { lap: number | null; shape: BrakeShape }[]
  lap: number
  reference: string
  cornerName: string
}) => {
  const longest = Math.max(...shapes.map(({ shape }) => shape.at_m[shape.at_m.length - 1]))
  const max = Math.max(0.2, ...shapes.map(({ shape }) => shape.peak_g))
  const x = (m: number): number => SIZE.left + (m / longest) * (SIZE.width - SIZE.left - 8)
  const y = (g: number): number => SIZE.height - SIZE.bottom - (g / max) * (SIZE.height - SIZE.bottom - 10)
  const path = ({ at_m, brake_g }: BrakeShape): string =>
    Array.from(at_m, (m, i) => `${i === 0 ? 'M' : 'L'}${x(m).toFixed(1)} ${y(brake_g[i]).toFixed(1)}`).join('')
  const step = longest > 80 ? 20 : 10
  const ofLap = shapes.find((s) => s.lap === lap)?.shape
  const ofReference = shapes.find((s) => s.lap === null)?.shape
  const inWords = (s: BrakeShape): string => say`${s.peak_g.toFixed(2)} g after ${s.toPeak_s.toFixed(1)} s`
  const order = [...shapes].sort((a, b) => Number(a.lap === lap) - Number(b.lap === lap))
  return (
    <Box component="section" aria-label={say`Brake shapes at ${cornerName}`} sx={{ mt: 3 }}>
      <Typography component="h3" sx={{ fontWeight: 680 }}>{say`The brake for ${cornerName}, from its first touch`}</Typography>
      <Typography variant="text" color="text.secondary" className="figures">
        {[ofLap && say`Lap ${lap}: ${inWords(ofLap)}`, ofReference && `${reference}: ${inWords(ofReference)}`].filter(Boolean).join(' · ')}
      </Typography>
      <Box
        component="svg"
        viewBox={`0 0 ${SIZE.width} ${SIZE.height}`}
        role="img"
        aria-label={say`Brake of ${shapes.length - (ofReference ? 1 : 0)} laps at ${cornerName} over ${reference}`}
        sx={{ width: '100%', display: 'block' }}
      >
        {[0, Math.round(10 * max) / 20, Math.round(10 * max) / 10].map((g) => (
          <g key={g} transform={`translate(0 ${y(g)})`} className="type-note" fill="currentColor">
            <line x1={SIZE.left} x2={SIZE.width} stroke="currentColor" strokeOpacity="0.15" />
            <text y="4" className="figures">{`${g.toFixed(1)} g`}</text>
          </g>
        ))}
        {Array.from({ length: Math.floor(longest / step) + 1 }, (_, i) => step * i).map((m) => (
          <text key={m} x={x(m)} y={SIZE.height - 6} className="type-note figures" textAnchor="middle" fill="currentColor">
            {m === 0 ? '0 m' : m}
          </text>
        ))}
        {order.map(({ lap: of, shape }) => (
          <path
            key={of ?? 'reference'}
            d={path(shape)}
            fill="none"
            stroke={of === null ? 'var(--accent)' : 'var(--ink)'}
            strokeWidth={of === lap ? 2.6 : of === null ? 1.8 : 1}
            strokeOpacity={of === lap || of === null ? 1 : 0.45}
            strokeDasharray={of === null ? '7 4' : undefined}
          >
            <title>{`${of === null ? reference : say`Lap ${of}`}: ${inWords(shape)}`}</title>
          </path>
        ))}
      </Box>
    </Box>
  )
}

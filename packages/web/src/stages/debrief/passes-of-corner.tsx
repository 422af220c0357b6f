import { Box, Typography } from '@mui/material'
import type { Debrief } from '@ochote/contract'
import { consistencyOf, cornerOf, type MarkKind, type PassMarks, type Plan, phaseNames, signedDistance } from '@ochote/core'
import { say, sayWhole } from '../../language/say.ts'
import { fineMetres, metres, speedInWords } from '../../language/staff-units.ts'
import { MarkGlyph, MarkShape } from '../../shared/marks/mark-glyph.tsx'
import { signed } from './phase-differences.tsx'

/** Places of a pass that are drawn. */
type Places = Pick<PassMarks, 'brake_m' | 'turnIn_m' | 'apex_m' | 'throttle_m' | 'exit_m'> & { slowest_m: number | null }
const placesOf = (pass: PassMarks): Places => ({ ...pass, slowest_m: pass.shape?.slowest_m ?? null })

/** Which marks of a pass are drawn, with their glyph. */
const drawn: readonly [keyof Places, MarkKind, string][] = [
  ['brake_m', 'brake', 'brake'],
  ['turnIn_m', 'turn-in', 'turn-in'],
  ['apex_m', 'apex', 'apex'],
  ['slowest_m', 'slowest', 'slowest'],
  ['throttle_m', 'throttle', 'throttle'],
  ['exit_m', 'exit', 'exit'],
]
const ROW = 30
const tableSx = {
  borderCollapse: 'collapse',
  display: 'block',
  overflowX: 'auto',
  '& td, & th': { px: 2, py: 1, textAlign: 'right', fontSize: 'size.text' },
} as const
const WIDTH = 640
/** Room that a mark needs for its distance from the plan (px). */
const OFFSET_ROOM = 40

/** All passes of one corner: marks of each lap against the plan's, time by phase, and how alike the passes are. */
export const PassesOfCorner = ({ plan, debrief, cornerId }: { plan: Plan; debrief: Debrief; cornerId: string }) => {
  const corner = cornerOf(plan.corners, cornerId)
  const passes = debrief.review.passes.filter((p) => p.cornerId === cornerId)
  if (!corner) return null
  if (passes.length === 0) return <Typography>{say`No data for ${corner.name} in this log.`}</Typography>
  const along = (s_m: number): number => signedDistance(corner.peak_m, s_m, plan.circuit.length_m)
  const planned = plan.marks.filter((m) => m.cornerId === cornerId && drawn.some(([, kind]) => kind === m.kind))
  const places = [
    ...planned.map((m) => along(m.station_m)),
    ...passes.map(placesOf).flatMap((p) => drawn.flatMap(([key]) => (p[key] === null ? [] : [along(p[key])]))),
  ]
  const [first, last] = [Math.min(...places) - 10, Math.max(...places) + 10]
  const x = (m: number): number => 50 + ((m - first) / (last - first)) * (WIDTH - 60)
  /** The marks of a pass that are known: row of their glyph, place (px), and distance from the planned one (m). */
  const marksOf = (pass: PassMarks) => {
    const driven = placesOf(pass)
    return drawn.flatMap(([key, kind], row) => {
      const at_m = driven[key]
      if (at_m === null) return []
      const mark = planned.find((m) => m.kind === kind)
      return [{ kind, row, at: x(along(at_m)), by_m: mark ? along(at_m) - along(mark.station_m) : null }]
    })
  }
  const height = 26 + ROW * passes.length
  const alike = consistencyOf(passes)[0]
  const shaped = passes.some((p) => p.shape)
  const quickest = Math.min(...passes.map((p) => sum(p)))
  return (
    <Box component="section" aria-label={say`Passes of ${corner.name}`}>
      <Typography component="h3" variant="head" sx={{ mt: 3 }}>{say`${corner.name}, lap by lap`}</Typography>
      <Typography variant="text" color="text.secondary" className="figures">
        {alike.brake_m === null && alike.turnIn_m === null
          ? say`${passes.length} ${passes.length === 1 ? say`time` : say`times`} through: too few to judge consistency.`
          : [
              alike.brake_m !== null && say`brake point within ${metres(Math.max(1, 2 * alike.brake_m))}`,
              alike.turnIn_m !== null && say`turn-in within ${metres(Math.max(1, 2 * alike.turnIn_m))}`,
              say`slowest speed within ${speedInWords(Math.max(0.3, 2 * alike.slowest_mps))}`,
              passes.length < 5 && say`only ${passes.length} times through: may be chance`,
            ]
              .filter(Boolean)
              .join(' · ')}
      </Typography>
      <Box
        component="svg"
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label={say`Marks of every lap at ${corner.name}`}
        sx={{ width: '100%', maxWidth: WIDTH, display: 'block', color: 'text.primary' }}
      >
        {planned.map((m) => (
          <g key={m.kind} transform={`translate(${x(along(m.station_m)).toFixed(1)} 0)`} style={{ color: 'var(--accent)' }}>
            <line y1={20} y2={height} stroke="currentColor" strokeDasharray="4 3" />
            <g transform="translate(0 10)">
              <MarkShape kind={m.kind} />
            </g>
          </g>
        ))}
        {passes.map((pass, i) => (
          <g key={pass.lap} transform={`translate(0 ${26 + ROW * (i + 0.5)})`}>
            <text x={0} y={4} className="type-note" fill="currentColor">{say`Lap ${pass.lap}`}</text>
            <line x1={50} x2={WIDTH - 10} stroke="currentColor" strokeOpacity="0.15" />
            {marksOf(pass).map(({ kind, row, at, by_m }, _, marks) => (
              <g key={kind} transform={`translate(${at.toFixed(1)} ${row % 2 === 0 ? -6 : 6})`}>
                <MarkShape kind={kind} />
                {by_m !== null &&
                  !marks.some((other) => other.row !== row && other.row % 2 === row % 2 && Math.abs(other.at - at) < OFFSET_ROOM) && (
                    <text
                      x={11}
                      y={4}
                      className="type-note figures"
                      fill="currentColor"
                      stroke="var(--ground)"
                      strokeWidth="3"
                      paintOrder="stroke"
                    >
                      {signed(by_m, 0)}
                    </text>
                  )}
              </g>
            ))}
            {(pass.shape?.shifts ?? []).map((s) => (
              <text key={s.station_m} x={x(along(s.station_m))} y={-6} className="type-note" textAnchor="middle" fill="currentColor">
                {s.to}
              </text>
            ))}
          </g>
        ))}
      </Box>
      <Typography variant="text" color="text.secondary" sx={{ display: 'flex', gap: 3, flexWrap: 'wrap', mb: 2 }}>
        {drawn.map(([, kind, name]) => (
          <span key={kind}>
            <MarkGlyph kind={kind} /> {name}
          </span>
        ))}
        <span style={{ color: 'var(--accent)' }}>{say`- - the plan`}</span>
        <span>{say`numbers: m after (+) or before (−) it`}</span>
      </Typography>
      <Box component="table" aria-label={say`Time at ${corner.name} by phase`} className="figures" sx={tableSx}>
        <thead>
          <tr>
            <th>{say`Lap`}</th>
            {phaseNames.map((name) => (
              <th key={name}>{sayWhole(name)}</th>
            ))}
            <th>{say`together`}</th>
            <th>{say`slowest`}</th>
          </tr>
        </thead>
        <tbody>
          {passes.map((pass) => (
            <tr key={pass.lap} style={{ fontWeight: sum(pass) === quickest ? 700 : 400 }}>
              <td>{pass.lap}</td>
              {pass.phases_s.map((t, i) => (
                <td key={phaseNames[i]}>{signed(t)}</td>
              ))}
              <td>{signed(sum(pass))}</td>
              <td>{speedInWords(pass.slowest_mps)}</td>
            </tr>
          ))}
        </tbody>
      </Box>
      {shaped && <Shapes passes={passes} plan={plan} cornerName={corner.name} />}
    </Box>
  )
}

/** A distance from an edge in metres and in widths of the car. */
const fromEdge = (distance_m: number | null, width_m: number): string =>
  distance_m === null
    ? ''
    : say`${distance_m < 0 ? '−' : ''}${fineMetres(distance_m)}, ${(distance_m / width_m).toFixed(1).replace('-', '−')} cars`

type ShapesProps = { passes: readonly PassMarks[]; plan: Plan; cornerName: string }

/** Where each pass was slowest against the plan, how near the edges its wheels came, its radius beside the plan's, and its gear changes. */
const Shapes = ({ passes, plan, cornerName }: ShapesProps) => {
  const { circuit, line, vehicle } = plan
  const cornerId = passes[0]?.cornerId
  const planned = plan.marks.find((m) => m.cornerId === cornerId && m.kind === 'slowest')
  const there = (slowest_m: number): string => {
    if (!planned) return metres(slowest_m)
    const by_m = Math.round(signedDistance(planned.station_m, slowest_m, circuit.length_m))
    return Math.abs(by_m) < 2 ? say`as planned` : `${metres(by_m)} ${by_m > 0 ? say`late` : say`early`}`
  }
  const k = plan.corners.findIndex((c) => c.id === cornerId)
  const planned_m = 1 / Math.max(1e-4, Math.abs(line.kappa_1pm[plan.turnings[k].apex]))
  return (
    <Box
      component="table"
      aria-label={say`Line at ${cornerName}`}
      className="figures"
      sx={{ ...tableSx, mt: 2, '& td': { whiteSpace: 'nowrap' } }}
    >
      <thead>
        <tr>
          <th>{say`Lap`}</th>
          <th>{say`slowest point`}</th>
          <th>{say`inner edge at the apex`}</th>
          <th>{say`outer edge at the exit`}</th>
          <th>{say`radius, plan ${metres(planned_m)}`}</th>
          <th>{say`gear changes`}</th>
        </tr>
      </thead>
      <tbody>
        {passes.map(({ lap, shape }) =>
          shape ? (
            <tr key={lap}>
              <td>{lap}</td>
              <td>{there(shape.slowest_m)}</td>
              <td>{fromEdge(shape.apexInner_m, vehicle.width_m)}</td>
              <td>{fromEdge(shape.exitOuter_m, vehicle.width_m)}</td>
              <td>{metres(shape.radius_m)}</td>
              <td>{shape.shifts.map((s) => say`${s.to} at ${metres(s.station_m)}`).join(', ')}</td>
            </tr>
          ) : null,
        )}
      </tbody>
    </Box>
  )
}

const sum = (pass: PassMarks): number => pass.phases_s.reduce((a, b) => a + b, 0)

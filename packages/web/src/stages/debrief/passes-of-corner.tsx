import { Box, Typography } from '@mui/material'
import type { Debrief } from '@ochote/contract'
import { consistencyOf, cornerOf, kmh, type MarkKind, type PassMarks, type Plan, phaseNames, signedDistance } from '@ochote/core'
import { MarkGlyph, MarkShape } from '../../shared/marks/mark-glyph.tsx'
import { signed } from './phase-differences.tsx'

/** Which marks of a pass are drawn, with their glyph. */
const drawn: readonly [keyof PassMarks, MarkKind, string][] = [
  ['brake_m', 'brake', 'brake'],
  ['turnIn_m', 'turn-in', 'turn-in'],
  ['apex_m', 'apex', 'apex'],
  ['throttle_m', 'throttle', 'throttle'],
  ['exit_m', 'exit', 'exit'],
]
const ROW = 22
const WIDTH = 640

/** All passes of one corner: marks of each lap against the plan's, time by phase, and how alike the passes are. */
export const PassesOfCorner = ({ plan, debrief, cornerId }: { plan: Plan; debrief: Debrief; cornerId: string }) => {
  const corner = cornerOf(plan.corners, cornerId)
  const passes = debrief.review.passes.filter((p) => p.cornerId === cornerId)
  if (!corner) return null
  if (passes.length === 0) return <Typography>{`No data for ${corner.name} in this log.`}</Typography>
  const along = (s_m: number): number => signedDistance(corner.peak_m, s_m, plan.circuit.length_m)
  const planned = plan.marks.filter((m) => m.cornerId === cornerId && drawn.some(([, kind]) => kind === m.kind))
  const places = [
    ...planned.map((m) => along(m.station_m)),
    ...passes.flatMap((p) => drawn.flatMap(([key]) => (typeof p[key] === 'number' ? [along(p[key] as number)] : []))),
  ]
  const [first, last] = [Math.min(...places) - 10, Math.max(...places) + 10]
  const x = (m: number): number => 50 + ((m - first) / (last - first)) * (WIDTH - 60)
  const height = 26 + ROW * passes.length
  const alike = consistencyOf(passes)[0]
  const quickest = Math.min(...passes.map((p) => sum(p)))
  return (
    <Box component="section" aria-label={`Passes of ${corner.name}`}>
      <Typography component="h3" sx={{ fontWeight: 680, mt: 1.5 }}>{`${corner.name}, lap by lap`}</Typography>
      <Typography variant="body2" color="text.secondary" className="figures">
        {alike.brake_m === null && alike.turnIn_m === null
          ? `${passes.length} ${passes.length === 1 ? 'time' : 'times'} through: too few to judge consistency.`
          : [
              alike.brake_m !== null && `brake point within ${Math.max(1, Math.round(2 * alike.brake_m))} m`,
              alike.turnIn_m !== null && `turn-in within ${Math.max(1, Math.round(2 * alike.turnIn_m))} m`,
              `slowest speed within ${Math.max(1, Math.round(kmh(2 * alike.slowest_mps)))} km/h`,
              passes.length < 5 && `only ${passes.length} times through: may be chance`,
            ]
              .filter(Boolean)
              .join(' · ')}
      </Typography>
      <Box
        component="svg"
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label={`Marks of every lap at ${corner.name}`}
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
            <text x={0} y={4} fontSize="12" fill="currentColor">{`Lap ${pass.lap}`}</text>
            <line x1={50} x2={WIDTH - 10} stroke="currentColor" strokeOpacity="0.15" />
            {drawn.map(([key, kind]) =>
              typeof pass[key] === 'number' ? (
                <g key={kind} transform={`translate(${x(along(pass[key] as number)).toFixed(1)} 0)`}>
                  <MarkShape kind={kind} />
                </g>
              ) : null,
            )}
          </g>
        ))}
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ display: 'flex', gap: 1.5, flexWrap: 'wrap', mb: 1 }}>
        {drawn.map(([, kind, name]) => (
          <span key={kind}>
            <MarkGlyph kind={kind} /> {name}
          </span>
        ))}
        <span style={{ color: 'var(--accent)' }}>- - the plan</span>
      </Typography>
      <Box
        component="table"
        aria-label={`Time at ${corner.name} by phase`}
        className="figures"
        sx={{ borderCollapse: 'collapse', '& td, & th': { px: 1, py: 0.25, textAlign: 'right', fontSize: 14 } }}
      >
        <thead>
          <tr>
            <th>Lap</th>
            {phaseNames.map((name) => (
              <th key={name}>{name}</th>
            ))}
            <th>together</th>
            <th>slowest</th>
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
              <td>{`${Math.round(kmh(pass.slowest_mps))} km/h`}</td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  )
}

const sum = (pass: PassMarks): number => pass.phases_s.reduce((a, b) => a + b, 0)

import { Box, Typography } from '@mui/material'
import { type Catch, firstCatch, type Plan, type Released, releasePaths, SAFE_GAP_S, slackOf } from '@ochote/core'
import { useMemo } from 'react'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import { cornerBehind } from './next-call.ts'
import { clockInWords } from './run-words.ts'

/** Size of the picture (in its own units), and room for its words. */
const W = 640
const H = 190
const LEFT = 58
const BOTTOM = 20

type Props = { plan: Plan; order: readonly Released[]; interval_s: number; nameOf: (id: string) => string }

/** Whether the venue allows passing where a catch happens; null where the circuit names no such places. */
const mayPassAt = (plan: Plan, station_m: number): boolean | null => {
  const places = plan.ground.filter((g) => g.kind === 'passing')
  if (places.length === 0) return null
  return places.some(({ from_m, to_m }) =>
    from_m <= to_m ? station_m >= from_m && station_m <= to_m : station_m >= from_m || station_m <= to_m,
  )
}

/** A catch in words: who, whom, when, where, and whether passing is allowed there. */
const catchInWords = (plan: Plan, caught: Catch, nameOf: (id: string) => string): string => {
  const where = cornerBehind(plan, caught.station_m)?.name
  const passing = mayPassAt(plan, caught.station_m)
  return [
    say`${nameOf(caught.behindId)} reaches ${nameOf(caught.aheadId)} after ${clockInWords(caught.at_s)}, lap ${caught.lap}, ${where ? say`after ${where}` : say`at ${metres(caught.station_m)}`}`,
    passing === null ? '' : passing ? say`a passing place` : say`no passing place`,
  ]
    .filter(Boolean)
    .join(', ')
}

/** What comes of a release: every car along the lap over the run, the first catch, and how much slower one of them may be. */
export const ReleasePicture = ({ plan, order, interval_s, nameOf }: Props) => {
  const paths = useMemo(() => releasePaths(plan, order, interval_s), [plan, order, interval_s])
  const caught = useMemo(() => firstCatch(plan, order, interval_s), [plan, order, interval_s])
  const slack = useMemo(() => (caught ? null : slackOf(plan, order, interval_s)), [plan, order, interval_s, caught])
  const end_s = Math.max(1, ...paths.map((p) => p.time_s.at(-1) ?? 0))
  const { length_m } = plan.circuit
  const x = (t: number): number => LEFT + (t / end_s) * (W - LEFT - 8)
  const y = (s: number): number => 6 + (1 - s / length_m) * (H - BOTTOM - 6)
  const line = ({ time_s, station_m }: (typeof paths)[number]): string => {
    let d = ''
    for (let k = 0; k < time_s.length; k++)
      d += `${k === 0 || station_m[k] < station_m[k - 1] ? 'M' : 'L'}${x(time_s[k]).toFixed(1)} ${y(station_m[k]).toFixed(1)}`
    return d
  }
  const minutes = Array.from({ length: Math.floor(end_s / 120) + 1 }, (_, k) => 120 * k)
  const words = caught
    ? say`First to come too near: ${catchInWords(plan, caught, nameOf)}.`
    : say`Nobody comes within ${SAFE_GAP_S} s of another at these laps.`
  const slower =
    slack &&
    (slack.catch
      ? say`That holds while nobody is more than ${Math.round(100 * slack.share)} % slower. If ${nameOf(slack.slowId ?? '')} is: ${catchInWords(plan, slack.catch, nameOf)}.`
      : say`That holds even if one of them is ${Math.round(100 * slack.share)} % slower.`)
  return (
    <Box>
      <Box
        component="svg"
        role="img"
        aria-label={say`Cars along the lap over the run. ${words}`}
        viewBox={`0 0 ${W} ${H}`}
        sx={{ width: 1, maxWidth: 760, display: 'block', fontSize: 'size.note' }}
      >
        {minutes.map((t) => (
          <g key={t}>
            <line x1={x(t)} x2={x(t)} y1={6} y2={H - BOTTOM} stroke="var(--rule)" />
            <text x={x(t)} y={H - 6} textAnchor="middle" fill="var(--quiet)">
              {clockInWords(t)}
            </text>
          </g>
        ))}
        {plan.ground
          .filter((g) => g.kind === 'passing')
          .map((g) => (
            <rect
              key={g.id}
              x={LEFT}
              width={W - LEFT - 8}
              y={y(Math.max(g.from_m, g.to_m))}
              height={Math.abs(y(g.from_m) - y(g.to_m))}
              fill="var(--verge)"
            />
          ))}
        <text x={LEFT - 6} y={y(0)} textAnchor="end" fill="var(--quiet)">
          {say`line`}
        </text>
        <text x={LEFT - 6} y={y(length_m) + 8} textAnchor="end" fill="var(--quiet)">
          {metres(length_m)}
        </text>
        {paths.map((path, k) => (
          <path
            key={path.id}
            d={line(path)}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={1.4}
            strokeDasharray={['', '7 3', '2 3', '9 3 2 3'][k % 4]}
          >
            <title>{nameOf(path.id)}</title>
          </path>
        ))}
        {caught && <circle cx={x(caught.at_s)} cy={y(caught.station_m)} r={7} fill="none" stroke="var(--warn)" strokeWidth={2.5} />}
      </Box>
      <Typography variant="note" color="text.secondary">
        {say`From left to right in the order of release; up is along the lap.`}
      </Typography>
      <Typography role="status" sx={caught ? { color: 'warning.main', fontWeight: 640 } : {}}>
        {words}
      </Typography>
      {slower && <Typography>{slower}</Typography>}
    </Box>
  )
}

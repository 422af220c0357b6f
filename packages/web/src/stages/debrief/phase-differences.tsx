import { Box, Typography } from '@mui/material'
import { cornerName, cornerOf, type Plan, phaseDifferences, phaseNames } from '@ochote/core'
import { useMemo } from 'react'
import { say, sayWhole } from '../../language/say.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import type { ChartLap } from './trace-columns.ts'

/** A difference with its sign and so many decimals, two as for times (s); what rounds to nothing has no sign. */
export const signed = (value: number, digits = 2): string => {
  const least = 0.5 / 10 ** digits
  return `${value < -least ? '−' : value > least ? '+' : ''}${Math.abs(value).toFixed(digits)}`
}
/** Differences below this are not mentioned (s). */
const WORTH_S = 0.05

/** Time won and lost by phase, in one sentence. */
export const phaseSentence = (phases_s: readonly number[]): string => {
  const named = phaseNames.map((name, i) => ({
    name: name === 'straight after' ? say`down the straight after` : say`in the ${sayWhole(name)}`,
    time: phases_s[i] ?? 0,
  }))
  const listed = (list: typeof named, word: string): string =>
    list.map((p) => `${word} ${Math.abs(p.time).toFixed(2)} s ${p.name}`).join(', ')
  const won = listed(
    named.filter((p) => p.time < -WORTH_S),
    'won',
  )
  const lost = listed(
    named.filter((p) => p.time > WORTH_S),
    'lost',
  )
  const told = [won, lost].filter(Boolean).join('; ')
  if (told) return told
  // No phase stands out, but together they may.
  const all_s = phases_s.reduce((a, b) => a + b, 0)
  if (Math.abs(all_s) <= WORTH_S) return say`as quick as it`
  return say`${all_s > 0 ? say`lost` : say`won`} ${Math.abs(all_s).toFixed(2)} s, a little everywhere`
}

/** Time by corner and phase of a lap beside another; the corner that lost most is in heavy type. */
export const PhaseDifferences = ({ plan, lap, reference }: { plan: Plan; lap: ChartLap; reference: ChartLap }) => {
  const { cornerId, selectCorner, moveTo } = useLapSelection()
  const rows = useMemo(() => phaseDifferences(plan, lap, reference), [plan, lap, reference])
  const total = (phases: readonly number[]): number => phases.reduce((a, b) => a + b, 0)
  const max = Math.max(...rows.map((r) => total(r.phases_s)))
  const nameOf = (id: string): string => cornerName(plan.corners, id)
  const chosen = rows.find((r) => r.cornerId === cornerId)
  return (
    <Box component="section" aria-label={say`Time by corner and phase`} sx={{ minWidth: 0 }}>
      <Typography
        component="h3"
        sx={{ fontWeight: 680 }}
      >{say`${lap.name.charAt(0).toUpperCase()}${lap.name.slice(1)} beside ${reference.name}, s`}</Typography>
      {chosen && <Typography variant="text">{`${nameOf(chosen.cornerId)}: ${phaseSentence(chosen.phases_s)}.`}</Typography>}
      <Box
        component="table"
        className="figures"
        sx={{
          borderCollapse: 'collapse',
          '& td, & th': { px: 2, py: 0, textAlign: 'right', fontSize: 'size.text' },
          '& td:first-of-type, & th:first-of-type': { textAlign: 'left', pl: 0 },
        }}
      >
        <thead>
          <tr>
            <th>{say`Corner`}</th>
            {phaseNames.map((name) => (
              <th key={name}>{sayWhole(name)}</th>
            ))}
            <th>{say`all`}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Box
              component="tr"
              key={row.cornerId}
              onClick={() => {
                selectCorner(row.cornerId)
                moveTo(cornerOf(plan.corners, row.cornerId)?.peak_m ?? null)
              }}
              sx={{
                cursor: 'pointer',
                backgroundColor: row.cornerId === cornerId ? 'var(--accentWash)' : 'transparent',
                fontWeight: total(row.phases_s) === max && max > WORTH_S ? 720 : 400,
              }}
            >
              <td>{nameOf(row.cornerId)}</td>
              {row.phases_s.map((t, i) => (
                <td key={phaseNames[i]}>{signed(t)}</td>
              ))}
              <td>{signed(total(row.phases_s))}</td>
            </Box>
          ))}
        </tbody>
      </Box>
    </Box>
  )
}

import { Box, MenuItem, Stack, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
import {
  type BrakingSchool,
  brakingSchools,
  distanceAhead,
  formatDifference,
  formatLapTime,
  type LineMethod,
  lineMethods,
  markOf,
  type Plan,
  type PlanChoice,
  paces,
  type Surface,
  stationIndex,
  surfaces,
  timeBetween,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { vehiclesQuery } from '../../data/api/queries.ts'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { lineWords } from '../../shared/plan/line-words.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'

/** Time lost (s) by the other plan from the middle between the corners before to the middle after, corner by corner. */
export const lossByCorner = (own: Plan, other: Plan): { cornerId: string; loss_s: number }[] => {
  const { circuit, corners } = own
  const middle = (a_m: number, b_m: number): number => a_m + distanceAhead(a_m, b_m, circuit.length_m) / 2
  return corners.map((corner, k) => {
    const before = corners[(k - 1 + corners.length) % corners.length]
    const after = corners[(k + 1) % corners.length]
    const from = corners.length === 1 ? 0 : middle(before.end_m, corner.start_m)
    const to = corners.length === 1 ? circuit.length_m - circuit.step_m : middle(corner.end_m, after.start_m)
    const spent = (plan: Plan): number => timeBetween(plan.profile, stationIndex(plan.circuit, from), stationIndex(plan.circuit, to))
    return { cornerId: corner.id, loss_s: spent(other) - spent(own) }
  })
}

const Choice = ({
  label,
  value,
  width,
  onChange,
  children,
}: {
  label: string
  value: string
  width: number
  onChange: (v: string) => void
  children: ReactNode
}) => (
  <TextField select label={label} value={value} onChange={(e) => onChange(e.target.value)} sx={{ width }}>
    {children}
  </TextField>
)

const capital = (word: string): string => `${word[0].toUpperCase()}${word.slice(1)}`

/** The second set-up, and what it does to the lap, corner by corner. */
export const Compare = ({
  plan,
  other,
  settings,
  onSettings,
}: {
  plan: Plan
  other: Plan | undefined
  settings: PlanChoice
  onSettings: (settings: PlanChoice) => void
}) => {
  const vehicles = useQuery(vehiclesQuery)
  const { selectCorner, moveTo } = useLapSelection()
  const set = (change: Partial<PlanChoice>): void => onSettings({ ...settings, ...change })
  const comparable = other !== undefined && other.corners.length === plan.corners.length && other.circuit.count === plan.circuit.count
  const losses = comparable ? lossByCorner(plan, other) : []
  const speedAt = (p: Plan, cornerId: string): number => markOf(p.marks, cornerId, 'slowest')?.speed_mps ?? 0
  const brakeAt = (p: Plan, cornerId: string): number | undefined => markOf(p.marks, cornerId, 'brake')?.station_m
  return (
    <Stack spacing={2}>
      <Typography sx={{ fontWeight: 640 }}>{say`Compared with`}</Typography>
      <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap' }}>
        <Choice label={say`Its vehicle`} value={settings.vehicleId} width={240} onChange={(vehicleId) => set({ vehicleId })}>
          {vehicles.data?.map((v) => (
            <MenuItem key={v.id} value={v.id}>
              {v.name}
            </MenuItem>
          ))}
        </Choice>
        <Choice label={say`Its surface`} value={settings.surface} width={100} onChange={(v) => set({ surface: v as Surface })}>
          {Object.keys(surfaces).map((s) => (
            <MenuItem key={s} value={s}>
              {s === 'standing' ? say`Standing water` : capital(s)}
            </MenuItem>
          ))}
        </Choice>
        <Choice label={say`Its pace`} value={String(settings.pace)} width={90} onChange={(v) => set({ pace: Number(v) })}>
          {[...new Set([...Object.values(paces), settings.pace])].map((p) => (
            <MenuItem key={p} value={String(p)}>
              {`${Math.round(100 * p)}%`}
            </MenuItem>
          ))}
        </Choice>
        <Choice label={say`Its school`} value={settings.school} width={110} onChange={(v) => set({ school: v as BrakingSchool })}>
          {brakingSchools.map((s) => (
            <MenuItem key={s} value={s}>
              {capital(s)}
            </MenuItem>
          ))}
        </Choice>
        <Choice label={say`Its line`} value={settings.method} width={120} onChange={(v) => set({ method: v as LineMethod })}>
          {lineMethods.map((m) => (
            <MenuItem key={m} value={m}>
              {lineWords[m].name}
            </MenuItem>
          ))}
        </Choice>
      </Stack>
      {!comparable && <Typography role="status">{say`Computing the other lap …`}</Typography>}
      {comparable && (
        <>
          <Typography role="status">
            {say`Lap ${formatLapTime(other.profile.lapTime_s, 2)} against ${formatLapTime(plan.profile.lapTime_s, 2)}: `}
            <Box component="span" className="figures" sx={{ fontWeight: 650 }}>
              {formatDifference(other.profile.lapTime_s - plan.profile.lapTime_s)}
            </Box>
          </Typography>
          <Table size="small" stickyHeader aria-label={say`Compared corner by corner`}>
            <TableHead>
              <TableRow>
                <TableCell>{say`Corner`}</TableCell>
                <TableCell align="right">{say`Time`}</TableCell>
                <TableCell align="right">{say`Slowest`}</TableCell>
                <TableCell align="right">{say`Other`}</TableCell>
                <TableCell align="right">{say`Brakes`}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {plan.corners.map((corner, k) => {
                const [own, its] = [brakeAt(plan, corner.id), brakeAt(other, corner.id)]
                const shift = own === undefined || its === undefined ? null : Math.round(its - own)
                return (
                  <TableRow
                    key={corner.id}
                    hover
                    sx={{ cursor: 'pointer' }}
                    onClick={() => {
                      selectCorner(corner.id)
                      moveTo(corner.peak_m)
                    }}
                  >
                    <TableCell>{cornerLabel(corner)}</TableCell>
                    <TableCell align="right" className="figures">
                      {formatDifference(losses[k].loss_s)}
                    </TableCell>
                    <TableCell align="right" className="figures">
                      {speedInWords(speedAt(plan, corner.id))}
                    </TableCell>
                    <TableCell align="right" className="figures">
                      {speedInWords(speedAt(other, corner.id))}
                    </TableCell>
                    <TableCell align="right" className="figures">
                      {shift === null ? '–' : shift === 0 ? say`same` : `${metres(shift)} ${shift < 0 ? say`earlier` : say`later`}`}
                    </TableCell>
                  </TableRow>
                )
              })}
            </TableBody>
          </Table>
        </>
      )}
    </Stack>
  )
}

import {
  Box,
  Button,
  MenuItem,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material'
import type { ConeWork } from '@ochote/contract'
import { type Level, type LineMethod, levels, lineMethods, type Plan, paces, type SharedGroup, type Vehicle } from '@ochote/core'
import { coneNames } from '../../shared/marks/mark-words.ts'
import { lineWords } from '../../shared/plan/line-words.ts'

/** The pace at which a level usually drives. */
const paceOf: Record<Level, number> = { 'first day': paces.building, building: paces.steady, steady: paces.quick }

/** Who else drives to these cones, and what the compromise means for each. */
export const ForWhom = ({
  plan,
  work,
  shared,
  vehicles,
  canChange,
  onChange,
}: {
  plan: Plan
  work: ConeWork
  shared: readonly SharedGroup[]
  vehicles: readonly Vehicle[]
  canChange: boolean
  onChange: (change: Partial<Pick<ConeWork, 'served' | 'lines' | 'clearance_m'>>) => void
}) => {
  const change = (at: number, next: Partial<ConeWork['served'][number]>): void =>
    onChange({ served: work.served.map((s, i) => (i === at ? { ...s, ...next } : s)) })
  const nameOf = (cornerId: string): string => plan.corners.find((c) => c.id === cornerId)?.name ?? cornerId
  const failing = shared.filter((g) => !g.fits)
  return (
    <Stack spacing={1}>
      <Typography variant="body2">
        {`These cones stand for the plan’s ${plan.vehicle.name} at the level “${work.level}”. Add who else drives to them.`}
      </Typography>
      {work.served.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the order is theirs
        <Stack key={i} direction="row" spacing={1} sx={{ alignItems: 'flex-end' }}>
          <TextField select label="Vehicle" value={s.vehicleId} onChange={(e) => change(i, { vehicleId: e.target.value })} sx={{ flex: 1 }}>
            {vehicles.map((v) => (
              <MenuItem key={v.id} value={v.id}>
                {v.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Level"
            value={s.level}
            onChange={(e) => change(i, { level: e.target.value as Level, pace: paceOf[e.target.value as Level] })}
            sx={{ width: 104 }}
          >
            {levels.map((level) => (
              <MenuItem key={level} value={level}>
                {level}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Pace"
            value={String(s.pace)}
            onChange={(e) => change(i, { pace: Number(e.target.value) })}
            sx={{ width: 84 }}
          >
            {Object.values(paces).map((pace) => (
              <MenuItem key={pace} value={String(pace)}>
                {`${Math.round(100 * pace)} %`}
              </MenuItem>
            ))}
          </TextField>
          <Button size="small" variant="text" onClick={() => onChange({ served: work.served.filter((_, k) => k !== i) })}>
            Remove
          </Button>
        </Stack>
      ))}
      <Box>
        <Button
          size="small"
          variant="outlined"
          disabled={!canChange || work.served.length >= 8}
          onClick={() => {
            const vehicle = vehicles.find((v) => v.id !== plan.vehicle.id) ?? plan.vehicle
            onChange({ served: [...work.served, { vehicleId: vehicle.id, level: 'building', pace: paceOf.building }] })
          }}
        >
          Add a vehicle and level
        </Button>
      </Box>
      <Stack direction="row" useFlexGap spacing={1.5} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Typography variant="body2">Also clear of these lines:</Typography>
        <ToggleButtonGroup
          size="small"
          aria-label="Lines in use"
          value={work.lines}
          disabled={!canChange}
          onChange={(_, lines: LineMethod[]) => onChange({ lines })}
        >
          {lineMethods.map((method) => (
            <ToggleButton key={method} value={method} sx={{ py: 0.1 }}>
              {lineWords[method].name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <TextField
          select
          label="Kept free of wheels"
          value={String(work.clearance_m)}
          disabled={!canChange}
          onChange={(e) => onChange({ clearance_m: Number(e.target.value) })}
          sx={{ width: 130 }}
        >
          {[...new Set([0.3, 0.6, 1, 1.5, work.clearance_m])].sort().map((metres) => (
            <MenuItem key={metres} value={String(metres)}>
              {`${metres} m`}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      {failing.length > 0 && (
        <Typography variant="body2" role="note" sx={{ color: 'warning.main', fontWeight: 600 }}>
          {`One set cannot serve all at ${[...new Set(failing.map((g) => `${coneNames[g.kind].toLowerCase()} of ${nameOf(g.cornerId)}`))].join(', ')}. Run these groups apart, or lay a second colour there.`}
        </Typography>
      )}
      {shared.length > 0 && (
        <Table size="small" aria-label="Shared cones" sx={{ '& .MuiTableCell-root': { px: 0.75, py: 0.2 } }}>
          <TableHead>
            <TableRow>
              <TableCell>Corner</TableCell>
              <TableCell>Cone</TableCell>
              {shared[0].forWhom.map((f) => (
                <TableCell key={f.label}>{f.label}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {shared.map((g) => (
              <TableRow key={g.groupId} sx={g.fits ? {} : { '& td': { color: 'warning.main', fontWeight: 600 } }}>
                <TableCell>{nameOf(g.cornerId)}</TableCell>
                <TableCell>{coneNames[g.kind]}</TableCell>
                {g.forWhom.map((f) => (
                  <TableCell key={f.label} className="figures">
                    {sharedInWords(f)}
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Stack>
  )
}

/** What a shared cone means for one of those it serves. */
const sharedInWords = ({ wait_s, off_m }: SharedGroup['forWhom'][number]): string => {
  if (off_m === null) return 'not needed'
  if (wait_s !== null) return wait_s < 0.15 ? 'at the cone' : `from the cone, wait ${wait_s.toFixed(1)} s`
  const whole = Math.abs(Math.round(off_m))
  return whole === 0 ? 'at the cone' : `the cone is ${whole} m ${off_m < 0 ? 'early' : 'late'}`
}

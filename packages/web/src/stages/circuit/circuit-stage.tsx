import { Box, Button, Stack, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { type Corner, degrees, formatDistance, formatSpeed, markOf, type Plan } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { call } from '../../app/api-client.ts'
import { useDay } from '../../app/day-context.tsx'
import { circuitQuery, queryClient } from '../../app/queries.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { CornerCard } from '../../shared/corner-card/corner-card.tsx'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { CircuitImport } from './circuit-import.tsx'
import { VehicleImport } from './vehicle-import.tsx'

/** Learn a circuit: the lap laid out flat, the ground, its corners. */
export const CircuitStage = () => {
  const { settings, changeSettings } = useDay()
  const { plan, error } = usePlan(settings)
  const { cornerId } = useLapSelection()
  const [importing, setImporting] = useState(false)
  useLapKeys(plan)
  if (!settings) return null
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'baseline' }}>
        <Typography variant="h1">{plan?.circuit.name ?? 'Circuit'}</Typography>
        {plan && <Typography color="text.secondary">{circuitInWords(plan)}</Typography>}
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={() => setImporting(!importing)}>
          {importing ? 'Close' : 'Import circuit or vehicles'}
        </Button>
      </Stack>
      {importing && (
        <Stack spacing={2}>
          <CircuitImport onImported={(circuit) => changeSettings({ circuitId: circuit.id })} />
          <VehicleImport />
        </Stack>
      )}
      <ProblemNote error={error} />
      {plan && (
        <>
          <LapBand plan={plan} layers={{ marks: plan.marks }} />
          <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.15fr) minmax(280px, 0.85fr)', gap: 2 }}>
            <GroundView plan={plan} marks={plan.marks} height={372} />
            <Box role="region" aria-label="Corners, scrolls" tabIndex={0} sx={{ overflow: 'auto', maxHeight: 372 }}>
              {cornerId ? (
                <CornerCard plan={plan} cornerId={cornerId}>
                  <CornerName circuitId={settings.circuitId} plan={plan} cornerId={cornerId} />
                </CornerCard>
              ) : (
                <CornerTable plan={plan} />
              )}
            </Box>
          </Box>
        </>
      )}
    </Stack>
  )
}

const circuitInWords = ({ circuit, corners }: Plan): string => {
  const heights = Array.from(circuit.z_m)
  const widths = Array.from(circuit.widthLeft_m, (w, i) => w + circuit.widthRight_m[i])
  const least = Math.min(...widths)
  const most = Math.max(...widths)
  const width = most - least < 0.5 ? `${Math.round(least)} m wide` : `${Math.round(least)} to ${Math.round(most)} m wide`
  return `${formatDistance(circuit.length_m, 'metric')} long, ${width}, ${Math.round(Math.max(...heights) - Math.min(...heights))} m between lowest and highest, ${corners.length} ${corners.length === 1 ? 'corner' : 'corners'}`
}

const CornerTable = ({ plan }: { plan: Plan }) => {
  const { selectCorner, moveTo } = useLapSelection()
  const open = (corner: Corner): void => {
    selectCorner(corner.id)
    moveTo(corner.peak_m)
  }
  return (
    <Table size="small" stickyHeader aria-label="Corners">
      <TableHead>
        <TableRow>
          <TableCell>Corner</TableCell>
          <TableCell>Side</TableCell>
          <TableCell align="right">Radius</TableCell>
          <TableCell align="right">Turns</TableCell>
          <TableCell align="right">Slowest</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {plan.corners.map((corner) => {
          const slowest = markOf(plan.marks, corner.id, 'slowest')
          return (
            <TableRow key={corner.id} hover>
              <TableCell>
                <Button
                  variant="text"
                  color="secondary"
                  size="small"
                  sx={{ p: 0, minHeight: 0, fontWeight: 600, justifyContent: 'flex-start' }}
                  onClick={() => open(corner)}
                >
                  {cornerLabel(corner)}
                </Button>
              </TableCell>
              <TableCell>{corner.side}</TableCell>
              <TableCell align="right" className="figures">
                {formatDistance(corner.radius_m, 'metric')}
              </TableCell>
              <TableCell align="right" className="figures">
                {`${Math.round(degrees(corner.turn_rad))}°`}
              </TableCell>
              <TableCell align="right" className="figures">
                {slowest ? formatSpeed(slowest.speed_mps, 'metric') : '–'}
              </TableCell>
            </TableRow>
          )
        })}
      </TableBody>
    </Table>
  )
}

const CornerName = ({ circuitId, plan, cornerId }: { circuitId: string; plan: Plan; cornerId: string }) => {
  const stored = useQuery(circuitQuery(circuitId))
  const known = stored.data?.cornerNames[cornerId] ?? ''
  const save = useMutation({
    mutationFn: (name: string) => call(api.nameCorners, { params: { circuitId }, body: { ...stored.data?.cornerNames, [cornerId]: name } }),
    onSuccess: (circuit) => queryClient.setQueryData(circuitQuery(circuitId).queryKey, circuit),
  })
  if (!plan.corners.some((c) => c.id === cornerId)) return null
  return (
    <>
      <TextField
        key={`${cornerId}${known}`}
        label="Name of this corner"
        defaultValue={known}
        sx={{ mt: 1.5, width: 240 }}
        slotProps={{ htmlInput: { maxLength: 40 } }}
        onBlur={(e) => e.target.value.trim() !== known && save.mutate(e.target.value.trim() || cornerId)}
        onKeyDown={(e) => e.key === 'Enter' && (e.target as HTMLInputElement).blur()}
      />
      <ProblemNote error={save.error} />
    </>
  )
}

import { Button, Stack, Typography } from '@mui/material'
import { useNavigate } from 'react-router'
import { DayProvider, useDay } from '../../app/day-context.tsx'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { ConeCode } from './cones-stage.tsx'
import { LayingTable } from './laying-table.tsx'
import { useCones } from './use-cones.ts'

const Sheet = () => {
  const { day, settings } = useDay()
  const { plan, error } = usePlan(settings)
  const conePlan = useCones(plan, settings?.schemeId)
  const navigate = useNavigate()
  if (!plan || !conePlan || !settings) return <ProblemNote error={error} />
  return (
    <Stack spacing={1.5} sx={{ width: '182mm', mx: 'auto', my: 2, '@media print': { my: 0 } }}>
      <Stack direction="row" spacing={1} className="no-print">
        <Button variant="contained" onClick={() => window.print()}>
          Print
        </Button>
        <Button variant="outlined" onClick={() => navigate('/cones')}>
          Back to the cones
        </Button>
      </Stack>
      <Typography variant="h1">{`Laying sheet, ${plan.circuit.name}`}</Typography>
      <Typography>{`${day ? `${day.plan.date} · ` : ''}${plan.vehicle.name} · ${settings.surface} · pace ${Math.round(settings.pace * 100)} % · braking ${settings.school} · ${conePlan.cones.length} cones, in driving order from the start line`}</Typography>
      <LapBand plan={plan} layers={{ cones: conePlan.cones }} height={150} compact />
      <ConeCode conePlan={conePlan} />
      <LayingTable rows={conePlan.sheet} />
      <Caution />
    </Stack>
  )
}

/** The laying sheet on paper, A4. */
export const LayingPrint = () => (
  <DayProvider>
    <LapSelectionProvider>
      <Sheet />
    </LapSelectionProvider>
  </DayProvider>
)

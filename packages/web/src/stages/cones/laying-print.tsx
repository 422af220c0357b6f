import { Box, Stack, Typography } from '@mui/material'
import { cornerName, formatDate, layingStart } from '@ochote/core'
import { useNavigate } from 'react-router'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { DayProvider, useDay } from '../../data/day/day-context.tsx'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { inside, say, staffLanguage } from '../../language/say.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { staffWords } from '../../shared/language/staff-words.ts'
import { brakingWords } from '../../shared/plan/line-words.ts'
import { WidthNote } from '../../shared/plan/width-note.tsx'
import { PrintButtons } from '../../shared/print-buttons.tsx'
import { PrintHead } from '../../shared/print-head.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { ConeCode } from './cone-code.tsx'
import { droppedInWords } from './cone-words.ts'
import { LayingTable } from './laying-table.tsx'

const Sheet = () => {
  const { day, settings } = useDay()
  const { plan, error } = usePlan(settings)
  const set = useConeSet(plan, settings, useNumbers(plan))
  const navigate = useNavigate()
  if (!plan || !set || !settings) return <ProblemNote error={error} />
  const left = droppedInWords(set.dropped, (id) => cornerName(plan.corners, id, say`the pit lane`))
  return (
    <Stack spacing={3} sx={{ width: '182mm', mx: 'auto', my: 4, '@media print': { my: 0 } }}>
      <PrintButtons back={say`Back to the cones`} onBack={() => navigate('/cones')} />
      <PrintHead />
      <Typography variant="title">{say`Laying sheet, ${plan.circuit.name}`}</Typography>
      <Typography>{say`${day ? `${formatDate(day.plan.date, staffLanguage)} · ` : ''}${plan.vehicle.name} · ${staffWords.surfaces[settings.surface]} · pace ${Math.round(settings.pace * 100)}% · braking ${inside(brakingWords[settings.school].name)} · ${set.cones.length} cones, in driving order from ${layingStart(plan).from === 'pits' ? say`the pit exit` : say`the start line`}`}</Typography>
      <LapBand plan={plan} layers={{ cones: set.cones }} height={150} compact />
      <ConeCode scheme={set.scheme} />
      {left.map((line) => (
        <Box key={line} sx={{ fontWeight: 600 }}>
          {line}
        </Box>
      ))}
      <LayingTable rows={set.sheet} corners={plan.corners} />
      <WidthNote plan={plan} />
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

import { Box, Button, Stack, Typography } from '@mui/material'
import type { Run } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { runQuery } from '../../data/api/queries.ts'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { SyncNote } from '../../shared/sync-note.tsx'
import { Before, Remembered, TellCar } from './before-run.tsx'
import { Driving } from './driving.tsx'
import { SendOut } from './send-out.tsx'

/** The ride-along screen of one run: for a tablet on the knee, two seconds of attention. */
export const RideAlong = () => {
  const { runId = '' } = useParams()
  const run = useQuery({ ...runQuery(runId), networkMode: 'always' })
  const events = useRunEvents(runId)
  const [ending, setEnding] = useState(false)
  const pace = events.pace?.pace
  const settings = run.data && (pace === undefined ? run.data.settings : { ...run.data.settings, pace })
  const { plan, error } = usePlan(settings)
  if (!run.data || !plan)
    return (
      <Box component="main" sx={{ p: 3 }}>
        <ProblemNote error={run.data ? error : (run.error ?? error)} />
        {!run.error && !error && <Typography role="status">Loading the run …</Typography>}
      </Box>
    )
  // While the log is being made the run still shows; an end that the server has not heard of is an end here all the same.
  const stage = run.data.endedAt || (events.ended && !ending) ? 'ended' : run.data.simulation || events.programme ? 'driving' : 'before'
  return (
    <LapSelectionProvider>
      {stage === 'driving' ? (
        <Driving run={run.data} plan={plan} onEnding={setEnding} />
      ) : (
        <Box component="main" sx={{ minHeight: '100vh', px: { xs: 2, md: 3 }, py: 2 }}>
          {stage === 'ended' ? <Ended run={run.data} /> : <BeforeRun run={run.data} plan={plan} />}
        </Box>
      )}
    </LapSelectionProvider>
  )
}

const Ended = ({ run }: { run: Run }) => {
  const navigate = useNavigate()
  return (
    <Stack spacing={3} sx={{ alignItems: 'flex-start' }}>
      <Typography variant="h1">{`${run.studentName}: the run has ended`}</Typography>
      <SyncNote />
      {!run.endedAt && <Typography sx={{ fontSize: 20 }}>Its log is made as soon as the server hears of it.</Typography>}
      <TellCar run={run} />
      <Button variant="contained" sx={{ minHeight: 72, fontSize: '1.3rem', px: 4 }} onClick={() => navigate(`/debrief/${run.id}`)}>
        Debrief
      </Button>
      <Button variant="outlined" sx={{ minHeight: 64 }} onClick={() => navigate('/day')}>
        Back to the day
      </Button>
    </Stack>
  )
}

const BeforeRun = ({ run, plan }: { run: Run; plan: Plan }) => {
  const navigate = useNavigate()
  return (
    <Stack spacing={2}>
      <Typography variant="h1">{`${run.studentName}, ${plan.vehicle.name}`}</Typography>
      <Remembered run={run} plan={plan} />
      <Before run={run} />
      <SendOut run={run} />
      <Stack direction="row" spacing={3} sx={{ alignItems: 'center' }}>
        <Button variant="outlined" sx={{ minHeight: 64 }} onClick={() => navigate('/day')}>
          Back to the day
        </Button>
        <SyncNote />
      </Stack>
    </Stack>
  )
}

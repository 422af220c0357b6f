import { Box, Button, Stack, Typography } from '@mui/material'
import type { Run } from '@ochote/contract'
import type { Plan } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { dayQuery, runQuery } from '../../data/api/queries.ts'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { OfflineNote } from '../../shared/offline-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { SyncNote } from '../../shared/sync-note.tsx'
import { Before, Remembered, TellCar, useGrounded } from './before-run.tsx'
import { BookOfRun } from './book-of-run.tsx'
import { Driving } from './driving.tsx'
import { SendOut } from './send-out.tsx'
import { newPlanInWords } from './weather-prompt.tsx'

/** The ride-along screen of one run: for a tablet on the knee, two seconds of attention. */
export const RideAlong = () => {
  const { runId = '' } = useParams()
  const run = useQuery({ ...runQuery(runId), networkMode: 'always' })
  const events = useRunEvents(runId)
  const [ending, setEnding] = useState(false)
  const { plan, error } = usePlan(run.data?.settings)
  if (!run.data || !plan)
    return (
      <Box component="main" sx={{ p: 5 }}>
        <Reading what={say`Reading the run …`} frame="lap" error={run.data ? error : (run.error ?? error)} />
      </Box>
    )
  // While the log is being made the run still shows; an end that the server has not heard of is an end here all the same.
  const stage = run.data.endedAt || (events.ended && !ending) ? 'ended' : run.data.simulation || events.programme ? 'driving' : say`before`
  return (
    <LapSelectionProvider>
      {stage === 'driving' ? (
        <Driving run={run.data} plan={plan} onEnding={setEnding} />
      ) : (
        <Box component="main" sx={{ minHeight: '100vh', px: { xs: 4, md: 5 }, py: 4 }}>
          {stage === 'ended' ? <Ended run={run.data} /> : <BeforeRun run={run.data} plan={plan} />}
        </Box>
      )}
    </LapSelectionProvider>
  )
}

const Ended = ({ run }: { run: Run }) => {
  const navigate = useNavigate()
  return (
    <Stack spacing={5} sx={{ alignItems: 'flex-start' }}>
      <Typography variant="title">{say`${run.studentName}: the run has ended`}</Typography>
      <SyncNote />
      {!run.endedAt && <Typography sx={{ fontSize: 'size.note' }}>{say`Its log is made as soon as the server hears of it.`}</Typography>}
      <TellCar run={run} />
      <Button variant="contained" sx={{ px: 6 }} onClick={() => navigate(`/debrief/${run.id}`)}>
        {say`Debrief`}
      </Button>
      <Button variant="outlined" onClick={() => navigate('/day')}>
        {say`Back to the day`}
      </Button>
    </Stack>
  )
}

const BeforeRun = ({ run, plan }: { run: Run; plan: Plan }) => {
  const navigate = useNavigate()
  const day = useQuery(dayQuery(run.dayId))
  const { checked } = useRunEvents(run.id)
  const newPlan = newPlanInWords(run.settings, day.data?.plan.settings)
  const unchecked = (day.data?.plan.checkOff.length ?? 0) > 0 && !checked
  const grounded = useGrounded(run)
  const missing = unchecked
    ? say`First look the car over and touch “All OK”, or what is not.`
    : grounded
      ? say`Car ${grounded.number} came back with “do not drive”. First say that somebody has put it right, or take another car.`
      : null
  return (
    <Stack spacing={4}>
      <Typography variant="title">{`${run.studentName}, ${plan.vehicle.name}`}</Typography>
      <OfflineNote />
      {newPlan && (
        <Typography role="status" variant="note" sx={{ color: 'warning.main', fontWeight: 650 }}>
          {say`${newPlan}. This run keeps its own; start a new one to drive by the day’s.`}
        </Typography>
      )}
      <Remembered run={run} plan={plan} />
      <Before run={run} />
      {grounded && !unchecked && (
        <Button variant="outlined" onClick={grounded.putRight}>
          {say`Car ${grounded.number} was put right: it may drive`}
        </Button>
      )}
      <BookOfRun run={run} />
      <SendOut run={run} missing={missing} />
      <Stack direction="row" spacing={5} sx={{ alignItems: 'center' }}>
        <Button variant="outlined" onClick={() => navigate('/day')}>
          {say`Back to the day`}
        </Button>
        <SyncNote />
      </Stack>
    </Stack>
  )
}

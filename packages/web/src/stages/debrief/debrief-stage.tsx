import { Box, Button, Stack, Typography } from '@mui/material'
import { type Debrief, drivenAt, type Run } from '@ochote/contract'
import { changesCounting, firstName, formatDate, type Plan, stuckRates, withCountedLaps } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { debriefQuery, recordQuery, runQuery } from '../../data/api/queries.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { say, staffLanguage } from '../../language/say.ts'
import { JudgingAnew } from '../../shared/judging-anew.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { StageHead } from '../../shared/stage-head.tsx'
import { JudgedAgainst } from './judged-against.tsx'
import { LapAnalysis } from './lap-analysis.tsx'
import { LogUpload } from './log-upload.tsx'
import { AccountLine, OwnAccount } from './own-account.tsx'
import { Release } from './release.tsx'
import { SayFirst } from './say-first.tsx'

/** Look back on one run: the student's own account, then what to say, then laps, charts and places as deep as wanted. */
export const DebriefStage = () => {
  const { runId = '' } = useParams()
  const run = useQuery(runQuery(runId))
  // A run that ended within its first lap has nothing to ask for.
  const debrief = useQuery({ ...debriefQuery(runId), enabled: run.data?.hasLog === true })
  const { plan, error } = usePlan(run.data?.settings)
  const noLog = run.data?.hasLog === false && !debrief.data && !run.isFetching
  if (!run.data || !plan)
    return (
      <Stack spacing={3}>
        <StageHead stage="Debrief" />
        <Reading what={say`Reading the run …`} frame="lap" error={run.error ?? error} />
      </Stack>
    )
  return (
    <Stack spacing={3}>
      <StageHead
        stage="Debrief"
        facts={
          <>
            <Typography component="h2" variant="head" sx={{ color: 'text.primary', display: 'inline' }}>
              {run.data.studentName}
            </Typography>
            {` ${formatDate(run.data.date, staffLanguage)} · ${plan.circuit.name}${debrief.data ? ` · ${debrief.data.source}` : ` · ${plan.vehicle.name}`}`}
          </>
        }
      >
        <LogUpload run={run.data} hasLog={debrief.data !== undefined} />
        {debrief.data && (
          <Button variant="contained" component={Link} to={`/debrief/${runId}/sheet`} sx={{ whiteSpace: 'nowrap', flexShrink: 0 }}>
            {say`Student sheet`}
          </Button>
        )}
      </StageHead>
      {debrief.data && <JudgedAgainst run={run.data} debrief={debrief.data} />}
      {noLog && <Typography>{say`This run has no log yet. End the run on its own screen, or give it a log file here.`}</Typography>}
      <ProblemNote error={debrief.error} />
      {!noLog && !debrief.data && !debrief.error && <Reading what={say`Reading laps and findings …`} frame="lap" />}
      {debrief.data && <LookBack run={run.data} plan={plan} debrief={debrief.data} />}
    </Stack>
  )
}

/** What to say at the left, its evidence beside it where there is room. */
const besideEvidence = {
  display: 'grid',
  gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) minmax(0, 2fr)' },
  gap: 5,
} as const

const LookBack = ({ run, plan, debrief }: { run: Run; plan: Plan; debrief: Debrief }) => {
  const events = useRunEvents(run.id)
  const [passed, setPassed] = useState(false)
  useLapKeys(plan)
  const { account } = events
  const deciding = events.all.filter(changesCounting).map((e) => e.id)
  const { day } = useDay()
  const record = useQuery(recordQuery(run.studentId))
  const rates = useMemo(() => {
    if (!record.data) return []
    const { said, passes } = drivenAt(record.data, run.settings.circuitId)
    return stuckRates(said, passes)
  }, [record.data, run])
  const counted = useMemo(() => withCountedLaps(debrief, events.all), [debrief, events.all])
  // Whoever has just driven speaks first; what lies back is looked at as it is.
  if (!account && !passed && !run.submitted && run.date === day?.plan.date)
    return <OwnAccount plan={plan} events={events} firstName={firstName(run.studentName)} onDone={() => setPassed(true)} />
  return (
    <>
      <JudgingAnew since={deciding.join()} />
      {account && <AccountLine plan={plan} account={account} />}
      {run.submitted && (
        <Release
          released={events.released}
          onRelease={() => void events.tell({ kind: 'released' })}
          onTakeBack={(id) => void events.tell({ kind: 'undo', undoes: id })}
        />
      )}
      <Box sx={besideEvidence}>
        <SayFirst
          plan={plan}
          debrief={counted}
          said={{
            known: events.said,
            rates,
            onSay: (advice, words) => void events.tell({ kind: 'said', cornerId: advice.cornerId, code: advice.code, words }),
            onTakeBack: (id) => void events.tell({ kind: 'undo', undoes: id }),
          }}
        />
        <LapAnalysis run={run} plan={plan} debrief={debrief} events={events} />
      </Box>
      <Caution />
    </>
  )
}

import { Box, Button, Link, Stack, Typography } from '@mui/material'
import { api, type PortalRun, traceFromWire } from '@ochote/contract'
import { formatDate, type Plan, runStateOf, withCountedLaps } from '@ochote/core'
import { type QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link as RouterLink, useParams } from 'react-router'
import { addressOf } from '../../data/api/api-client.ts'
import { clientOfLink, portalRunQuery, referencesQuery, runEventsQuery, traceQuery } from '../../data/api/queries.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { browserLanguage, wordsIn } from '../../shared/language/words.ts'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { ReferenceSentence } from './judged-against.tsx'
import { LapAnalysis } from './lap-analysis.tsx'
import { Notes } from './notes.tsx'
import { SayFirst } from './say-first.tsx'

/** The debrief of one own drive by the student's link, as the instructor sees it, to read. */
export const PortalRunPage = () => {
  const { token = '', runId = '' } = useParams()
  const drive = useQuery(portalRunQuery(token, runId))
  return (
    <Box component="main" sx={{ p: 4, maxWidth: 1280, mx: 'auto' }}>
      <ProblemNote error={drive.error} language={browserLanguage()} />
      {drive.isPending && <Reading what={wordsIn(browserLanguage()).phone.reading} />}
      {drive.data && <Filled drive={drive.data} token={token} />}
    </Box>
  )
}

/** All that the debrief asks for is here already; nothing is asked of calls that need a sign-in. */
const clientOf = ({ run, circuit, vehicle, debrief, traces, events }: PortalRun): QueryClient => {
  const client = clientOfLink({ circuit, vehicle })
  client.setQueryData(runEventsQuery(run.id).queryKey, events)
  client.setQueryData(referencesQuery(debrief.runId).queryKey, [])
  for (const trace of traces) client.setQueryData(traceQuery(run.id, trace.lap).queryKey, trace)
  return client
}

const Filled = ({ drive, token }: { drive: PortalRun; token: string }) => {
  const client = useMemo(() => clientOf(drive), [drive])
  return (
    <QueryClientProvider client={client}>
      <LapSelectionProvider>
        <Read drive={drive} token={token} />
      </LapSelectionProvider>
    </QueryClientProvider>
  )
}

const Read = ({ drive, token }: { drive: PortalRun; token: string }) => {
  const { run, debrief } = drive
  const { plan, error } = usePlan(run.settings)
  const [more, setMore] = useState(false)
  const { phone } = wordsIn(browserLanguage())
  const events = useMemo(
    () => ({
      ...runStateOf(drive.events),
      all: drive.events,
      waiting: 0,
      tell: () => Promise.reject(new Error(say`This page is for reading`)),
    }),
    [drive.events],
  )
  const counted = useMemo(() => withCountedLaps(debrief, events.all), [debrief, events.all])
  const pictureAt = (pictureId: string): string => addressOf(api.portalPicture, { token, runId: run.id, pictureId }, undefined)
  if (!plan) return error ? <ProblemNote error={error} /> : <Reading what={wordsIn(browserLanguage()).phone.reading} frame="lap" />
  return (
    <Stack spacing={3}>
      <Stack direction="row" spacing={4} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="title">{run.studentName}</Typography>
        <Typography color="text.secondary">{`${formatDate(run.date, browserLanguage())} · ${plan.circuit.name} · ${plan.vehicle.name} · ${debrief.source}`}</Typography>
        <Link component={RouterLink} to={`/s/${token}`}>
          {phone.backToPage}
        </Link>
      </Stack>
      <ReferenceSentence debrief={debrief} />
      {drive.toBeLookedAt ? (
        <Typography>{say`Your instructor has not looked at this log yet. Laps and traces are here; what was found follows.`}</Typography>
      ) : (
        <SayFirst
          plan={plan}
          debrief={counted}
          pictureOf={({ cornerId, laps }) => <Shown runId={run.id} plan={plan} cornerId={cornerId} lap={laps[0]} />}
        />
      )}
      {events.notes.length > 0 && <Notes plan={plan} events={events} lap={debrief.laps[0]?.lap ?? 1} pictureAt={pictureAt} />}
      {drive.toBeLookedAt || more ? (
        <LapAnalysis run={run} plan={plan} debrief={debrief} events={events} pictureAt={pictureAt} />
      ) : (
        <Button variant="outlined" onClick={() => setMore(true)} sx={{ alignSelf: 'flex-start' }}>
          {phone.moreCharts}
        </Button>
      )}
      <Caution />
    </Stack>
  )
}

/** One corner with the plan's line and the lap on which a finding shows. */
const Shown = ({ runId, plan, cornerId, lap }: { runId: string; plan: Plan; cornerId: string; lap: number }) => {
  const trace = useQuery(traceQuery(runId, lap))
  const layers = useMemo(() => (trace.data ? { otherOffset_m: traceFromWire(trace.data).offset_m } : {}), [trace.data])
  return (
    <LapSelectionProvider initialCornerId={cornerId}>
      <GroundView plan={plan} layers={layers} height={220} bare label={say`Lap ${lap} here: dashed is the plan, solid is your lap`} />
    </LapSelectionProvider>
  )
}

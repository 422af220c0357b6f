import { Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { api, type Debrief, type Run, standingObservations } from '@ochote/contract'
import { formatLapTime, type Plan, planTrace } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { ApiProblem, call } from '../../app/api-client.ts'
import { debriefQuery, queryClient, runEventsQuery, runQuery, traceQuery } from '../../app/queries.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { FileChoice } from '../../shared/file-choice.tsx'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { FindingsList } from './findings-list.tsx'
import { TraceChart } from './trace-chart.tsx'
import { type ChartLap, chartLap } from './trace-columns.ts'

/** Look back on one run: its laps over the plan or over each other, findings and what was logged by hand. */
export const DebriefStage = () => {
  const { runId = '' } = useParams()
  const run = useQuery(runQuery(runId))
  const debrief = useQuery(debriefQuery(runId))
  const { plan, error } = usePlan(run.data?.settings)
  const noLog = debrief.error instanceof ApiProblem && debrief.error.problem.code === 'no-log'
  if (!run.data || !plan) return <ProblemNote error={run.error ?? error} />
  return (
    <Stack spacing={1.5}>
      <Stack direction="row" spacing={2} sx={{ alignItems: 'center' }}>
        <Typography variant="h1">{run.data.studentName}</Typography>
        <Typography color="text.secondary">{`${run.data.date} · ${plan.circuit.name} · ${plan.vehicle.name} · ${run.data.settings.surface}, pace ${Math.round(run.data.settings.pace * 100)} %${debrief.data ? ` · ${debrief.data.source}` : ''}`}</Typography>
        <Box sx={{ flex: 1 }} />
        <LogUpload run={run.data} />
        {debrief.data && (
          <Button variant="contained" component={Link} to={`/debrief/${runId}/sheet`}>
            Student sheet
          </Button>
        )}
      </Stack>
      {noLog && <Typography>This run has no log yet. End the run on its own screen, or give it the logger’s CSV file here.</Typography>}
      {!noLog && <ProblemNote error={debrief.error} />}
      {debrief.data && <Compare run={run.data} plan={plan} debrief={debrief.data} />}
    </Stack>
  )
}

const LogUpload = ({ run }: { run: Run }) => {
  const upload = useMutation({
    mutationFn: (file: File) => call(api.uploadLog, { params: { runId: run.id }, file }),
    onSuccess: (debrief) => {
      queryClient.removeQueries({ queryKey: ['runs', 'one', run.id, 'laps'] })
      queryClient.setQueryData(debriefQuery(run.id).queryKey, debrief)
      void queryClient.invalidateQueries({ queryKey: ['students'] })
    },
  })
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
      <ProblemNote error={upload.error} />
      <FileChoice
        label={upload.isPending ? 'Reading …' : 'Give it a log file'}
        accept=".csv"
        file={null}
        onChoose={(file) => file && upload.mutate(file)}
      />
    </Stack>
  )
}

const Compare = ({ run, plan, debrief }: { run: Run; plan: Plan; debrief: Debrief }) => {
  const [lap, setLap] = useState(debrief.laps[0]?.lap ?? 1)
  const [over, setOver] = useState<'plan' | number>('plan')
  const [all, setAll] = useState(true)
  const trace = useQuery(traceQuery(run.id, lap))
  const other = useQuery({ ...traceQuery(run.id, over === 'plan' ? lap : over), enabled: over !== 'plan' })
  const events = useQuery(runEventsQuery(run.id))
  useLapKeys(plan)
  const planned = useMemo(() => chartLap('the plan', planTrace(plan)), [plan])
  const driven = useMemo(() => (trace.data ? chartLap(`lap ${lap}`, trace.data) : null), [trace.data, lap])
  const reference: ChartLap | null = useMemo(
    () => (over === 'plan' ? planned : other.data ? chartLap(`lap ${over}`, other.data) : null),
    [over, planned, other.data],
  )
  const observations = useMemo(() => standingObservations(events.data ?? []).filter((o) => all || o.lap === lap), [events.data, all, lap])
  const findings = debrief.findings.filter((f) => all || f.lap === lap)
  const otherOffset_m = useMemo(() => (trace.data ? Float64Array.from(trace.data.offset_m) : undefined), [trace.data])
  const notes = debrief.findings
    .filter((f) => f.root && f.lap === lap)
    .map((f) => ({ station_m: f.station_m, label: `${f.cornerId} ${f.code}`, tone: 'own' as const }))
  const best = debrief.laps.reduce((least, l) => Math.min(least, l.time_s), Number.POSITIVE_INFINITY)
  return (
    <>
      <Stack direction="row" spacing={1} useFlexGap sx={{ alignItems: 'flex-end', flexWrap: 'wrap' }} role="group" aria-label="Laps">
        {debrief.laps.map((l) => (
          <Button
            key={l.lap}
            variant={l.lap === lap ? 'contained' : 'outlined'}
            aria-pressed={l.lap === lap}
            onClick={() => setLap(l.lap)}
            className="figures"
          >
            {`Lap ${l.lap}: ${formatLapTime(l.time_s)}${l.time_s === best ? ' quickest' : ''}`}
          </Button>
        ))}
        <TextField
          select
          label="Over"
          value={String(over)}
          onChange={(e) => setOver(e.target.value === 'plan' ? 'plan' : Number(e.target.value))}
          sx={{ width: 200, ml: 2 }}
        >
          <MenuItem value="plan">{`the plan, ${formatLapTime(plan.profile.lapTime_s)}`}</MenuItem>
          {debrief.laps
            .filter((l) => l.lap !== lap)
            .map((l) => (
              <MenuItem key={l.lap} value={String(l.lap)}>{`lap ${l.lap}, ${formatLapTime(l.time_s)}`}</MenuItem>
            ))}
        </TextField>
        {debrief.skipped.length > 0 && (
          <Typography color="warning.main">
            {debrief.skipped
              .map((s) => `A lap is left out: the log is silent for ${s.gap_s.toFixed(1)} s after ${s.after_s.toFixed(1)} s.`)
              .join(' ')}
          </Typography>
        )}
      </Stack>
      <LapBand plan={plan} height={170} compact layers={{ marks: plan.marks, notes, ...(otherOffset_m ? { otherOffset_m } : {}) }} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.5fr) minmax(300px, 1fr)', gap: 2 }}>
        <Box>
          {driven && reference && (
            <TraceChart station_m={plan.circuit.s_m} length_m={plan.circuit.length_m} lap={driven} reference={reference} height={400} />
          )}
        </Box>
        <Box>
          <Stack direction="row" spacing={1} sx={{ mb: 1 }}>
            <Button size="small" variant={all ? 'contained' : 'outlined'} aria-pressed={all} onClick={() => setAll(true)}>
              All laps
            </Button>
            <Button size="small" variant={all ? 'outlined' : 'contained'} aria-pressed={!all} onClick={() => setAll(false)}>
              {`Lap ${lap} only`}
            </Button>
          </Stack>
          <Box role="region" aria-label="Findings, scrolls" tabIndex={0} sx={{ maxHeight: 360, overflow: 'auto' }}>
            <FindingsList plan={plan} findings={findings} observations={observations} />
          </Box>
        </Box>
      </Box>
      <GroundView plan={plan} marks={plan.marks} height={300} {...(otherOffset_m ? { otherOffset_m } : {})} />
    </>
  )
}

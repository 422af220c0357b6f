import { Box, Button, Stack, Typography } from '@mui/material'
import type { Debrief, Run, SkippedLapTold } from '@ochote/contract'
import { formatLapTime, type Plan, planTrace } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { ApiProblem } from '../../app/api-client.ts'
import { useDay } from '../../app/day-context.tsx'
import { debriefQuery, runQuery, traceQuery } from '../../app/queries.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useRunEvents } from '../../shared/events/use-run-events.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { FindingsList } from './findings-list.tsx'
import { LogUpload } from './log-upload.tsx'
import { Notes } from './notes.tsx'
import { AccountLine, OwnAccount } from './own-account.tsx'
import { PassesOfCorner } from './passes-of-corner.tsx'
import { SayFirst } from './say-first.tsx'
import { type Panel, panels, TraceChart } from './trace-chart.tsx'
import { type ChartLap, chartLap } from './trace-columns.ts'

/** Look back on one run: the student's own account, then what to say, then laps, charts and places as deep as wanted. */
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
        <LogUpload run={run.data} hasLog={debrief.data !== undefined} />
        {debrief.data && (
          <Button variant="contained" component={Link} to={`/debrief/${runId}/sheet`}>
            Student sheet
          </Button>
        )}
      </Stack>
      {noLog && <Typography>This run has no log yet. End the run on its own screen, or give it a log file here.</Typography>}
      {!noLog && <ProblemNote error={debrief.error} />}
      {debrief.data && <LookBack run={run.data} plan={plan} debrief={debrief.data} />}
    </Stack>
  )
}

const LookBack = ({ run, plan, debrief }: { run: Run; plan: Plan; debrief: Debrief }) => {
  const events = useRunEvents(run.id)
  const [passed, setPassed] = useState(false)
  useLapKeys(plan)
  const { account } = events
  const { day } = useDay()
  // Whoever has just driven speaks first; what lies back is looked at as it is.
  if (!account && !passed && run.date === day?.plan.date)
    return <OwnAccount plan={plan} events={events} firstName={run.studentName.split(' ')[0]} onDone={() => setPassed(true)} />
  return (
    <>
      {account && <AccountLine plan={plan} account={account} />}
      <SayFirst plan={plan} debrief={debrief} />
      <Depth run={run} plan={plan} debrief={debrief} />
    </>
  )
}

const skippedWords: Record<SkippedLapTold['reason'], (s: SkippedLapTold) => string> = {
  silent: (s) => `the log is silent for ${s.gap_s.toFixed(1)} s after ${s.after_s.toFixed(1)} s`,
  stop: () => 'the car stood',
  elsewhere: () => 'it left the circuit',
}

/** A corner is looked at with so much road before and after it (m). */
const AROUND_M = 110
const usualPanels: readonly Panel[] = ['speed', 'difference', 'pedals']
const panelWords: Record<Panel, string> = {
  speed: 'Speed',
  difference: 'Time',
  pedals: 'Pedals',
  wheel: 'Wheel',
  offset: 'Offset',
  gear: 'Gear',
}

const Depth = ({ run, plan, debrief }: { run: Run; plan: Plan; debrief: Debrief }) => {
  const [lap, setLap] = useState(debrief.laps[0]?.lap ?? 1)
  const [over, setOver] = useState('plan')
  const [all, setAll] = useState(true)
  const [shown, setShown] = useState(usualPanels)
  const [near, setNear] = useState(false)
  const { cornerId } = useLapSelection()
  const overLap = over === 'plan' ? null : Number(over)
  const trace = useQuery(traceQuery(run.id, lap))
  const other = useQuery({ ...traceQuery(run.id, overLap ?? lap), enabled: overLap !== null })
  const events = useRunEvents(run.id)
  const planned = useMemo(() => chartLap('the plan', planTrace(plan)), [plan])
  const driven = useMemo(() => (trace.data ? chartLap(`lap ${lap}`, trace.data) : null), [trace.data, lap])
  const reference: ChartLap | null = useMemo(
    () => (overLap === null ? planned : other.data ? chartLap(`lap ${overLap}`, other.data) : null),
    [overLap, planned, other.data],
  )
  const observations = events.observations.filter((o) => all || o.lap === lap)
  const findings = debrief.findings.filter((f) => all || f.lap === lap)
  const otherOffset_m = useMemo(() => (trace.data ? Float64Array.from(trace.data.offset_m) : undefined), [trace.data])
  const notes = [
    ...debrief.findings
      .filter((f) => f.root && f.lap === lap)
      .map((f) => ({ station_m: f.station_m, label: `${f.cornerId} ${f.code}`, tone: 'own' as const })),
    ...events.notes
      .filter((n) => n.lap === null || n.lap === lap)
      .map((n) => ({ station_m: n.station_m, label: n.text, tone: 'own' as const })),
  ]
  const best = debrief.laps.reduce((least, l) => Math.min(least, l.time_s), Number.POSITIVE_INFINITY)
  const corner = plan.corners.find((c) => c.id === cornerId)
  const range = useMemo(
    () =>
      near && corner
        ? { from_m: Math.max(0, corner.start_m - AROUND_M), to_m: Math.min(plan.circuit.length_m, corner.end_m + AROUND_M) }
        : null,
    [near, corner, plan],
  )
  return (
    <Box component="section" aria-label="In depth">
      <Stack direction="row" spacing={1} useFlexGap sx={{ alignItems: 'flex-end', flexWrap: 'wrap', mb: 1 }} role="group" aria-label="Laps">
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
        <Box sx={{ ml: 2 }}>
          <PickField
            label="Over"
            width={200}
            value={over}
            onPick={setOver}
            options={[
              ['plan', `the plan, ${formatLapTime(plan.profile.lapTime_s)}`],
              ...debrief.laps
                .filter((l) => l.lap !== lap)
                .map((l) => [String(l.lap), `lap ${l.lap}, ${formatLapTime(l.time_s)}`] as [string, string]),
            ]}
          />
        </Box>
      </Stack>
      {(debrief.skipped.length > 0 || debrief.laps.some((l) => l.gap_s > 0)) && (
        <Typography color="warning.main" variant="body2">
          {[
            ...debrief.skipped.map((s) => `Lap ${s.lap || '?'} is left out: ${skippedWords[s.reason](s)}.`),
            ...debrief.laps
              .filter((l) => l.gap_s > 0)
              .map((l) => `Lap ${l.lap} has a silence of ${l.gap_s.toFixed(1)} s; what lies in it is not judged.`),
          ].join(' ')}
        </Typography>
      )}
      <LapBand plan={plan} height={150} compact layers={{ marks: plan.marks, notes, ...(otherOffset_m ? { otherOffset_m } : {}) }} />
      <Stack direction="row" spacing={0.75} useFlexGap role="group" aria-label="Charts" sx={{ flexWrap: 'wrap', my: 1 }}>
        {panels.map((panel) => (
          <Button
            key={panel}
            size="small"
            variant={shown.includes(panel) ? 'contained' : 'outlined'}
            aria-pressed={shown.includes(panel)}
            onClick={() => {
              const next = panels.filter((p) => (p === panel ? !shown.includes(p) : shown.includes(p)))
              if (next.length > 0) setShown(next)
            }}
          >
            {panelWords[panel]}
          </Button>
        ))}
        <Button
          size="small"
          sx={{ ml: 2 }}
          variant={near ? 'contained' : 'outlined'}
          aria-pressed={near}
          disabled={!corner}
          onClick={() => setNear(!near)}
        >
          {corner ? `${corner.name} alone` : 'Choose a corner to look at it alone'}
        </Button>
      </Stack>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.5fr) minmax(300px, 1fr)', gap: 2 }}>
        <Box>
          {driven && reference && (
            <TraceChart
              station_m={plan.circuit.s_m}
              length_m={plan.circuit.length_m}
              lap={driven}
              reference={reference}
              height={140 + 100 * shown.length}
              shown={shown}
              range={range}
            />
          )}
          {corner && <PassesOfCorner plan={plan} debrief={debrief} cornerId={corner.id} />}
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
          <Notes plan={plan} events={events} lap={lap} />
        </Box>
      </Box>
      <GroundView plan={plan} marks={plan.marks} height={300} {...(otherOffset_m ? { otherOffset_m } : {})} />
    </Box>
  )
}

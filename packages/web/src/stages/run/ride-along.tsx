import { Box, Button, Stack, Typography } from '@mui/material'
import { api, briefingParts, callWorkSchema, type Observation, preparationOf, type Run, type Student, seenAt } from '@ochote/contract'
import { formatSpeed, likelyMistakes, type MistakeCode, markOf, mistakes, type Plan, quizGaps } from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import { call } from '../../app/api-client.ts'
import { carConditionsQuery, dayEventsQuery, dayQuery, queryClient, recordQuery, runQuery } from '../../app/queries.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { usePlan } from '../../shared/plan/use-plan.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { LapSelectionProvider } from '../../shared/selection/lap-selection.tsx'
import { CarAfterRun, conditionInWords } from './car-condition.tsx'
import { CheckOff } from './check-off.tsx'
import { cornerBehind, type NextCall, nextCalls } from './next-call.ts'
import { SendOut } from './send-out.tsx'
import { type Position, usePosition } from './use-position.ts'
import { useRunEvents } from './use-run-events.ts'

/** The ride-along screen of one run: for a tablet on the knee, two seconds of attention. */
export const RideAlong = () => {
  const { runId = '' } = useParams()
  const run = useQuery(runQuery(runId))
  const { plan, error } = usePlan(run.data?.settings)
  const navigate = useNavigate()
  if (!run.data || !plan)
    return (
      <Box sx={{ p: 3 }}>
        <ProblemNote error={run.error ?? error} />
        {!run.error && !error && <Typography role="status">Loading the run …</Typography>}
      </Box>
    )
  return (
    <LapSelectionProvider>
      <Box component="main" sx={{ minHeight: '100vh', px: { xs: 2, md: 3 }, py: 2, display: 'flex', flexDirection: 'column' }}>
        {run.data.endedAt ? (
          <Stack spacing={3} sx={{ alignItems: 'flex-start' }}>
            <Typography variant="h1">{`${run.data.studentName}: the run has ended`}</Typography>
            <TellCar run={run.data} />
            <Button variant="contained" sx={{ minHeight: 72, fontSize: '1.3rem', px: 4 }} onClick={() => navigate(`/debrief/${runId}`)}>
              Debrief
            </Button>
            <Button variant="outlined" sx={{ minHeight: 64 }} onClick={() => navigate('/day')}>
              Back to the day
            </Button>
          </Stack>
        ) : run.data.simulation ? (
          <Driving run={run.data} plan={plan} />
        ) : (
          <Stack spacing={2}>
            <Typography variant="h1">{`${run.data.studentName}, ${plan.vehicle.name}`}</Typography>
            <Remembered run={run.data} plan={plan} />
            <Before run={run.data} />
            <SendOut run={run.data} />
            <Box>
              <Button variant="outlined" sx={{ minHeight: 64 }} onClick={() => navigate('/day')}>
                Back to the day
              </Button>
            </Box>
          </Stack>
        )}
      </Box>
    </LapSelectionProvider>
  )
}

const Driving = ({ run, plan }: { run: Run; plan: Plan }) => {
  const position = usePosition(run.id, plan, run.simulation?.speedFactor ?? 1, true)
  const events = useRunEvents(run.id)
  const record = useQuery({ ...recordQuery(run.studentId), staleTime: Number.POSITIVE_INFINITY })
  const day = useQuery(dayQuery(run.dayId))
  const state = useCallSheet(plan, run.settings, {
    work: day.data?.plan.calls ?? plainCalls,
    intensity: talkOf(record.data?.student),
    studentId: run.studentId,
  })
  const [ending, setEnding] = useState(false)
  const corner = position ? cornerBehind(plan, position.station_m) : undefined
  const lap = position?.fix.lap ?? 0
  const choices = useMemo(() => {
    if (!corner) return []
    const past = record.data ? seenAt(record.data, run.settings.circuitId) : []
    return likelyMistakes(past, corner.id, markOf(plan.marks, corner.id, 'brake') !== undefined)
  }, [corner, record.data, plan, run.settings.circuitId])
  const log = (code: MistakeCode | undefined): void => {
    if (corner && code) void events.observe(corner.id, code, lap)
  }
  const finished = position?.fix.finished === true
  const over = ending || finished
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.repeat || event.ctrlKey || event.metaKey) return
      const number = Number(event.key)
      if (number >= 1 && number <= 6 && !over) log(choices[number - 1])
      else if (event.key === 'u' || event.key === 'Backspace') events.undoLast()
      else if (event.key === 'e') setEnding((now) => !now)
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })
  const calls = position && state ? nextCalls(plan, state.sheet, position.station_m, 2) : []
  return (
    <Stack spacing={1.5} sx={{ flex: 1 }}>
      <TopLine run={run} position={position} lap={lap} waiting={events.waiting} />
      {!finished && <CallPanel calls={calls} plan={plan} />}
      <LapBand
        plan={plan}
        layers={{ marks: plan.marks, car_m: finished ? null : (position?.station_m ?? null) }}
        height={128}
        compact
        label="Where the car is on the lap"
      />
      {over ? (
        <EndPanel run={run} finished={finished} onStay={() => setEnding(false)} />
      ) : (
        <Touches cornerName={corner ? corner.name : null} choices={choices} onTouch={log} />
      )}
      <LastAction observations={events.observations} plan={plan} onUndo={events.undoLast} />
    </Stack>
  )
}

/** Calls as they are where a day decided nothing. */
const plainCalls = callWorkSchema.parse({})

/** The car of a run, by its place in the day. */
const useCar = (run: Run) => {
  const day = useQuery(dayQuery(run.dayId))
  const carId = day.data?.plan.slots.find((s) => s.id === run.slotId)?.carId
  return { day: day.data, car: day.data?.plan.cars.find((c) => c.id === carId) }
}

/** What is looked over before rolling, and how the car came back last time. */
const Before = ({ run }: { run: Run }) => {
  const { day, car } = useCar(run)
  const events = useRunEvents(run.id)
  const conditions = useQuery(carConditionsQuery(run.dayId))
  const last = conditions.data?.find((c) => c.carId === car?.id)
  const told = last && conditionInWords(last)
  return (
    <>
      {car && told && (
        <Box role="note" sx={{ fontSize: 20, fontWeight: 650, color: 'warning.main' }}>
          {`Car ${car.number} came back at ${last.at.slice(11, 16)} with ${told}.`}
        </Box>
      )}
      {day && <CheckOff lines={day.plan.checkOff} checked={events.checked} onCheck={(open) => void events.check(open)} />}
    </>
  )
}

/** How the car was, asked once the run is over. */
const TellCar = ({ run }: { run: Run }) => {
  const { car } = useCar(run)
  const events = useRunEvents(run.id)
  return car ? <CarAfterRun number={car.number} told={events.car} onTell={(condition) => void events.tellCar(car.id, condition)} /> : null
}

/** What the student has still to be told before the run: parts not acknowledged, the radio, corners missed in the quiz. */
const Remembered = ({ run, plan }: { run: Run; plan: Plan }) => {
  const events = useQuery(dayEventsQuery(run.dayId))
  if (!events.data) return null
  const { acknowledged, radioHeard, answers } = preparationOf(events.data, run.studentId)
  const open = briefingParts.filter((part) => !acknowledged[part])
  const gaps = quizGaps(answers).map((g) => plan.corners.find((c) => c.id === g.cornerId)?.name ?? 'flags, cones or emergencies')
  return (
    <Box component="section" aria-label="Before the run" sx={{ fontSize: 20, lineHeight: 1.4 }}>
      <Box sx={{ fontWeight: gaps.length > 0 ? 650 : 400 }}>
        {gaps.length > 0
          ? `Not remembered yet: ${gaps.join(', ')}`
          : answers.length > 0
            ? 'No gaps in the recall quiz.'
            : 'No recall quiz taken yet.'}
      </Box>
      <Box sx={{ color: open.length > 0 || !radioHeard ? 'warning.main' : 'text.secondary' }}>
        {`${open.length === 0 ? 'Briefing acknowledged.' : `Briefing not acknowledged: ${open.join(', ')}.`} ${radioHeard ? 'Radio heard.' : 'Radio not checked.'}`}
      </Box>
    </Box>
  )
}

const talkOf = (student: Student | undefined) => student?.talk ?? 'guided'

const TopLine = ({ run, position, lap, waiting }: { run: Run; position: Position | null; lap: number; waiting: number }) => {
  const laps = run.simulation?.laps ?? 0
  const finished = position?.fix.finished === true
  const lapWords = finished ? 'In the pits' : lap < 1 ? 'Out lap' : lap > laps ? 'In lap' : `Lap ${lap} of ${laps}`
  const minutes = Math.floor((position?.fix.time_s ?? 0) / 60)
  const seconds = Math.floor((position?.fix.time_s ?? 0) % 60)
  return (
    <Stack direction="row" spacing={3} sx={{ alignItems: 'baseline', flexWrap: 'wrap', rowGap: 0.5 }}>
      <Typography component="h1" sx={{ fontSize: 30, fontWeight: 700, fontStretch: '84%' }}>
        {lapWords}
      </Typography>
      <Typography
        className="figures"
        sx={{ fontSize: 26 }}
        aria-label="Run clock"
      >{`${minutes}:${String(seconds).padStart(2, '0')}`}</Typography>
      <Typography className="figures" sx={{ fontSize: 26 }}>
        {position && !finished ? formatSpeed(position.fix.speed_mps, 'metric') : '–'}
      </Typography>
      <Typography sx={{ fontSize: 20 }}>{run.studentName}</Typography>
      <Box sx={{ flex: 1 }} />
      <Typography
        role="status"
        sx={{ fontSize: 16, color: waiting > 0 || (position?.silent_s ?? 0) > 2 ? 'warning.main' : 'text.secondary', fontWeight: 600 }}
      >
        {position === null
          ? 'Waiting for a position'
          : position.silent_s > 2 && !finished
            ? 'No position: going by the plan'
            : 'Simulated logger'}
        {waiting > 0 ? ` · ${waiting} kept here, waiting` : ' · all sent'}
      </Typography>
    </Stack>
  )
}

const CallPanel = ({ calls, plan }: { calls: readonly NextCall[]; plan: Plan }) => {
  const [next, after] = calls
  const nameOf = (cornerId: string): string => plan.corners.find((c) => c.id === cornerId)?.name ?? cornerId
  if (!next)
    return (
      <Box sx={{ minHeight: 118, borderLeft: '12px solid', borderColor: 'divider', pl: 2 }}>
        <Typography sx={{ fontSize: 26 }}>No calls: this student drives quietly.</Typography>
      </Box>
    )
  return (
    <Box
      aria-label="Next call"
      component="section"
      sx={{
        minHeight: 118,
        borderLeft: '12px solid',
        borderColor: next.now ? 'primary.main' : 'text.primary',
        pl: 2,
        pr: 2,
        py: 0.5,
        backgroundColor: next.now ? 'primary.main' : 'var(--sheet)',
        color: next.now ? 'primary.contrastText' : 'text.primary',
      }}
    >
      <Stack direction="row" spacing={2} sx={{ alignItems: 'baseline' }}>
        <Typography component="div" sx={{ fontSize: { xs: 40, md: 52 }, fontWeight: 720, fontStretch: '84%', lineHeight: 1.1, flex: 1 }}>
          {next.call.phrase}
        </Typography>
        <Typography
          component="div"
          className="figures"
          sx={{ fontSize: 34, fontWeight: 640, whiteSpace: 'nowrap' }}
        >{`${Math.round(next.toMark_m / 5) * 5} m`}</Typography>
      </Stack>
      <Typography component="div" sx={{ fontSize: 22 }}>
        {`${nameOf(next.call.cornerId)}${after ? ` · then ${nameOf(after.call.cornerId)}: ${after.call.phrase}` : ''}`}
      </Typography>
    </Box>
  )
}

const Touches = ({
  cornerName,
  choices,
  onTouch,
}: {
  cornerName: string | null
  choices: readonly MistakeCode[]
  onTouch: (code: MistakeCode) => void
}) => (
  <Box component="section" aria-label="What went wrong" sx={{ flex: 1, display: 'flex', flexDirection: 'column', minHeight: 220 }}>
    <Typography sx={{ fontSize: 22, fontWeight: 640, mb: 0.75 }}>
      {cornerName ? `At ${cornerName}` : 'The first corner is still ahead'}
    </Typography>
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr 1fr', md: '1fr 1fr 1fr' },
        gridAutoRows: 'minmax(76px, 1fr)',
        gap: 1.25,
        flex: 1,
      }}
    >
      {choices.map((code, i) => (
        <Button
          key={code}
          variant="contained"
          color="secondary"
          onClick={() => onTouch(code)}
          sx={{ fontSize: 30, lineHeight: 1.1, justifyContent: 'flex-start', textAlign: 'left', gap: 1.5, minHeight: 76 }}
        >
          <Box component="span" className="figures" aria-hidden="true" sx={{ fontSize: 18, opacity: 0.85 }}>
            {i + 1}
          </Box>
          {mistakes[code].name}
        </Button>
      ))}
    </Box>
  </Box>
)

const LastAction = ({ observations, plan, onUndo }: { observations: readonly Observation[]; plan: Plan; onUndo: () => void }) => {
  const last = observations.at(-1)
  return (
    <Stack direction="row" spacing={2} sx={{ alignItems: 'center', minHeight: 72 }}>
      <Typography sx={{ fontSize: 22, flex: 1 }} role="status" aria-label="Last logged">
        {last
          ? `${mistakes[last.code].name} at ${plan.corners.find((c) => c.id === last.cornerId)?.name ?? last.cornerId}, lap ${last.lap} · ${observations.length} in this run`
          : 'Nothing logged yet'}
      </Typography>
      {last && (
        <Button variant="outlined" onClick={onUndo} sx={{ minHeight: 72, minWidth: 190, fontSize: 24 }}>
          Undo
        </Button>
      )}
    </Stack>
  )
}

const EndPanel = ({ run, finished, onStay }: { run: Run; finished: boolean; onStay: () => void }) => {
  const navigate = useNavigate()
  const end = useMutation({
    mutationFn: () => call(api.endRun, { params: { runId: run.id } }),
    onSuccess: () => {
      void queryClient.invalidateQueries({ queryKey: ['runs'] })
      void queryClient.invalidateQueries({ queryKey: ['students'] })
      navigate(`/debrief/${run.id}`)
    },
  })
  return (
    <Stack spacing={2} sx={{ flex: 1, justifyContent: 'center', minHeight: 220 }}>
      <Typography sx={{ fontSize: 26 }}>
        {finished ? 'The car is back in the pits.' : 'End the run now? Its log so far is kept.'}
      </Typography>
      {finished && <TellCar run={run} />}
      <Stack direction="row" spacing={2}>
        <Button variant="contained" sx={{ minHeight: 84, fontSize: 26, px: 5 }} disabled={end.isPending} onClick={() => end.mutate()}>
          {end.isPending ? 'Keeping the log …' : 'End the run'}
        </Button>
        {!finished && (
          <Button variant="outlined" sx={{ minHeight: 84, fontSize: 26, px: 5 }} onClick={onStay}>
            Drive on
          </Button>
        )}
      </Stack>
      <ProblemNote error={end.error} />
    </Stack>
  )
}

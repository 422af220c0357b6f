import { Box, Button, Stack, Typography } from '@mui/material'
import { api, callWorkSchema, type Run, type Student, seenAt, stopNow } from '@ochote/contract'
import {
  formatSpeed,
  intensities,
  likelyMistakes,
  type MistakeCode,
  markOf,
  type Plan,
  paceAdvice,
  paceCeiling,
  planRisks,
} from '@ochote/core'
import { useMutation, useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../app/api-client.ts'
import { dayQuery, queryClient, recordQuery } from '../../app/queries.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { SyncNote } from '../../shared/events/sync-note.tsx'
import { useDayEvents } from '../../shared/events/use-day-events.ts'
import { type LiveDay, useLiveDay, useLiveValue } from '../../shared/live/live-store.ts'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { TellCar } from './before-run.tsx'
import { CallPanel } from './call-panel.tsx'
import { KneePage, LastLine, type Tile, Tiles, TurnedPages } from './knee.tsx'
import { cornerBehind, nextCalls } from './next-call.ts'
import {
  adviceInWords,
  clockInWords,
  cornerName,
  lapInWords,
  lapsLeft,
  mistakeName,
  paceName,
  runEventInWords,
  shownInWords,
  talkWords,
} from './run-words.ts'
import { type Position, usePosition } from './use-position.ts'
import { useRunEvents } from './use-run-events.ts'
import { weatherInWords } from './weather-prompt.tsx'

/** Calls as they are where a day decided nothing. */
const plainCalls = callWorkSchema.parse({})
const talkOf = (student: Student | undefined) => student?.talk ?? 'guided'

type RunEvents = ReturnType<typeof useRunEvents>

/** The corner just passed, with the mistakes that are one touch away there. */
const useCornerTouches = (run: Run, plan: Plan, live: LiveDay, position: Position | null, events: RunEvents) => {
  const record = useQuery({ ...recordQuery(run.studentId), staleTime: Number.POSITIVE_INFINITY })
  const corner = position ? cornerBehind(plan, position.station_m) : undefined
  const cornerId = corner?.id
  const passes = useLiveValue(live, (l) => l.passes())
  const pass = passes.findLast((p) => p.runId === run.id)
  const shown = pass && pass.cornerId === cornerId ? pass.findings : []
  const again = events.observations.findLast((o) => o.cornerId === cornerId)?.code
  const choices = useMemo(() => {
    if (!cornerId) return []
    const past = record.data ? seenAt(record.data, run.settings.circuitId) : []
    return likelyMistakes(past, cornerId, markOf(plan.marks, cornerId, 'brake') !== undefined, {
      thisRun: again ? [again] : [],
      risks: planRisks(plan, cornerId),
    })
  }, [cornerId, record.data, plan, run.settings.circuitId, again])
  // What positions show comes a moment later: nothing moves under the finger for it but the last one.
  const missing = shown.filter((f) => !choices.includes(f.code)).slice(0, 1)
  const codes = [...choices.slice(0, choices.length - missing.length), ...missing.map((f) => f.code)]
  const evidenceOf = (code: MistakeCode): string | undefined => shownInWords(shown, code)
  return { corner, codes, evidenceOf, again, lap: corner && position ? lapOfCorner(plan, position, corner.id) : 0, record: record.data }
}

/** The lap in which the corner behind was driven: past the line it is still the lap before. */
const lapOfCorner = (plan: Plan, { lap, station_m }: Position, cornerId: string): number => {
  const apex_m = markOf(plan.marks, cornerId, 'apex')?.station_m ?? 0
  return apex_m > station_m ? Math.max(0, lap - 1) : lap
}

/** The ride-along while the car is on the road. */
export const Driving = ({ run, plan, onEnding }: { run: Run; plan: Plan; onEnding: (ending: boolean) => void }) => {
  const live = useLiveDay(run.dayId)
  const { position, atLine } = usePosition(live, run.id, plan)
  const events = useRunEvents(run.id)
  const dayEvents = useDayEvents(run.dayId)
  const day = useQuery(dayQuery(run.dayId))
  const touches = useCornerTouches(run, plan, live, position, events)
  const { corner, codes, lap: cornerLap } = touches
  const talk = events.intensity ?? talkOf(touches.record?.student)
  const calls = useCallSheet(plan, run.settings, { work: day.data?.plan.calls ?? plainCalls, intensity: talk, studentId: run.studentId })
  const [ending, setEnding] = useState(false)
  const lap = position?.lap ?? 0
  const kind = events.kindOf(lap)
  const finished = position?.fix.inPits === true
  const over = ending || finished
  // Half a station is less than a picture shows.
  const drawn_m = position && !finished ? Math.round(position.station_m) : null
  const layers = useMemo(() => ({ marks: plan.marks, car_m: drawn_m }), [plan.marks, drawn_m])
  const stop = stopNow(dayEvents.events)
  const sessionEnd = dayEvents.events.findLast((e) => e.kind === 'restart' && e.decision === 'all-in' && e.at > run.startedAt)
  const comeIn = stop?.why ?? (sessionEnd ? 'The session has ended' : events.calledIn ? 'The pit wall calls this car in' : null)
  const advice = adviceOf(run, plan, events, lap)
  const adviceWords = adviceInWords(advice)
  const weather = weatherInWords(dayEvents.events, run.settings.surface)

  const log = (code: MistakeCode | undefined): void => {
    if (corner && code) void events.observe(corner.id, code, cornerLap, 'ride-along', touches.evidenceOf(code) !== undefined)
  }
  const heldWell = (): void => {
    if (corner) void events.tell({ kind: 'held-well', cornerId: corner.id, lap: cornerLap, via: 'ride-along' })
  }
  const talkBy = (step: -1 | 1): void => {
    const next = intensities[intensities.indexOf(talk) + step]
    if (next) void events.talk(next)
  }
  const traffic = (way: 'went-by' | 'let-by'): void => void events.tell({ kind: 'traffic', lap, way, cornerId: corner?.id ?? null })
  const cool = (): void => void events.tell({ kind: 'lap-kind', lap: kind === 'out' ? 1 : lap + 1, lapKind: 'cool-down' })

  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.repeat || event.ctrlKey || event.metaKey) return
      const number = Number(event.key)
      if (number >= 1 && number <= 6 && !over) log(codes[number - 1])
      else if (event.key === 'u' || event.key === 'Backspace') events.undoLast()
      else if (event.key === 'h' && !over) heldWell()
      else if (event.key === 'q') talkBy(-1)
      else if (event.key === 'm') talkBy(1)
      else if (event.key === 'l' && (position === null || position.silent_s > 2)) atLine()
      else if (event.key === 'e') setEnding((now) => !now)
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  })

  const next = position && calls ? nextCalls(plan, calls.sheet, position.station_m, 2, position.fix.speed_mps) : []
  const mistakeTiles: Tile[] = codes.map((code, i) => {
    const evidence = touches.evidenceOf(code)
    return {
      id: code,
      number: i + 1,
      words: tileWords(code, touches.again === code),
      under: evidence,
      tone: evidence ? 'shown' : 'plain',
      onTouch: () => log(code),
    }
  })
  const lapTiles: Tile[] = [
    { id: 'held', words: `Held well${corner ? ` at ${corner.name}` : ''}`, onTouch: heldWell },
    advice.to !== null
      ? {
          id: 'pace',
          words: adviceWords ?? '',
          tone: 'shown',
          onTouch: () => void events.tell({ kind: 'pace', lap, pace: advice.to as number, why: adviceWords ?? '' }),
        }
      : { id: 'cool', words: 'Cool-down from the line', tone: 'quiet', onTouch: cool },
    { id: 'quieter', words: 'Quieter', under: `now: ${talkWords[talk]}`, tone: 'quiet', onTouch: () => talkBy(-1) },
    { id: 'more', words: 'More talk', under: `now: ${talkWords[talk]}`, tone: 'quiet', onTouch: () => talkBy(1) },
    { id: 'went-by', words: 'Went by somebody', tone: 'quiet', onTouch: () => traffic('went-by') },
    { id: 'let-by', words: 'Let somebody by', tone: 'quiet', onTouch: () => traffic('let-by') },
  ]
  const runTiles: Tile[] = [
    { id: 'cool', words: 'Cool-down from the line', tone: 'quiet', onTouch: cool },
    {
      id: 'in',
      words: 'In from the line',
      tone: 'quiet',
      onTouch: () => void events.tell({ kind: 'lap-kind', lap: lap + 1, lapKind: 'in' }),
    },
    ...(position === null || position.silent_s > 2
      ? [{ id: 'line', words: 'At the line now', under: 'no position: goes on by the plan', onTouch: atLine }]
      : []),
    { id: 'end', words: 'End the run', tone: 'quiet', onTouch: () => setEnding(true) },
  ]
  const where = corner ? `At ${corner.name}` : 'The first corner is still ahead'
  return (
    <KneePage label={`Ride-along, ${run.studentName}`}>
      <TopLine
        run={run}
        position={position}
        live={live}
        words={lapInWords(events.program, lap, kind)}
        left={lapsLeft(events.program, lap, kind)}
      />
      {comeIn !== null && !finished && <StopBar why={comeIn} />}
      {!finished && (comeIn === null || !stop) && <CallPanel calls={next} plan={plan} />}
      <LapBand plan={plan} layers={layers} height={118} compact label="Where the car is on the lap" />
      <Typography role="status" aria-label="Pace" sx={{ fontSize: 20, ...(weather ? { color: 'warning.main', fontWeight: 650 } : {}) }}>
        {[`Pace ${paceName(plan.settings.pace)}`, ...(adviceWords ? [`advice: ${adviceWords}`] : []), ...(weather ? [weather] : [])].join(
          ' · ',
        )}
      </Typography>
      {over ? (
        <EndPanel run={run} events={events} finished={finished} onStay={() => setEnding(false)} onEnding={onEnding} />
      ) : (
        <TurnedPages
          pages={[
            { name: 'What went wrong', label: where, body: <Tiles tiles={mistakeTiles} /> },
            { name: 'This lap', label: where, body: <Tiles tiles={lapTiles} /> },
            { name: 'The run', label: lapInWords(events.program, lap, kind), body: <Tiles tiles={runTiles} /> },
          ]}
        />
      )}
      <LastLine
        words={
          events.lastUndoable
            ? `${runEventInWords(events.lastUndoable, (id) => cornerName(plan, id))} · ${events.observations.length} in this run`
            : 'Nothing logged yet'
        }
        onUndo={events.lastUndoable ? events.undoLast : null}
      />
    </KneePage>
  )
}

const tileWords = (code: MistakeCode, again: boolean): string => {
  const name = mistakeName(code)
  return again ? `Same again: ${name.toLowerCase()}` : name
}

/** Advice from the coached laps since the last step. */
const adviceOf = (run: Run, plan: Plan, events: RunEvents, lap: number) => {
  const from = events.pace ? events.pace.lap + 1 : 1
  const done: number[] = []
  for (let n = from; n < lap; n++) if (events.kindOf(n) === 'coached') done.push(n)
  const misses = events.observations.filter((o) => o.lap >= from).map(({ lap: at, cornerId, code }) => ({ lap: at, cornerId, code }))
  return paceAdvice(plan.settings.pace, done, misses, paceCeiling(run.settings.surface))
}

const TopLine = ({
  run,
  position,
  live,
  words,
  left,
}: {
  run: Run
  position: Position | null
  live: LiveDay
  words: string
  left: number | null
}) => {
  const connected = useLiveValue(live, (l) => l.connected())
  const finished = position?.fix.inPits === true
  const silent = position !== null && position.silent_s > 2 && !finished
  const receiver =
    position === null
      ? `Waiting for a position${connected ? '' : ', server out of reach'}`
      : silent
        ? `No position: going by the plan${connected ? '' : ', server out of reach'}`
        : position.fix.trouble
          ? troubleWords[position.fix.trouble]
          : run.simulation
            ? 'Simulated logger'
            : 'Receiver'
  return (
    <Stack direction="row" spacing={3} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap', rowGap: 0 }}>
      <Typography component="h1" sx={{ fontSize: 30, fontWeight: 700, fontStretch: '84%' }}>
        {finished ? 'In the pits' : words}
      </Typography>
      {!finished && left !== null && left > 0 && (
        <Typography className="figures" sx={{ fontSize: 24 }}>
          {`${left} left`}
        </Typography>
      )}
      <Typography className="figures" sx={{ fontSize: 26 }} aria-label="Run clock">
        {clockInWords(position?.fix.time_s ?? 0)}
      </Typography>
      <Typography className="figures" sx={{ fontSize: 26 }}>
        {position && !finished ? formatSpeed(position.fix.speed_mps, 'metric') : '–'}
      </Typography>
      <Typography sx={{ fontSize: 20 }}>{run.studentName}</Typography>
      <Box sx={{ flex: 1 }} />
      <SyncNote before={receiver} urgent={silent} />
    </Stack>
  )
}

/** What is wrong with a receiver, in a word for the car. */
const troubleWords = {
  late: 'Positions out of order: left out',
  future: 'Receiver’s clock leaps: left out',
  elsewhere: 'Receiver is not on this circuit',
  frozen: 'Receiver hangs: going by the plan',
  slow: 'One position a second: laps only, no marks',
} as const

const StopBar = ({ why }: { why: string }) => (
  <Box
    role="alert"
    sx={{
      minHeight: 118,
      px: 2,
      py: 1,
      backgroundColor: 'error.main',
      color: 'var(--ground)',
      display: 'flex',
      flexDirection: 'column',
      justifyContent: 'center',
    }}
  >
    <Box sx={{ fontSize: 44, fontWeight: 760, fontStretch: '84%', lineHeight: 1.05 }}>Come in</Box>
    <Box sx={{ fontSize: 24 }}>{why}</Box>
  </Box>
)

const EndPanel = ({
  run,
  events,
  finished,
  onStay,
  onEnding,
}: {
  run: Run
  events: RunEvents
  finished: boolean
  onStay: () => void
  /** While the log is being made the run still shows; an end that nobody hears of shows at once. */
  onEnding: (ending: boolean) => void
}) => {
  const navigate = useNavigate()
  const end = useMutation({
    networkMode: 'always',
    mutationFn: async () => {
      // The end is kept here first; without the server the log is made when it hears of it.
      await events.tell({ kind: 'ended' })
      return call(api.endRun, { params: { runId: run.id } })
    },
    onMutate: () => onEnding(true),
    onSettled: () => onEnding(false),
    onSuccess: () => {
      void queryClient.invalidateQueries({ queryKey: ['runs'] })
      void queryClient.invalidateQueries({ queryKey: ['students'] })
      navigate(`/debrief/${run.id}`)
    },
  })
  return (
    <Stack spacing={2} sx={{ flex: 1, justifyContent: 'center', minHeight: 0 }}>
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

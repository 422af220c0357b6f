import { Typography } from '@mui/material'
import { callWorkSchema, type Run } from '@ochote/contract'
import { cornerName, countedLaps, intensityFor, isSlowKind, type LapKind, type Plan, paces, passesFrom, stopNow } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { dayQuery } from '../../data/api/queries.ts'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { useLiveDay } from '../../data/live/live-store.ts'
import { usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { CallPanel } from './call-panel.tsx'
import { adviceOf, useCornerTouches } from './corner-touches.ts'
import { type DrivingActions, drivingActions, lapTiles, mistakeTiles, runTiles } from './driving-tiles.ts'
import { EndPanel } from './end-panel.tsx'
import { nextCalls } from './next-call.ts'
import { adviceInWords, lapInWords, lapsLeft, runEventInWords } from './run-words.ts'
import { LastLine, TabletPage, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import { StopBar, TopLine } from './top-line.tsx'
import { usePosition } from './use-position.ts'
import { newPlanInWords, weatherInWords } from './weather-prompt.tsx'

/** Calls as they are where a day decided nothing. */
const plainCalls = callWorkSchema.parse({})

/** Why the car has to come in, if it has to. */
const whyComeIn = (
  events: ReturnType<typeof useDayEvents>['events'],
  run: Run,
  calledIn: boolean,
): { why: string | null; stopped: boolean } => {
  const stop = stopNow(events)
  if (stop) return { why: stop.why, stopped: true }
  const ended = events.some((e) => e.kind === 'restart' && e.decision === 'all-in' && e.at > run.startedAt)
  if (ended) return { why: say`The session has ended`, stopped: false }
  return { why: calledIn ? say`The pit wall calls this car in` : null, stopped: false }
}

/** The plan of a lap: slow laps have their own, at sighting pace. */
const useLapPlan = (run: Run, plan: Plan, kind: LapKind): Plan => {
  const settings = useMemo(() => ({ ...run.settings, pace: paces.sighting }), [run.settings])
  const slow = usePlan(isSlowKind(kind) ? settings : undefined).plan
  return isSlowKind(kind) && slow?.settings.pace === paces.sighting ? slow : plan
}

/** A position older than this no longer tells where the car is (s). */
const SILENT_S = 2

/** The ride-along while the car is on the road. */
export const Driving = ({ run, plan, onEnding }: { run: Run; plan: Plan; onEnding: (ending: boolean) => void }) => {
  const live = useLiveDay(run.dayId)
  const { position, atLine } = usePosition(live, run.id, plan)
  const events = useRunEvents(run.id)
  const dayEvents = useDayEvents(run.dayId)
  const day = useQuery(dayQuery(run.dayId))
  const touches = useCornerTouches(run, plan, live, position, events)
  const { corner, codes } = touches
  const talk = events.intensity ?? intensityFor(touches.record?.student)
  const [ending, setEnding] = useState(false)
  const { storing, answer } = useAnswer()
  const lap = position?.lap ?? 0
  const kind = events.kindOf(lap)
  const lapPlan = useLapPlan(run, plan, kind)
  const intensity = kind === 'cool-down' || kind === 'in' ? 'quiet' : talk
  const calls = useCallSheet(lapPlan, run.settings, { work: day.data?.plan.calls ?? plainCalls, intensity, studentId: run.studentId })
  const finished = position?.fix.inPits === true
  const over = ending || finished
  const hasPosition = position !== null && position.silent_s <= SILENT_S
  // Half a station is less than a picture shows.
  const drawn_m = position && !finished ? Math.round(position.station_m) : null
  const layers = useMemo(
    () => ({ marks: plan.marks, car_m: drawn_m, ...(corner ? { lit: { from_m: corner.start_m, to_m: corner.end_m } } : {}) }),
    [plan.marks, drawn_m, corner],
  )
  const { why: comeIn, stopped } = whyComeIn(dayEvents.events, run, events.calledIn !== null)
  const advice = adviceOf(run, plan, events, lap)
  const adviceWords = adviceInWords(advice)
  const weather = weatherInWords(dayEvents.events, run.settings.surface) ?? newPlanInWords(run.settings, day.data?.plan.settings)
  const actions: DrivingActions = {
    ...drivingActions(
      events,
      touches,
      { lap, kind, talk, why: adviceWords ?? '', spoilt: position ? passesFrom(plan, position) : [] },
      answer,
    ),
    atLine,
    end: () => setEnding(true),
  }

  useTabletKeys((key) => {
    const number = Number(key)
    if (number >= 1 && number <= 6 && !over) actions.log(codes[number - 1])
    else if (key === 'u' || key === 'Backspace') events.undoLast()
    else if (key === 'h' && !over) actions.heldWell()
    else if (key === 'q') actions.talkBy(-1)
    else if (key === 'm') actions.talkBy(1)
    else if (key === 'l' && !hasPosition) atLine()
    else if (key === 'e') setEnding((now) => !now)
    else return false
    return true
  })

  const next = position && calls ? nextCalls(lapPlan, calls.sheet, position.station_m, 2, position.fix.speed_mps) : []
  const silence =
    talk === 'quiet' ? 'quiet' : intensity === 'quiet' ? 'lap' : position === null ? 'no-position' : calls ? 'lap' : 'computing'
  const where = corner ? say`Just driven: ${corner.name}` : say`The first corner is still ahead`
  const lapWords = lapInWords(events.programme, lap, kind)
  return (
    <TabletPage label={say`Ride-along, ${run.studentName}`}>
      <TopLine
        run={run}
        position={position}
        live={live}
        words={lapWords}
        left={lapsLeft(events.programme, lap, kind)}
        pace={lapPlan.settings.pace}
      />
      {comeIn !== null && !finished && <StopBar why={comeIn} />}
      {!finished && !stopped && <CallPanel calls={next} plan={plan} silence={silence} />}
      <LapBand plan={plan} layers={layers} height={118} compact atAGlance label={say`Where the car is on the lap`} />
      <AdviceLine advice={adviceWords} weather={weather} />
      {over ? (
        <EndPanel run={run} events={events} finished={finished} onStay={() => setEnding(false)} onEnding={onEnding} />
      ) : (
        <TurnedPages
          pages={[
            { name: say`What went wrong`, label: where, body: <Tiles tiles={mistakeTiles(touches, actions.log)} /> },
            {
              name: say`This lap`,
              label: where,
              body: <Tiles tiles={lapTiles(corner, talk, { pace: advice.to, words: adviceWords ?? '' }, actions)} />,
            },
            {
              name: say`The run`,
              label: lapWords,
              body: <Tiles tiles={runTiles(hasPosition, countedLaps(events.all).of(lap).aside, actions)} />,
            },
          ]}
        />
      )}
      <LastLine words={storing ?? lastInWords(events, plan)} onUndo={events.lastUndoable ? events.undoLast : null} />
    </TabletPage>
  )
}

/** Advice on the pace and the weather; it takes room only where there is something to say. */
const AdviceLine = ({ advice, weather }: { advice: string | null; weather: string | null }) =>
  advice || weather ? (
    <Typography
      role="status"
      aria-label={say`Advice`}
      sx={{ fontSize: 'size.note', ...(weather ? { color: 'warning.main', fontWeight: 650 } : {}) }}
    >
      {[...(advice ? [say`Advice: ${advice}`] : []), ...(weather ? [weather] : [])].join(' · ')}
    </Typography>
  ) : null

/** The last entry, and the number in this run. */
const lastInWords = ({ lastUndoable, observations }: ReturnType<typeof useRunEvents>, plan: Plan): string =>
  lastUndoable
    ? say`${runEventInWords(lastUndoable, (id) => cornerName(plan.corners, id))} · ${observations.length} in this run`
    : say`Nothing logged yet`

/** A touch is answered at once; the answer stays only once the touch is stored on the device. */
const useAnswer = () => {
  const [storing, setStoring] = useState<string | null>(null)
  const answer = (words: string, stored: Promise<void>): void => {
    setStoring(`${words} …`)
    stored.then(
      () => setStoring(null),
      () => setStoring(say`Not saved: ${words}. This device is full; free some space and tap it again`),
    )
  }
  return { storing, answer }
}

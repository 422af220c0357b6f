import { Typography } from '@mui/material'
import { callWorkSchema, type Run } from '@ochote/contract'
import {
  carOfRun,
  cornerName,
  countedLaps,
  type IncidentKind,
  type Intensity,
  intensityFor,
  isDrivenKind,
  type LapKind,
  type MistakeCode,
  type MistakeGroup,
  mistakeGroups,
  type Plan,
  passesFrom,
  stopsAll,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { dayQuery } from '../../data/api/queries.ts'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { useLiveDay } from '../../data/live/live-store.ts'
import { say } from '../../language/say.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { mistakeName } from '../../shared/language/staff-words.ts'
import { CallPanel } from './call-panel.tsx'
import { ComesUp } from './comes-up.tsx'
import { adviceOf, useCornerTouches } from './corner-touches.ts'
import {
  type DrivingActions,
  drivingActions,
  groupPages,
  groupTiles,
  incidentPages,
  lapTiles,
  mistakeTiles,
  programmeTiles,
  runTiles,
} from './driving-tiles.ts'
import { EndPanel } from './end-panel.tsx'
import { FlagsInCar, flagsFor, meaningsOf } from './flags-in-car.tsx'
import { nextCalls } from './next-call.ts'
import { adviceInWords, incidentWords, lapInWords, lapsLeft, paceName, runEventInWords, talkWords } from './run-words.ts'
import { LastLine, TabletPage, type Tile, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import { StopBar, TopLine } from './top-line.tsx'
import { useTwoTouches } from './two-touches.ts'
import { useLapPlan } from './use-lap-plan.ts'
import { usePosition } from './use-position.ts'
import { useStop } from './use-stop.ts'
import { newPlanInWords, weatherInWords } from './weather-prompt.tsx'

/** Calls as they are where a day decided nothing. */
const plainCalls = callWorkSchema.parse({})

/** Why the car has to come in, if it has to. */
const whyComeIn = (
  stop: ReturnType<typeof useStop>,
  events: ReturnType<typeof useDayEvents>['events'],
  run: Run,
  calledIn: boolean,
): { why: string | null; stopped: boolean } => {
  if (stop) return { why: stop.why, stopped: true }
  const ended = events.some((e) => e.kind === 'restart' && e.decision === 'all-in' && e.at > run.startedAt)
  if (ended) return { why: say`The session has ended`, stopped: false }
  return { why: calledIn ? say`The pit wall calls this car in` : null, stopped: false }
}

/** How much is said on a lap: on a sighting lap everything is named, on the way home little; to whom wants quiet, nothing. */
const intensityOfLap = (kind: LapKind, talk: Intensity): Intensity => {
  if (talk === 'quiet') return 'quiet'
  if (kind === 'out' || kind === 'sighting') return 'driven'
  return kind === 'cool-down' || kind === 'in' ? 'guided' : talk
}

/** A position older than this no longer tells where the car is (s). */
const SILENT_S = 2

/** The ride-along while the car is on the road. */
export const Driving = ({ run, plan: base, onEnding }: { run: Run; plan: Plan; onEnding: (ending: boolean) => void }) => {
  const live = useLiveDay(run.dayId)
  const { position, atLine } = usePosition(live, run.id, base)
  const events = useRunEvents(run.id)
  const dayEvents = useDayEvents(run.dayId)
  const day = useQuery(dayQuery(run.dayId))
  const lap = position?.lap ?? 0
  const { kind, stepped: plan, driven: lapPlan, called } = useLapPlan(run, base, events, lap)
  const touches = useCornerTouches(run, plan, live, position, events)
  const { corner, codes } = touches
  const talk = events.talkOf(lap, intensityFor(touches.record?.student))
  const [ending, setEnding] = useState(false)
  const guard = useTwoTouches(() => setEnding(true))
  // A key opens the groups, the next one names one of them.
  const [byGroup, setByGroup] = useState(false)
  const [opened, setOpened] = useState<Opened | null>(null)
  const { storing, answer } = useAnswer()
  const intensity = intensityOfLap(kind, talk)
  const work = day.data?.plan.calls ?? plainCalls
  const calls = useCallSheet(lapPlan, run.settings, { work, intensity, studentId: run.studentId, lap: called })
  const finished = position?.fix.inPits === true
  const over = ending || finished
  const hasPosition = position !== null && position.silent_s <= SILENT_S
  // Half a station is less than a picture shows.
  const drawn_m = position && !finished ? Math.round(position.station_m) : null
  const layers = useMemo(
    () => ({ marks: plan.marks, car_m: drawn_m, ...(corner ? { lit: { from_m: corner.start_m, to_m: corner.end_m } } : {}) }),
    [plan.marks, drawn_m, corner],
  )
  const stop = useStop(run.dayId, dayEvents)
  const { why: comeIn, stopped } = whyComeIn(stop, dayEvents.events, run, events.calledIn !== null)
  const flags = flagsFor(dayEvents.events, [run.id], plan, hasPosition ? position.station_m : null)
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
    incident: () => setOpened({ kind: 'incident', own: true, cornerId: corner?.id ?? null }),
    end: guard.touch,
  }
  const logOther = (code: MistakeCode): void => {
    if (opened?.kind !== 'group') return
    setOpened(null)
    const { cornerId, lap: atLap } = opened
    answer(say`${mistakeName(code)} at ${cornerName(plan.corners, cornerId)}`, events.observe(cornerId, code, atLap, 'ride-along'))
  }
  const openGroup = (group: MistakeGroup): void => {
    // The corner that was seen when the group was opened is the one that is meant.
    if (corner) setOpened({ kind: 'group', group, cornerId: corner.id, lap: touches.lap })
  }
  const logIncident = (what: IncidentKind): void => {
    if (opened?.kind !== 'incident') return
    setOpened(null)
    const { own, cornerId } = opened
    const carNumber = own ? ((day.data && carOfRun(run, day.data.plan)?.number) ?? null) : null
    dayEvents.tell({
      kind: 'incident',
      what,
      cornerId,
      runId: own ? run.id : null,
      carNumber,
      action: stopsAll(what) ? 'stopped-all' : 'watched',
    })
    if (stopsAll(what) && !stop)
      dayEvents.tell({ kind: 'stop', why: `${incidentWords[what]}${cornerId ? say` at ${cornerName(plan.corners, cornerId)}` : ''}` })
  }
  const openPages = opened && pagesOpened(opened, plan, { logOther, logIncident, turn: () => setOpened(otherCar(opened)) })

  useTabletKeys((key) => {
    const number = Number(key)
    if (openPages) {
      const tile = openPages.flatMap((page) => page.tiles).find((t) => t.number === number)
      if (key === 'Escape') setOpened(null)
      else if (tile) tile.onTap()
      else return false
      return true
    }
    if (byGroup && number >= 1 && number <= mistakeGroups.length) {
      setByGroup(false)
      openGroup(mistakeGroups[number - 1])
    } else if (number >= 1 && number <= 6 && !over) actions.log(codes[number - 1])
    else if (key === 'o' && !over) setByGroup(true)
    else if (key === 'i' && !over) actions.incident()
    else if (key === 'Escape') setByGroup(false)
    else if (key === 'u' || key === 'Backspace') events.undoLast()
    else if (key === 'h' && !over) actions.heldWell()
    else if (key === 'q') actions.talkBy(-1)
    else if (key === 'm') actions.talkBy(1)
    else if (key === 'l' && !hasPosition) atLine()
    else if (key === 'e' && !over) guard.touch()
    else return false
    return true
  })

  const close = (): void => {
    setOpened(null)
    setByGroup(false)
  }
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
      {!finished && <FlagsInCar flags={flags} plan={plan} meanings={meaningsOf(day.data?.plan.flags)} />}
      {!finished && !stopped && <CallPanel calls={next} plan={plan} silence={silence} />}
      <LapBand plan={plan} layers={layers} height={118} compact atAGlance label={say`Where the car is on the lap`} />
      <AdviceLine advice={adviceWords} weather={weather} step={stepInWords(events.stepOf(lap), plan.settings.pace, kind)} />
      <ComesUp live={live} plan={plan} runId={run.id} station_m={hasPosition && !finished ? position.station_m : null} />
      {over ? (
        <EndPanel run={run} events={events} finished={finished} onEnding={onEnding} />
      ) : openPages ? (
        <TurnedPages key="opened" pages={openPages.map(({ name, label, tiles }) => ({ name, label, body: <Tiles tiles={tiles} /> }))} />
      ) : byGroup ? (
        <TurnedPages key="groups" pages={[{ name: say`Other`, label: where, body: <Tiles tiles={groupTiles(openGroup)} /> }]} />
      ) : (
        <TurnedPages
          key="driving"
          pages={[
            { name: say`What went wrong`, label: where, body: <Tiles tiles={mistakeTiles(touches, actions.log)} /> },
            { name: say`Other`, label: where, body: <Tiles tiles={groupTiles(openGroup)} /> },
            {
              name: say`This lap`,
              label: where,
              body: <Tiles tiles={lapTiles(corner, talk, { pace: advice.to, words: adviceWords ?? '' }, actions)} />,
            },
            {
              name: say`The laps`,
              label: lapWords,
              body: <Tiles tiles={programmeTiles(events.programme?.steps !== undefined, countedLaps(events.all).of(lap).aside, actions)} />,
            },
            { name: say`The run`, label: lapWords, body: <Tiles tiles={runTiles(hasPosition, guard.armed, actions)} /> },
          ]}
        />
      )}
      <LastLine
        words={storing ?? lastInWords(events, plan)}
        onUndo={events.lastUndoable ? events.undoLast : null}
        back={opened ? { words: say`Back`, onBack: close } : undefined}
      />
    </TabletPage>
  )
}

/** What was opened over the usual pages, with the corner that was seen then. */
type Opened =
  | { kind: 'group'; group: MistakeGroup; cornerId: string; lap: number }
  | { kind: 'incident'; own: boolean; cornerId: string | null }

const otherCar = (opened: Opened): Opened => (opened.kind === 'incident' ? { ...opened, own: !opened.own } : opened)

const pagesOpened = (
  opened: Opened,
  plan: Plan,
  on: { logOther: (code: MistakeCode) => void; logIncident: (what: IncidentKind) => void; turn: () => void },
): { name: string; label: string; tiles: Tile[] }[] => {
  const at = opened.cornerId ? cornerName(plan.corners, opened.cornerId) : say`the road`
  const pages =
    opened.kind === 'group'
      ? groupPages(opened.group, plan.vehicle.kind === 'motorcycle', on.logOther)
      : incidentPages(opened.own, on.turn, on.logIncident)
  const label = opened.kind === 'group' ? say`At ${at}` : say`Incident near ${at}`
  return pages.map((page) => ({ ...page, label }))
}

/** The step of the programme that this lap is driven by. */
const stepInWords = (step: ReturnType<ReturnType<typeof useRunEvents>['stepOf']>, pace: number, kind: LapKind): string | null =>
  step && isDrivenKind(kind) ? say`Step ${step.number + 1}: ${paceName(pace)}, ${talkWords[step.talk]}` : null

/** Advice on the pace, the step of the programme and the weather; it takes room only where there is something to say. */
const AdviceLine = ({ advice, weather, step }: { advice: string | null; weather: string | null; step: string | null }) =>
  advice || weather || step ? (
    <Typography
      role="status"
      aria-label={say`Advice`}
      sx={{ fontSize: 'size.note', ...(weather ? { color: 'warning.main', fontWeight: 650 } : {}) }}
    >
      {[...(advice ? [say`Advice: ${advice}`] : []), ...(weather ? [weather] : []), ...(step ? [step] : [])].join(' · ')}
    </Typography>
  ) : null

/** The last entry, and the number in this run. */
const lastInWords = ({ lastTold, lastUndoable, observations }: ReturnType<typeof useRunEvents>, plan: Plan): string =>
  lastTold
    ? say`${lastTold === lastUndoable ? '' : say`Elsewhere: `}${runEventInWords(lastTold, (id) => cornerName(plan.corners, id))} · ${observations.length} in this run`
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

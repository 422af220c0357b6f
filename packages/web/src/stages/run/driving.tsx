import { Typography } from '@mui/material'
import { callWorkSchema, type Run } from '@ochote/contract'
import { cornerName, intensities, intensityFor, type MistakeCode, mistakeName, type Plan, stopNow } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { dayQuery } from '../../data/api/queries.ts'
import { useDayEvents } from '../../data/events/use-day-events.ts'
import { useRunEvents } from '../../data/events/use-run-events.ts'
import { useLiveDay } from '../../data/live/live-store.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { CallPanel } from './call-panel.tsx'
import { adviceOf, useCornerTouches } from './corner-touches.ts'
import { EndPanel } from './end-panel.tsx'
import { nextCalls } from './next-call.ts'
import { adviceInWords, lapInWords, lapsLeft, paceName, runEventInWords, talkWords } from './run-words.ts'
import { LastLine, TabletPage, type Tile, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import { StopBar, TopLine } from './top-line.tsx'
import { usePosition } from './use-position.ts'
import { weatherInWords } from './weather-prompt.tsx'

/** Calls as they are where a day decided nothing. */
const plainCalls = callWorkSchema.parse({})

/** The ride-along while the car is on the road. */
export const Driving = ({ run, plan, onEnding }: { run: Run; plan: Plan; onEnding: (ending: boolean) => void }) => {
  const live = useLiveDay(run.dayId)
  const { position, atLine } = usePosition(live, run.id, plan)
  const events = useRunEvents(run.id)
  const dayEvents = useDayEvents(run.dayId)
  const day = useQuery(dayQuery(run.dayId))
  const touches = useCornerTouches(run, plan, live, position, events)
  const { corner, codes, lap: cornerLap } = touches
  const talk = events.intensity ?? intensityFor(touches.record?.student)
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

  const { keeping, answer } = useAnswer()
  const log = (code: MistakeCode | undefined): void => {
    if (corner && code)
      answer(
        `${mistakeName(code)} at ${corner.name}`,
        events.observe(corner.id, code, cornerLap, 'ride-along', touches.evidenceOf(code) !== undefined),
      )
  }
  const heldWell = (): void => {
    if (corner)
      answer(`Held well at ${corner.name}`, events.tell({ kind: 'held-well', cornerId: corner.id, lap: cornerLap, via: 'ride-along' }))
  }
  const talkBy = (step: -1 | 1): void => {
    const next = intensities[intensities.indexOf(talk) + step]
    if (next) void events.talk(next)
  }
  const traffic = (way: 'went-by' | 'let-by'): void => void events.tell({ kind: 'traffic', lap, way, cornerId: corner?.id ?? null })
  const cool = (): void => void events.tell({ kind: 'lap-kind', lap: kind === 'out' ? 1 : lap + 1, lapKind: 'cool-down' })

  useTabletKeys((key) => {
    const number = Number(key)
    if (number >= 1 && number <= 6 && !over) log(codes[number - 1])
    else if (key === 'u' || key === 'Backspace') events.undoLast()
    else if (key === 'h' && !over) heldWell()
    else if (key === 'q') talkBy(-1)
    else if (key === 'm') talkBy(1)
    else if (key === 'l' && (position === null || position.silent_s > 2)) atLine()
    else if (key === 'e') setEnding((now) => !now)
    else return false
    return true
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
      onTap: () => log(code),
    }
  })
  const lapTiles: Tile[] = [
    { id: 'held', words: `Held well${corner ? ` at ${corner.name}` : ''}`, onTap: heldWell },
    advice.to !== null
      ? {
          id: 'pace',
          words: adviceWords ?? '',
          tone: 'shown',
          onTap: () => void events.tell({ kind: 'pace', lap, pace: advice.to as number, why: adviceWords ?? '' }),
        }
      : { id: 'cool', words: 'Cool-down next lap', tone: 'quiet', onTap: cool },
    { id: 'quieter', words: 'Quieter', under: `now: ${talkWords[talk]}`, tone: 'quiet', onTap: () => talkBy(-1) },
    { id: 'more', words: 'More calls', under: `now: ${talkWords[talk]}`, tone: 'quiet', onTap: () => talkBy(1) },
    { id: 'went-by', words: 'Passed a car', tone: 'quiet', onTap: () => traffic('went-by') },
    { id: 'let-by', words: 'Let a car by', tone: 'quiet', onTap: () => traffic('let-by') },
  ]
  const runTiles: Tile[] = [
    { id: 'cool', words: 'Cool-down next lap', tone: 'quiet', onTap: cool },
    {
      id: 'in',
      words: 'In next lap',
      tone: 'quiet',
      onTap: () => void events.tell({ kind: 'lap-kind', lap: lap + 1, lapKind: 'in' }),
    },
    ...(position === null || position.silent_s > 2
      ? [{ id: 'line', words: 'At the line now', under: 'no position: goes on by the plan', onTap: atLine }]
      : []),
    { id: 'end', words: 'End the run', tone: 'quiet', onTap: () => setEnding(true) },
  ]
  const where = corner ? `Log for ${corner.name}` : 'The first corner is still ahead'
  return (
    <TabletPage label={`Ride-along, ${run.studentName}`}>
      <TopLine
        run={run}
        position={position}
        live={live}
        words={lapInWords(events.programme, lap, kind)}
        left={lapsLeft(events.programme, lap, kind)}
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
            { name: 'The run', label: lapInWords(events.programme, lap, kind), body: <Tiles tiles={runTiles} /> },
          ]}
        />
      )}
      <LastLine
        words={
          keeping ??
          (events.lastUndoable
            ? `${runEventInWords(events.lastUndoable, (id) => cornerName(plan.corners, id))} · ${events.observations.length} in this run`
            : 'Nothing logged yet')
        }
        onUndo={events.lastUndoable ? events.undoLast : null}
      />
    </TabletPage>
  )
}

/** A touch is answered at once; the answer stays as it is only when the touch is on the disk. */
const useAnswer = () => {
  const [keeping, setKeeping] = useState<string | null>(null)
  const answer = (words: string, kept: Promise<void>): void => {
    setKeeping(`${words} …`)
    kept.then(
      () => setKeeping(null),
      () => setKeeping(`Not saved: ${words}. This device is full; free some space and tap it again`),
    )
  }
  return { keeping, answer }
}

const tileWords = (code: MistakeCode, again: boolean): string => {
  const name = mistakeName(code)
  return again ? `Same again: ${name.toLowerCase()}` : name
}

import { Box, Stack, Typography } from '@mui/material'
import {
  cornerName,
  distanceAhead,
  gapsOnTrack,
  isWithin,
  lapOfRotation,
  lapOfTouch,
  likelyMistakes,
  type MistakeCode,
  markOf,
  type Plan,
  planRisks,
  planTimeAt,
  type RotationPlace,
  rotationPlaces,
  rotationTable,
  SAFE_GAP_S,
} from '@ochote/core'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { type CarNow, useLiveValue } from '../../data/live/live-store.ts'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { correctionFor, mistakeName } from '../../shared/language/staff-words.ts'
import { SyncNote } from '../../shared/sync-note.tsx'
import { LeadFollowStart } from './lead-follow-start.tsx'
import { cornerBehind } from './next-call.ts'
import { onTrack } from './on-track.tsx'
import { runEventInWords, shownInWords } from './run-words.ts'
import { LastLine, TabletPage, type Tile, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import { callName, type TrackDay, type TrackRun } from './use-track-day.ts'

/** One student in the train: where the car is, and the gap to the car ahead in it. */
type TrainMember = TrackRun & { car: CarNow | undefined; gap_s: number | null }

/** Gap between cars of a train that closes up to rotate (s). */
const CLOSED_UP_S = 1.5
/** Distance before the stretch at which the leader is asked to rotate (m). */
const ASKED_BEFORE_M = 250

/** The train behind the leader as the last rotation left it, with gaps. */
const useTrain = (track: TrackDay): TrainMember[] => {
  const cars = useLiveValue(track.live, (l) => l.cars())
  const ids = track.events.findLast((e) => e.kind === 'row')?.runIds ?? []
  return useMemo(() => {
    const train = ids.flatMap((id) => track.open.filter((r) => r.run.id === id))
    const onRoad = train.map((r) => [...cars.values()].find((car) => car.runId === r.run.id))
    return train.map((r, i) => {
      const car = onRoad[i]
      const ahead = onRoad[i - 1]
      if (!car || !ahead) return { ...r, car, gap_s: null }
      const between = gapsOnTrack(
        track.plan,
        [car, ahead].map((c) => ({ id: c.carNumber, station_m: c.station_m, lap: c.lap, lapTime_s: c.lapTime_s })),
      ).find((g) => g.id === car.carNumber)
      // More than half a lap is no gap in a train: the car ahead has not come by yet.
      return { ...r, car, gap_s: between && between.gap_s < car.lapTime_s / 2 ? between.gap_s : null }
    })
  }, [ids, track.open, track.plan, cars])
}

/** The next rotation, and whether it is due now. */
const useRotation = (track: TrackDay, train: readonly TrainMember[]) => {
  const laps = Math.max(2, train[0]?.state.programme?.coached ?? 6)
  const every = laps >= 2 * train.length ? 2 : 1
  const table = useMemo(() => (train.length >= 2 ? rotationTable(firstTrain(track, train), laps, every) : []), [track, train, laps, every])
  const places = useMemo(() => rotationPlaces(track.plan, train.length - 1, CLOSED_UP_S), [track.plan, train.length])
  const lap = train[0]?.car?.lap ?? 0
  const now = train.map((r) => r.run.id).join(' ')
  const place: RotationPlace | undefined = places[0]
  // Turns are as long as promised only where a place before the line takes up the row of the lap to come.
  const share = place ? planTimeAt(track.plan, place.from_m) / track.plan.profile.lapTime_s : 0
  const wanted = table.find((t) => t.lap === Math.max(1, lapOfRotation(lap, share)))?.row ?? []
  const next = table.find((t) => t.lap > Math.max(1, lap) && t.row[0] !== train[0]?.run.id)
  const due = wanted.length > 0 && wanted.join(' ') !== now && wanted[0] !== train[0]?.run.id
  const station_m = train[0]?.car?.station_m
  const near =
    place !== undefined &&
    station_m !== undefined &&
    (isWithin(station_m, place.from_m, place.from_m + place.length_m - place.needed_m, track.plan.circuit.length_m) ||
      distanceAhead(station_m, place.from_m, track.plan.circuit.length_m) < ASKED_BEFORE_M)
  return { table, place, lap, laps, due, near, next }
}

/** The train as it was when the group set off: turns are counted from there. */
const firstTrain = (track: TrackDay, train: readonly TrainMember[]): string[] => {
  const ids = new Set(train.map((r) => r.run.id))
  const first = track.events.find((e) => e.kind === 'row' && e.runIds.some((id) => ids.has(id)))
  return first?.kind === 'row' ? first.runIds.filter((id) => ids.has(id)) : train.map((r) => r.run.id)
}

const LeadFollowScreen = ({ track }: { track: TrackDay }) => {
  const train = useTrain(track)
  if (train.length < 2) return <LeadFollowStart track={track} />
  return <Leading track={track} train={train} />
}

/** Actions of a touch by the leader. */
const useTrainActions = (track: TrackDay, train: readonly TrainMember[], lap: number) => {
  const everyone = train.map((r) => r.run.id)
  const [first, second] = train
  const rotateWords = say`${callName(first.run)} to the back, ${callName(second.run)} up behind me`
  const turn = (): void => track.tell({ kind: 'row', runIds: [...everyone.slice(1), everyone[0]], lap: Math.max(1, lap + 1) })
  const tellAll = (text: string): void => track.tell({ kind: 'radio', to: everyone, text })
  return {
    rotateWords,
    turn,
    tellAll,
    rotate: (): void => {
      turn()
      tellAll(say`Rotate: ${rotateWords}`)
    },
  }
}
type TrainActions = ReturnType<typeof useTrainActions>

const Leading = ({ track, train }: { track: TrackDay; train: readonly TrainMember[] }) => {
  const { plan } = track
  const rotation = useRotation(track, train)
  const actions = useTrainActions(track, train, rotation.lap)
  const layers = useMemo(() => ({ live: track.live }), [track.live])
  const [chosen, setChosen] = useState<string | null>(null)
  const person = train.find((r) => r.run.id === chosen)
  const last = lastOf(track, train)
  const touches = useTouchesOf(track, person)
  const log = (code: MistakeCode | undefined): void => {
    if (!person || !code || !touches.cornerId) return
    const { cornerId, lap } = touches
    const shown = touches.evidenceOf(code) !== undefined
    void logRunEvent(person.run.id, { kind: 'observation', cornerId, code, lap, via: 'lead-follow', shown })
    setChosen(null)
  }
  useTabletKeys((key) => {
    const number = Number(key)
    if (person && number >= 1 && number <= 6) log(touches.codes[number - 1])
    else if (!person && number >= 1 && number <= train.length) setChosen(train[number - 1].run.id)
    else if (key === 'Escape') setChosen(null)
    else if (key === 'r' && !person) actions.turn()
    else if (key === 'u') last?.undo()
    else return false
    return true
  })
  return (
    <TabletPage label={say`Lead-follow`}>
      <Stack direction="row" spacing={5} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography component="h1" sx={{ fontSize: 'size.lead', fontWeight: 700, fontStretch: '84%' }}>
          {rotation.lap < 1 ? say`Out lap` : rotation.lap > rotation.laps ? say`In lap` : say`Lap ${rotation.lap} of ${rotation.laps}`}
        </Typography>
        <Typography sx={{ fontSize: 'size.text' }}>{say`Behind me: ${callName(train[0].run)}`}</Typography>
        <Typography sx={{ fontSize: 'size.note' }}>{turnsInWords(rotation.table, train)}</Typography>
        <Box sx={{ flex: 1 }} />
        <SyncNote />
      </Stack>
      <RotationLine plan={plan} rotation={rotation} words={actions.rotateWords} stop={track.stop?.why ?? null} />
      <LapBand plan={plan} layers={layers} height={118} compact atAGlance label={say`The train on the lap`} />
      {person ? (
        <PersonPages plan={plan} person={person} touches={touches} onLog={log} />
      ) : (
        <TrainPages plan={plan} train={train} rotation={rotation} actions={actions} last={last} onChoose={setChosen} />
      )}
      <LastLine
        words={person ? say`Touch what went wrong` : (last?.line ?? say`Nothing logged yet`)}
        onUndo={last ? last.undo : null}
        back={person ? { words: say`Back to the train`, onBack: () => setChosen(null) } : undefined}
      />
    </TabletPage>
  )
}

type PersonPagesProps = {
  plan: Plan
  person: TrainMember
  touches: ReturnType<typeof useTouchesOf>
  onLog: (code: MistakeCode) => void
}

/** The likely mistakes of one student. */
const PersonPages = ({ plan, person, touches: { cornerId, codes, evidenceOf }, onLog }: PersonPagesProps) => {
  const tiles = codes.map((code, i): Tile => {
    const evidence = evidenceOf(code)
    return {
      id: code,
      number: i + 1,
      words: mistakeName(code),
      under: evidence,
      tone: evidence ? 'shown' : 'plain',
      onTap: () => onLog(code),
    }
  })
  const where = cornerId ? say` at ${cornerName(plan.corners, cornerId)}` : say`: no corner yet`
  return <TurnedPages pages={[{ name: say`What went wrong`, label: `${callName(person.run)}${where}`, body: <Tiles tiles={tiles} /> }]} />
}

/** The leader's usual words to everyone. */
const radioWords = [
  say`Close up, three seconds`,
  say`More room, three seconds at least`,
  say`Slower this lap: look, don’t push`,
  say`Pits next time by`,
] as const

type TrainPagesProps = {
  plan: Plan
  train: readonly TrainMember[]
  rotation: ReturnType<typeof useRotation>
  actions: TrainActions
  last: ReturnType<typeof lastOf>
  onChoose: (runId: string) => void
}

/** The students in their order, and the words for the radio. */
const TrainPages = ({ plan, train, rotation, actions, last, onChoose }: TrainPagesProps) => {
  const navigate = useNavigate()
  const trainTiles = train.map(
    (r, i): Tile => ({
      id: r.run.id,
      number: i + 1,
      words: `${callName(r.run)}${i === 0 ? say` · behind me` : ''}`,
      under: placeInWords(plan, r, i),
      tone: isTooNear(r) ? 'shown' : i === 0 ? 'plain' : 'quiet',
      onTap: () => onChoose(r.run.id),
    }),
  )
  const rotateTile: Tile = {
    id: 'rotate',
    words: say`Rotate now`,
    under: actions.rotateWords,
    tone: rotation.due && rotation.near ? 'shown' : 'quiet',
    onTap: actions.rotate,
  }
  const correction: Tile[] = last?.words
    ? [
        {
          id: 'correction',
          words: last.words,
          under: say`to ${last.name}, heard by everyone`,
          tone: 'plain',
          onTap: () => actions.tellAll(`${last.name}: ${last.words}`),
        },
      ]
    : []
  const radioTiles: Tile[] = [
    ...radioWords.map((text): Tile => ({ id: text, words: text, tone: 'quiet', onTap: () => actions.tellAll(text) })),
    ...correction,
    { id: 'leave', words: say`Leave this screen`, under: say`the runs go on`, tone: 'quiet', onTap: () => navigate('/run') },
  ]
  return (
    <TurnedPages
      pages={[
        { name: say`The train`, label: say`Who, and then what`, body: <Tiles tiles={[...trainTiles, rotateTile]} /> },
        { name: say`Radio`, label: say`Say to everyone`, body: <Tiles tiles={radioTiles} /> },
      ]}
    />
  )
}

const isTooNear = ({ gap_s }: TrainMember): boolean => gap_s !== null && gap_s < SAFE_GAP_S

const placeInWords = (plan: Plan, { car, gap_s }: TrainMember, position: number): string => {
  if (!car) return say`no position yet`
  const corner = cornerBehind(plan, car.station_m)
  const where = corner ? say`past ${corner.name}` : say`on the way`
  if (position === 0) return where
  if (gap_s === null) return say`${where} · gap not known`
  return say`${gap_s.toFixed(1)} s behind${gap_s < SAFE_GAP_S ? say` · too close` : ''} · ${where}`
}

const turnsInWords = (table: ReturnType<typeof rotationTable>, train: readonly TrainMember[]): string =>
  train
    .map((r) => `${callName(r.run)} ${table.filter((t) => t.row[0] === r.run.id).length}`)
    .join(', ')
    .replace(/^/, 'Laps behind me: ')

const RotationLine = ({
  plan,
  rotation,
  words,
  stop,
}: {
  plan: Plan
  rotation: ReturnType<typeof useRotation>
  words: string
  stop: string | null
}) => {
  const { place, due, near, next } = rotation
  const urgent = stop !== null || (due && near)
  const after = place && cornerBehind(plan, place.from_m)
  const stretch = place
    ? say`after ${after?.name ?? say`the line`}: takes ${metres(place.needed_m)} of ${metres(place.length_m)} at ${speedInWords(place.going_mps)}`
    : say`no stretch is long enough for this train: rotate in the pit lane`
  const text = stop
    ? say`Stopped: ${stop}. Bring them in.`
    : due
      ? `${near ? say`Rotate now` : say`Rotate`}: ${words}, ${stretch}`
      : next
        ? say`Next rotation from lap ${next.lap}, ${stretch}`
        : say`No more rotations in this run`
  return (
    <Box
      role="status"
      aria-label={say`Rotation`}
      sx={{
        fontSize: 'size.text',
        fontWeight: 640,
        px: 4,
        py: 2,
        borderLeft: 'call',
        borderColor: urgent ? 'primary.main' : 'text.primary',
        backgroundColor: stop ? 'error.main' : urgent ? 'primary.main' : 'var(--sheet)',
        color: urgent ? 'primary.contrastText' : 'text.primary',
      }}
    >
      {text}
    </Box>
  )
}

/** The mistakes one touch away for one student: at the corner that this student's own car passed last. */
const useTouchesOf = (track: TrackDay, person: TrainMember | undefined) => {
  const passes = useLiveValue(track.live, (l) => l.passes())
  return useMemo(() => {
    const corner = person?.car ? cornerBehind(track.plan, person.car.station_m) : undefined
    const pass = passes.findLast((p) => p.runId === person?.run.id)
    const shown = pass && pass.cornerId === corner?.id ? pass.findings : []
    const codes = corner
      ? likelyMistakes([], corner.id, markOf(track.plan.marks, corner.id, 'brake') !== undefined, {
          shown: shown.map((f) => f.code),
          thisRun: person?.state.observations.filter((o) => o.cornerId === corner.id).map((o) => o.code) ?? [],
          risks: planRisks(track.plan, corner.id),
        })
      : []
    return {
      cornerId: corner?.id ?? null,
      lap: corner && person?.car ? lapOfTouch(track.plan, corner.id, person.car) : 0,
      codes,
      evidenceOf: (code: MistakeCode) => shownInWords(shown, code),
    }
  }, [track.plan, person, passes])
}

/** The last entry of this train, by time, and its undo. */
const lastOf = (track: TrackDay, train: readonly TrainMember[]) => {
  const all = train.flatMap((r) => (r.state.lastUndoable ? [{ r, event: r.state.lastUndoable }] : []))
  const last = all.sort((a, b) => (a.event.at < b.event.at ? -1 : 1)).at(-1)
  if (!last) return null
  const { r, event } = last
  return {
    name: callName(r.run),
    words: event.kind === 'observation' ? correctionFor(event.code) : null,
    line: `${callName(r.run)}: ${runEventInWords(event, (id) => cornerName(track.plan.corners, id))}`,
    undo: () => void logRunEvent(r.run.id, { kind: 'undo', undoes: event.id }),
  }
}

/** Lead-follow: a train of two to five cars behind the leader. */
export const LeadFollow = onTrack(LeadFollowScreen)

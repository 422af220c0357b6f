import { Box, Stack, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import {
  atStation,
  cornerName,
  lapOfTouch,
  likelyMistakes,
  type MistakeCode,
  markOf,
  type Plan,
  planRisks,
  type RotationPlace,
  type rotationTable,
  SAFE_GAP_S,
} from '@ochote/core'
import { useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { call } from '../../data/api/api-client.ts'
import { queryClient } from '../../data/api/queries.ts'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { useLiveValue } from '../../data/live/live-store.ts'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { correctionFor, mistakeName } from '../../shared/language/staff-words.ts'
import { SyncNote } from '../../shared/sync-note.tsx'
import { FlagsInCar, flagsFor, meaningsOf } from './flags-in-car.tsx'
import { LeadFollowStart } from './lead-follow-start.tsx'
import { MyBrake } from './my-brake.tsx'
import { cornerBehind } from './next-call.ts'
import { onTrack } from './on-track.tsx'
import { runEventInWords, shownInWords } from './run-words.ts'
import { LastLine, TabletPage, type Tile, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import { useTwoTouches } from './two-touches.ts'
import { callName, type TrackDay } from './use-track-day.ts'
import { type TrainMember, useRotation, useTrain } from './use-train.ts'

/** Ends the runs of the whole row on a second touch, and leads to its debrief. */
const useEndOfRow = (train: readonly TrainMember[]) => {
  const navigate = useNavigate()
  return useTwoTouches(() => {
    const runIds = train.map((r) => r.run.id)
    const ended = runIds.map(async (runId) => {
      // The end is kept here first; without the server the logs are made when it hears of it.
      await logRunEvent(runId, { kind: 'ended' })
      await call(api.endRun, { params: { runId } }).catch(() => {})
    })
    void Promise.all(ended).then(() => queryClient.invalidateQueries({ queryKey: ['runs'] }))
    navigate(`/run/lead-follow/debrief?runs=${runIds.join(',')}`)
  })
}

const LeadFollowScreen = ({ track }: { track: TrackDay }) => {
  const train = useTrain(track)
  if (train.length < 2) return <LeadFollowStart track={track} />
  return <Leading track={track} train={train} />
}

/** Actions of a touch by the leader. */
const useTrainActions = (track: TrackDay, train: readonly TrainMember[], lap: number, place: RotationPlace | undefined) => {
  const everyone = train.map((r) => r.run.id)
  const [first, second] = train
  // Whoever drops back clears the side on which the line runs there.
  const side = place && sideToClear(track.plan, place)
  const rotateWords = `${say`${callName(first.run)} to the back, ${callName(second.run)} up behind me`}${
    side === undefined ? '' : side === 'left' ? say`, ${callName(first.run)} keeps left` : say`, ${callName(first.run)} keeps right`
  }`
  const leader = track.events.findLast((e) => e.kind === 'row')?.leader
  const turn = (): void =>
    void track.tell({
      kind: 'row',
      runIds: [...everyone.slice(1), everyone[0]],
      lap: Math.max(1, lap + 1),
      ...(leader === undefined ? {} : { leader }),
    })
  const tellAll = (text: string): void => void track.tell({ kind: 'radio', to: everyone, text })
  return {
    rotateWords,
    tellAll,
    rotate: (): void => {
      turn()
      tellAll(say`Rotate: ${rotateWords}`)
    },
  }
}
/** The side to which the car that drops back goes: away from the line, which the others drive by on. */
const sideToClear = ({ circuit, line }: Plan, { from_m, length_m }: RotationPlace): 'left' | 'right' =>
  atStation(circuit, line.offset_m, from_m + length_m / 2) > 0 ? 'right' : 'left'
type TrainActions = ReturnType<typeof useTrainActions>

const Leading = ({ track, train }: { track: TrackDay; train: readonly TrainMember[] }) => {
  const { plan } = track
  const rotation = useRotation(track, train)
  const actions = useTrainActions(track, train, rotation.lap, rotation.place)
  const layers = useMemo(() => ({ live: track.live }), [track.live])
  const [chosen, setChosen] = useState<string | null>(null)
  const person = train.find((r) => r.run.id === chosen)
  const last = lastOf(track, train)
  const end = useEndOfRow(train)
  const runIds = train.map((r) => r.run.id)
  const flags = flagsFor(track.events, runIds, plan, train[0].car?.station_m ?? null)
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
    else if (key === 'r' && !person) actions.rotate()
    else if (key === 'u') last?.undo()
    else if (key === 'e' && !person) end.touch()
    else if (!person && radioOf(last, radioWords).some((said) => said.key === key))
      actions.tellAll(radioOf(last, radioWords).find((said) => said.key === key)?.text ?? '')
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
        <MyBrake track={track} />
        <Box sx={{ flex: 1 }} />
        <SyncNote />
      </Stack>
      <RotationLine plan={plan} rotation={rotation} words={actions.rotateWords} stop={track.stop?.why ?? null} />
      <FlagsInCar flags={flags} plan={plan} meanings={meaningsOf(track.day.plan.flags)} />
      <LapBand plan={plan} layers={layers} height={118} compact atAGlance label={say`The train on the lap`} />
      {person ? (
        <PersonPages plan={plan} person={person} touches={touches} onLog={log} />
      ) : (
        <TrainPages plan={plan} train={train} rotation={rotation} actions={actions} last={last} end={end} onChoose={setChosen} />
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

/** Something to say to everyone, by touch or by its key. */
type Said = { key: string; text: string; under?: string }

/** The leader's usual words to everyone. */
const radioWords: readonly Said[] = [
  { key: 'c', text: say`Close up, three seconds` },
  { key: 'm', text: say`More room, three seconds at least` },
  { key: 's', text: say`Slower this lap: look, don’t push` },
  { key: 'b', text: say`My brake lights are the lesson: brake where they come on` },
  { key: 'p', text: say`Pits next time by` },
]

/** The usual words, and the correction for whom something was logged last, heard by all. */
const radioOf = (last: ReturnType<typeof lastOf>, words: readonly Said[]): Said[] => [
  ...words,
  ...(last?.words ? [{ key: 'x', text: `${last.name}: ${last.words}`, under: say`to ${last.name}, heard by everyone` }] : []),
]

type TrainPagesProps = {
  plan: Plan
  train: readonly TrainMember[]
  rotation: ReturnType<typeof useRotation>
  actions: TrainActions
  last: ReturnType<typeof lastOf>
  end: ReturnType<typeof useEndOfRow>
  onChoose: (runId: string) => void
}

/** The students in their order, and the words for the radio. */
const TrainPages = ({ plan, train, rotation, actions, last, end, onChoose }: TrainPagesProps) => {
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
  const radioTiles = radioOf(last, radioWords).map(
    ({ key, text, under }): Tile => ({
      id: key,
      words: text,
      under: [under, say`key ${key}`].filter(Boolean).join(' · '),
      tone: under ? 'plain' : 'quiet',
      onTap: () => actions.tellAll(text),
    }),
  )
  const rowTiles: Tile[] = [
    end.armed
      ? { id: 'end', words: say`Touch again: end for all`, under: say`with a debrief of the row`, tone: 'shown', onTap: end.touch }
      : { id: 'end', words: say`End for all`, under: say`two touches`, tone: 'quiet', onTap: end.touch },
    { id: 'leave', words: say`Leave this screen`, under: say`the runs go on`, tone: 'quiet', onTap: () => navigate('/run') },
  ]
  // Six students fill the page: then the rotation stands with what ends the row, and on its key.
  const rowIsFull = trainTiles.length > 5
  return (
    <TurnedPages
      pages={[
        {
          name: say`The train`,
          label: say`Who, and then what`,
          body: <Tiles tiles={rowIsFull ? trainTiles : [...trainTiles, rotateTile]} />,
        },
        { name: say`Radio`, label: say`Say to everyone`, body: <Tiles tiles={radioTiles} /> },
        { name: say`The row`, label: say`The row as a whole`, body: <Tiles tiles={rowIsFull ? [rotateTile, ...rowTiles] : rowTiles} /> },
      ]}
    />
  )
}

const isTooNear = ({ gap_s }: TrainMember): boolean => gap_s !== null && gap_s < SAFE_GAP_S

const placeInWords = (plan: Plan, { car, gap_s }: TrainMember, position: number): string => {
  if (!car) return say`no position yet`
  const corner = cornerBehind(plan, car.station_m)
  const where = corner ? say`past ${corner.name}` : say`on the way`
  if (position === 0)
    return gap_s === null ? where : say`${gap_s.toFixed(1)} s behind me${gap_s < SAFE_GAP_S ? say` · too close` : ''} · ${where}`
  if (gap_s === null) return say`${where} · gap not known`
  return say`${gap_s.toFixed(1)} s behind${gap_s < SAFE_GAP_S ? say` · too close` : ''} · ${where}`
}

const turnsInWords = (table: ReturnType<typeof rotationTable>, train: readonly TrainMember[]): string =>
  say`Laps behind me: ${train.map((r) => `${callName(r.run)} ${table.filter((t) => t.row[0] === r.run.id).length}`).join(', ')}`

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

/** The newest rotation of this train, which one touch takes back; the row that set off is none. */
const rotationOf = (track: TrackDay, train: readonly TrainMember[]) => {
  const rows = track.events.filter((e) => e.kind === 'row').filter((e) => e.runIds.includes(train[0].run.id))
  return rows.length > 1 ? (rows.at(-1) ?? null) : null
}

/** The last entry of this train, by time, and its undo. */
const lastOf = (track: TrackDay, train: readonly TrainMember[]) => {
  const all = train.flatMap((r) => (r.state.lastUndoable ? [{ r, event: r.state.lastUndoable }] : []))
  const last = all.sort((a, b) => (a.event.at < b.event.at ? -1 : 1)).at(-1)
  const rotation = rotationOf(track, train)
  if (rotation && (!last || rotation.at > last.event.at))
    return {
      name: callName(train[0].run),
      words: null,
      line: say`Rotated: ${callName(train[0].run)} is behind me`,
      undo: () => {
        track.tell({ kind: 'undo', undoes: rotation.id })
        track.tell({ kind: 'radio', to: train.map((r) => r.run.id), text: say`No rotation: back to the row before` })
      },
    }
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

import { Box, Button, Stack, Typography } from '@mui/material'
import {
  type Corner,
  cornerOf,
  distanceAhead,
  flagsUp,
  lapOfTouch,
  likelyMistakes,
  type MistakeCode,
  markOf,
  markOfMistake,
  type Plan,
  planRisks,
} from '@ochote/core'
import { useMemo, useState } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { type CarNow, useLiveValue } from '../../data/live/live-store.ts'
import { inside, say } from '../../language/say.ts'
import { lengthOf, lengthUnit } from '../../language/staff-units.ts'
import { callNames } from '../../shared/calls/call-words.ts'
import { mistakeName } from '../../shared/language/staff-words.ts'
import { SyncNote } from '../../shared/sync-note.tsx'
import { onTrack } from './on-track.tsx'
import { lapName, shownInWords } from './run-words.ts'
import { LastLine, pagesOf, TabletPage, type Tile, Tiles, TurnedPages, useTabletKeys } from './tablet.tsx'
import { tallyAt } from './tally.ts'
import { callName, type TrackDay, type TrackRun } from './use-track-day.ts'

/** A car at this corner: with its run where one is known. `lap`: the pass that a touch is about. */
type AtCorner = { carNumber: string; run: TrackRun | undefined; lap: number }

/** Standing at one corner: every car that passes gets one touch. */
const CornerPostScreen = ({ track }: { track: TrackDay }) => {
  const [params, setParams] = useSearchParams()
  const corner = cornerOf(track.plan.corners, params.get('corner'))
  return corner ? (
    <AtOneCorner track={track} corner={corner} />
  ) : (
    <ChooseCorner plan={track.plan} onChoose={(id) => setParams({ corner: id }, { replace: true })} />
  )
}

const ChooseCorner = ({ plan, onChoose }: { plan: Plan; onChoose: (cornerId: string) => void }) => {
  const navigate = useNavigate()
  return (
    <Box component="main" sx={{ p: 4 }}>
      <Typography variant="title">{say`Corner post: which corner are you at?`}</Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(220px, 1fr))', gap: 3, my: 4 }}>
        {plan.corners.map((c) => (
          <Button key={c.id} variant="outlined" sx={{ justifyContent: 'flex-start' }} onClick={() => onChoose(c.id)}>
            {`${c.id.slice(1)} ${c.name}`}
          </Button>
        ))}
      </Box>
      <Button variant="outlined" onClick={() => navigate('/run')}>
        {say`Back`}
      </Button>
    </Box>
  )
}

/** Cars by how they stand to the corner: the one that passed last first. */
const usePassing = (track: TrackDay, corner: Corner) => {
  const cars = useLiveValue(track.live, (l) => l.cars())
  return useMemo(() => {
    const { length_m } = track.plan.circuit
    const apex_m = markOf(track.plan.marks, corner.id, 'apex')?.station_m ?? corner.peak_m
    const running = [...cars.values()].filter((c) => !c.inPits)
    const behind = (c: CarNow): number => distanceAhead(apex_m, c.station_m, length_m)
    const ahead = (c: CarNow): number => distanceAhead(c.station_m, apex_m, length_m)
    const passed = [...running].sort((a, b) => behind(a) - behind(b))[0]
    const next = [...running].sort((a, b) => ahead(a) - ahead(b))[0]
    return {
      passed: passed && (passed.lap > 0 || passed.station_m > apex_m) ? passed : undefined,
      lapOf: (c: CarNow): number => lapOfTouch(track.plan, corner.id, c),
      next: next ? { car: next, in_m: ahead(next) } : undefined,
    }
  }, [cars, track.plan, corner])
}

const AtOneCorner = ({ track, corner }: { track: TrackDay; corner: Corner }) => {
  const { plan, open, day } = track
  const navigate = useNavigate()
  const { passed, next, lapOf } = usePassing(track, corner)
  const [named, setNamed] = useState<string | null>(null)
  const [last, setLast] = useState<string | null>(null)
  const passes = useLiveValue(track.live, (l) => l.passes())
  const runOf = (number: string): TrackRun | undefined => open.find((r) => r.carNumber === number)
  const nextRun = next && (runOf(next.car.carNumber) ?? open.find((r) => r.run.id === next.car.runId))
  const nextName = nextRun && callName(nextRun.run)
  const live = passed && (runOf(passed.carNumber) ?? open.find((r) => r.run.id === passed.runId))
  // A car named by hand is the one meant, until it has been logged.
  const car: AtCorner | null = named
    ? { carNumber: named, run: runOf(named), lap: lapOfNamed(track, named, corner.id) }
    : passed
      ? { carNumber: passed.carNumber, run: live, lap: lapOf(passed) }
      : null
  const done = car?.run ? touchedAt(car.run, corner.id, car.lap) : null
  const pass = car?.run && passes.findLast((p) => p.runId === car.run?.run.id && p.cornerId === corner.id)
  const shown = pass && car && pass.lap >= car.lap ? pass.findings : []
  const codes = useMemo(
    () => likelyMistakes([], corner.id, markOf(plan.marks, corner.id, 'brake') !== undefined, { risks: planRisks(plan, corner.id) }, 5),
    [plan, corner.id],
  )
  const keep = (words: string): void => {
    setLast(words)
    setNamed(null)
  }
  const log = (code: MistakeCode | null): void => {
    if (!car) return
    const words = say`Car ${car.carNumber}${car.run ? ` · ${callName(car.run.run)}` : ''}: ${code ? inside(mistakeName(code)) : say`held well`}`
    if (!car.run) {
      track.tell({ kind: 'car-seen', carNumber: car.carNumber, cornerId: corner.id, code })
      keep(say`${words} (no run is known for this car; kept by its number)`)
      return
    }
    const runId = car.run.run.id
    // One touch a pass: a second one corrects the first.
    if (done) void logRunEvent(runId, { kind: 'undo', undoes: done })
    const common = { cornerId: corner.id, lap: car.lap, via: 'corner-post' as const }
    void logRunEvent(runId, code ? { kind: 'observation', code, ...common } : { kind: 'held-well', ...common })
    keep(words)
  }
  const undo = (): void => {
    undoLastAt(track, corner.id)
    setLast(null)
  }
  useTabletKeys((key) => {
    const number = Number(key)
    if (number >= 1 && number <= 5) log(codes[number - 1])
    else if (key === '6' || key === 'h') log(null)
    else if (key === 'u') undo()
    else return false
    return true
  })
  const tiles: Tile[] = [
    ...codes.map((code, i): Tile => {
      const under = shownInWords(shown, code)
      return {
        id: code,
        number: i + 1,
        words: mistakeName(code),
        under,
        tone: under ? 'shown' : 'plain',
        onTap: () => log(code),
      }
    }),
    { id: 'held', number: 6, words: say`Held well`, tone: 'quiet', onTap: () => log(null) },
  ]
  const numbers = day.plan.cars.map((c) => c.number)
  const numberTile = (number: string): Tile => {
    const run = runOf(number)
    return {
      id: number,
      words: say`Car ${number}`,
      under: run ? callName(run.run) : say`no run`,
      tone: named === number ? 'chosen' : 'quiet',
      onTap: () => setNamed(number),
    }
  }
  const numberTiles: Tile[] = [
    ...numbers.map(numberTile),
    { ...numberTile('another'), words: say`Another car`, under: say`kept without a run` },
    { id: 'corner', words: say`Another corner`, tone: 'quiet', onTap: () => navigate('/run/corner-post') },
    { id: 'leave', words: say`Leave this screen`, tone: 'quiet', onTap: () => navigate('/run') },
  ]
  const numberPages = pagesOf(numberTiles).map((tiles, k) => ({
    name: k === 0 ? say`By number` : say`By number ${k + 1}`,
    label: say`Which car?`,
    body: <Tiles tiles={tiles} />,
  }))
  const upHere = flagsUp(track.events).filter((flag) => flag.cornerId === corner.id && !flag.runId)
  const flagTiles = day.plan.flags.map(({ name, meaning }): Tile => {
    const up = upHere.some((flag) => flag.flag === name)
    return {
      id: `flag ${name}`,
      words: up ? say`Take ${name} down` : name,
      under: up ? say`shown here now` : meaning,
      tone: up ? 'shown' : 'quiet',
      onTap: () => track.tell({ kind: 'flag', flag: name, cornerId: corner.id, up: !up }),
    }
  })
  const flagPages = pagesOf(flagTiles).map((tiles, k) => ({
    name: k === 0 ? say`Flags` : say`Flags ${k + 1}`,
    label: upHere.length > 0 ? say`Shown here: ${upHere.map((flag) => flag.flag).join(', ')}` : say`No flag shown here`,
    body: <Tiles tiles={tiles} />,
  }))
  return (
    <TabletPage label={say`Corner post at ${corner.name}`}>
      <Stack direction="row" spacing={5} useFlexGap sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography component="h1" sx={{ fontSize: 'size.lead', fontWeight: 700, fontStretch: '84%' }}>
          {corner.name}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <SyncNote />
      </Stack>
      <Stack
        direction="row"
        spacing={4}
        useFlexGap
        aria-label={say`Next car`}
        role="status"
        sx={{ alignItems: 'baseline', flexWrap: 'wrap' }}
      >
        <Box className="figures" sx={{ fontSize: 'size.title', fontWeight: 720, lineHeight: 1 }}>
          {next ? say`Car ${next.car.carNumber}` : say`No car on the way`}
        </Box>
        {next && (
          <Box className="figures" sx={{ fontSize: 'size.lead' }}>
            {say`${nextName ? `${nextName}, ` : ''}${Math.round(lengthOf(next.in_m) / 10) * 10} ${lengthUnit} away`}
          </Box>
        )}
      </Stack>
      <TallyLines track={track} corner={corner} />
      <TurnedPages
        pages={[
          {
            name: say`What you saw`,
            label: car ? carInWords(car, done !== null) : say`Waiting for the first car`,
            body: <Tiles tiles={tiles} />,
          },
          ...numberPages,
          // One swipe the other way from the first page.
          ...flagPages,
        ]}
      />
      <LastLine words={last ?? (track.stop ? say`Stopped: ${track.stop.why}` : say`Nothing logged yet`)} onUndo={last ? undo : null} />
    </TabletPage>
  )
}

const carInWords = ({ carNumber, run, lap }: AtCorner, done: boolean): string =>
  say`Car ${carNumber}${run ? ` · ${callName(run.run)}, ${lapName(lap)}` : say` · no run known`}${done ? say` · already logged` : ''}`

/** The touch that a pass has had already, by the id of its event. */
const touchedAt = ({ state }: TrackRun, cornerId: string, lap: number): string | null =>
  [...state.touched, ...state.heldWell].find((e) => e.via === 'corner-post' && e.cornerId === cornerId && e.lap === lap)?.id ?? null

/** By number and without positions, passes are counted: each touch is of the next lap. */
const lapOfNamed = (track: TrackDay, carNumber: string, cornerId: string): number => {
  const run = track.open.find((r) => r.carNumber === carNumber)
  if (!run) return 0
  const laps = [...run.state.touched, ...run.state.heldWell]
    .filter((e) => e.via === 'corner-post' && e.cornerId === cornerId)
    .map((e) => e.lap)
  return Math.max(0, ...laps) + 1
}

/** Takes back the newest touch of this post, whoever it was about. */
const undoLastAt = (track: TrackDay, cornerId: string): void => {
  const ofRuns = track.open.flatMap((r) =>
    [...r.state.touched, ...r.state.heldWell]
      .filter((e) => e.via === 'corner-post' && e.cornerId === cornerId)
      .map(({ id, at }) => ({ at, takeBack: () => void logRunEvent(r.run.id, { kind: 'undo', undoes: id }) })),
  )
  const ofOthers = track.events.flatMap((e) =>
    e.kind === 'car-seen' && e.cornerId === cornerId ? [{ at: e.at, takeBack: () => track.tell({ kind: 'undo', undoes: e.id }) }] : [],
  )
  const last = [...ofRuns, ...ofOthers].sort((a, b) => (a.at < b.at ? -1 : 1)).at(-1)
  last?.takeBack()
}

/** What is looked at first where most get something wrong: the cone of the mark that they miss. */
const suspectInWords = (code: MistakeCode, corner: Corner): string => {
  const kind = markOfMistake(code)
  if (!kind) return say`Look at the briefing and the calls first.`
  return say`Look at the cone first: ${inside(callNames[kind])} of ${corner.name}; then its call and the briefing.`
}

/** The most frequent mistakes here today, at a glance. */
const TallyLines = ({ track, corner }: { track: TrackDay; corner: Corner }) => {
  const tally = useMemo(() => tallyAt(track.all, track.events, corner.id), [track.all, track.events, corner.id])
  const [first] = tally.mistakes
  return (
    <Box
      role="status"
      aria-label={say`Tally`}
      sx={{
        px: 4,
        py: 1,
        borderLeft: 'note',
        borderColor: first?.most ? 'warning.main' : 'text.primary',
        backgroundColor: 'var(--sheet)',
      }}
    >
      <Box sx={{ fontSize: 'size.note', fontWeight: 680 }}>
        {first
          ? first.most
            ? say`Most of them: ${inside(mistakeName(first.code))}, ${first.students} of ${tally.students} students. ${suspectInWords(first.code, corner)}`
            : say`${mistakeName(first.code)}: ${first.students} of ${tally.students} students`
          : tally.passes === 0
            ? say`No touch here yet today`
            : say`Nothing wrong here so far`}
      </Box>
      <Box sx={{ fontSize: 'size.note' }}>
        {[
          say`${tally.passes} ${tally.passes === 1 ? say`time` : say`times`} through`,
          say`held well ${tally.held}`,
          ...tally.mistakes.slice(0, 4).map((m) => `${inside(mistakeName(m.code))} ${m.count}`),
        ].join(' · ')}
      </Box>
    </Box>
  )
}

/** Corner post: one corner, cars as they come. */
export const CornerPost = onTrack(CornerPostScreen)

import { Box, Button, Stack, TableBody, TableCell, TableHead, TableRow, Typography } from '@mui/material'
import {
  flagsUp,
  formatLapTime,
  gapsOnTrack,
  lineSign,
  type Meeting,
  markOf,
  meetings,
  type Plan,
  SAFE_GAP_S,
  type TrackCar,
} from '@ochote/core'
import { useEffect, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import type { CarNow } from '../../data/live/live-store.ts'
import { say } from '../../language/say.ts'
import { speedInWords } from '../../language/staff-units.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { RowTable } from '../../shared/row-table.tsx'
import { StageHead } from '../../shared/stage-head.tsx'
import { SyncNote } from '../../shared/sync-note.tsx'
import { DayChanges } from './day-changes.tsx'
import { FlagsAndStops, StopAll, StopDecision } from './flags-and-stops.tsx'
import { cornerBehind } from './next-call.ts'
import { inShell } from './on-track.tsx'
import { ReleasePanel } from './release-panel.tsx'
import { clockInWords, incidentWords, lapInWords, paceName, wallClock } from './run-words.ts'
import { callName, type TrackDay, type TrackRun } from './use-track-day.ts'
import { WeatherPrompt } from './weather-prompt.tsx'
import { type Overtake, useOvertakes } from './who-passed.ts'

/** Numbers in tables change this often (ms): an eye reads no faster, and drawings move on their own. */
const READ_EVERY_MS = 500

/** The cars as they were a moment ago, for what is read and not watched. */
const useCarsToRead = (track: TrackDay): ReadonlyMap<string, CarNow> => {
  const [cars, setCars] = useState(() => track.live.cars())
  useEffect(() => {
    const timer = setInterval(() => setCars(track.live.cars()), READ_EVERY_MS)
    return () => clearInterval(timer)
  }, [track.live])
  return cars
}

const numberOf = (r: TrackRun): string => r.carNumber ?? r.run.studentName.slice(0, 12)

/** Initials of the students whose car has the number of another live run, by run: both would be called in by one word. */
const initialsOf = (open: readonly TrackRun[]): Map<string, string> =>
  new Map(
    open
      .filter((r) => open.some((other) => other !== r && numberOf(other) === numberOf(r)))
      .map((r) => {
        const parts = r.run.studentName.split(/[ -]/)
        return [r.run.id, parts.map((part) => part.charAt(0)).join('')]
      }),
  )

const PitWallScreen = ({ track }: { track: TrackDay }) => {
  const { plan } = track
  const cars = useCarsToRead(track)
  const initials = useMemo(() => initialsOf(track.open), [track.open])
  const signs = useMemo(() => signsOf(plan, track.events), [plan, track.events])
  const layers = useMemo(() => ({ live: track.live, initials, notes: signs }), [track.live, initials, signs])
  const passed = useOvertakes(track.live, plan)
  const onRoad = useMemo(
    (): TrackCar[] =>
      [...cars.values()]
        .filter((c) => !c.inPits)
        .map((c) => ({ id: c.carNumber, station_m: c.station_m, lap: c.lap, lapTime_s: c.lapTime_s })),
    [cars],
  )
  const gaps = useMemo(() => new Map(gapsOnTrack(plan, onRoad).map((g) => [g.id, g])), [plan, onRoad])
  const coming = useMemo(() => meetings(plan, onRoad).slice(0, 5), [plan, onRoad])
  return (
    <Stack spacing={3}>
      <StageHead stage="Run">
        <SyncNote />
      </StageHead>
      <StopAll track={track} />
      {track.stop && <StopDecision track={track} stop={track.stop} />}
      <WeatherPrompt track={track} />
      <LapBand plan={plan} layers={layers} height={104} compact label={say`All cars on the lap`} />
      <Box sx={columns('minmax(0, 4fr) minmax(0, 9fr)')}>
        <Stack spacing={3}>
          <GroundView
            plan={plan}
            layers={layers}
            height={restOfWindow(520, 300)}
            zoomToCorner={false}
            scaled={false}
            label={say`All cars, north up`}
          />
          <Meetings track={track} coming={coming} />
          <Passed plan={plan} passed={passed} />
        </Stack>
        <Stack spacing={3} sx={{ minWidth: 0 }}>
          <RunsTable track={track} cars={cars} gaps={gaps} initials={initials} />
          <ReleasePanel track={track} />
          <BoardAndFlag track={track} cars={cars} />
          <FlagsAndStops track={track} />
          <DayChanges track={track} />
        </Stack>
      </Box>
    </Stack>
  )
}

const RunsTable = ({
  track,
  cars,
  gaps,
  initials,
}: {
  track: TrackDay
  cars: ReadonlyMap<string, CarNow>
  gaps: ReadonlyMap<string, { aheadId: string; gap_s: number }>
  initials: ReadonlyMap<string, string>
}) => {
  if (track.open.length === 0)
    return <Typography sx={{ py: 4 }}>{say`No cars out. Start runs here under Runs or in Day, then release them.`}</Typography>
  return (
    <RowTable
      aria-label={say`Cars and runs`}
      maxHeight={restOfWindow(560)}
      sx={{ '& td, & th': { whiteSpace: 'nowrap', px: 2 }, '& td': { fontSize: 'size.head' } }}
    >
      <TableHead>
        <TableRow>
          {[say`Car`, say`Student`, say`Lap`, say`Clock`, say`Speed`, say`Last lap`, say`Gap ahead`].map((name) => (
            <TableCell key={name}>{name}</TableCell>
          ))}
          <TableCell component="td" />
        </TableRow>
      </TableHead>
      <TableBody>
        {track.open.map((r) => {
          const last = cars.get(numberOf(r))
          const car = last?.runId === r.run.id ? last : undefined
          const gap = car && gaps.get(car.carNumber)
          const near = gap !== undefined && gap.gap_s < SAFE_GAP_S
          const lap = car?.lap ?? 0
          return (
            <TableRow key={r.run.id}>
              <TableCell className="figures" sx={{ fontWeight: 700, ...(initials.has(r.run.id) ? { color: 'warning.main' } : {}) }}>
                {initials.has(r.run.id) ? say`${numberOf(r)} ${initials.get(r.run.id)}: number twice` : numberOf(r)}
              </TableCell>
              <TableCell>
                <Link to={`/run/${r.run.id}`} style={{ color: 'inherit' }}>
                  {r.run.studentName}
                </Link>
              </TableCell>
              <TableCell>{`${stateInWords(r, car, lap)} · ${paceName(r.state.pace?.pace ?? r.run.settings.pace)}`}</TableCell>
              <TableCell className="figures">{car ? clockInWords(car.time_s) : '–'}</TableCell>
              <TableCell className="figures">{car && !car.inPits ? speedInWords(car.speed_mps) : '–'}</TableCell>
              <TableCell className="figures">{car && lap > 1 ? formatLapTime(car.lapTime_s, 1) : '–'}</TableCell>
              <TableCell className="figures" sx={near ? { color: 'warning.main', fontWeight: 700 } : {}}>
                {gap ? say`${gap.gap_s.toFixed(1)} s to ${gap.aheadId}` : '–'}
                {near && <Box sx={{ fontSize: 'size.note', lineHeight: 1 }}>{say`too close`}</Box>}
              </TableCell>
              <TableCell>
                {r.state.calledIn ? (
                  say`called in`
                ) : (
                  <Button
                    size="small"
                    variant="outlined"
                    disabled={!car || car.inPits}
                    onClick={() => {
                      void logRunEvent(r.run.id, { kind: 'called-in' })
                      track.tell({ kind: 'radio', to: [r.run.id], text: say`Car ${numberOf(r)}, ${callName(r.run)}: pits next time by` })
                    }}
                  >
                    {say`Call in`}
                  </Button>
                )}
              </TableCell>
            </TableRow>
          )
        })}
      </TableBody>
    </RowTable>
  )
}

const stateInWords = ({ state }: TrackRun, car: CarNow | undefined, lap: number): string => {
  if (!car) return state.programme ? say`out, no position yet` : say`in the pit lane`
  if (car.inPits) return say`back in the pits`
  return `${lapInWords(state.programme, lap, state.kindOf(lap))}${car.fault ? say` · positions ${car.fault}` : ''}`
}

type Sign = { station_m: number; label: string; tone: 'own' | 'danger' }

/** An incident stays drawn this long (ms). */
const INCIDENT_MS = 15 * 60_000

/** Flags that are up and incidents of the last quarter of an hour, at their places; what has no place is drawn at the line. */
export const signsOf = (plan: Pick<Plan, 'corners' | 'marks'>, events: TrackDay['events'], now = Date.now()): Sign[] => {
  const stationOf = (cornerId: string | null): number => {
    const corner = plan.corners.find((c) => c.id === cornerId)
    return corner ? (markOf(plan.marks, corner.id, 'apex')?.station_m ?? corner.peak_m) : 0
  }
  const flags = flagsUp(events)
    .filter((flag) => !flag.runId)
    .map((flag) => ({ station_m: stationOf(flag.cornerId), label: flag.flag, tone: 'danger' as const }))
  const incidents = events.flatMap((e) =>
    e.kind === 'incident' && now - Date.parse(e.at) < INCIDENT_MS
      ? [
          {
            station_m: stationOf(e.cornerId),
            label: `${incidentWords[e.what]}${e.carNumber ? ` ${e.carNumber}` : ''}`,
            tone: 'own' as const,
          },
        ]
      : [],
  )
  // What is at one place is told together: words over words cannot be read.
  const byPlace = new Map<number, Sign>()
  for (const sign of [...flags, ...incidents]) {
    const there = byPlace.get(sign.station_m)
    byPlace.set(sign.station_m, there ? { ...there, label: `${there.label}, ${sign.label}` } : sign)
  }
  return [...byPlace.values()]
}

/** Who is shown the board or the flag next at the line, of those on timed laps. */
const BoardAndFlag = ({ track, cars }: { track: TrackDay; cars: ReadonlyMap<string, CarNow> }) => {
  const due = track.open
    .flatMap((r) => {
      const car = [...cars.values()].find((c) => c.runId === r.run.id && !c.inPits)
      const { programme } = r.state
      if (!car || !programme?.timed) return []
      const laps = programme.sighting + (programme.warmUp ?? 0) + programme.coached + programme.timed
      const { station_m, lap, lapTime_s } = car
      return lineSign(track.plan, { id: numberOf(r), station_m, lap, lapTime_s }, laps) ?? []
    })
    .sort((a, b) => a.in_s - b.in_s)
  if (due.length === 0) return null
  return (
    <Box component="section" aria-label={say`Board and flag`}>
      <Typography variant="head">{say`Board and flag`}</Typography>
      {due.map(({ id, sign, in_s }) => (
        <Typography key={id} className="figures" sx={in_s < 15 ? { color: 'warning.main', fontWeight: 700 } : {}}>
          {sign === 'board' ? say`Car ${id}: board, one more lap, in ${clockInWords(in_s)}` : say`Car ${id}: flag in ${clockInWords(in_s)}`}
        </Typography>
      ))}
    </Box>
  )
}

/** Who went by whom, the newest first. */
const Passed = ({ plan, passed }: { plan: Plan; passed: readonly Overtake[] }) =>
  passed.length === 0 ? null : (
    <Box component="section" aria-label={say`Who passed whom`}>
      <Typography variant="head">{say`Who passed whom`}</Typography>
      {passed.map((one) => (
        <Typography key={`${one.at} ${one.by} ${one.of}`} className="figures">
          {say`${wallClock(new Date(one.at).toISOString())}  car ${one.by} passed car ${one.of} after ${cornerBehind(plan, one.station_m)?.name ?? say`the line`}`}
        </Typography>
      ))}
    </Box>
  )

/** Cars that catch others, with time and place. */
const Meetings = ({ track, coming }: { track: TrackDay; coming: readonly Meeting[] }) => (
  <Box component="section" aria-label={say`Who catches whom`}>
    <Typography variant="head">{say`Who catches whom`}</Typography>
    {coming.length === 0 && <Typography>{say`No gap closes within ten minutes at these laps.`}</Typography>}
    {coming.map((m) => {
      const corner = cornerBehind(track.plan, m.station_m)
      const where = say`after ${corner?.name ?? say`the line`}, lap ${m.lap}`
      return (
        <Typography key={`${m.behindId} ${m.aheadId}`} sx={m.in_s === 0 ? { color: 'warning.main', fontWeight: 650 } : {}}>
          {m.in_s === 0
            ? say`Car ${m.behindId} is too close to car ${m.aheadId} now, ${where}`
            : say`Car ${m.behindId} reaches car ${m.aheadId} in ${clockInWords(m.in_s)}, ${where}`}
        </Typography>
      )
    })}
    <Typography color="text.secondary" sx={{ fontSize: 'size.note' }}>
      {say`Under ${SAFE_GAP_S} s at each one’s own lap time. Where passing is allowed at all is for the venue’s rules and both instructors.`}
    </Typography>
  </Box>
)

/** Pit wall: all cars, gaps, releases, flags, stops and incidents. */
export const PitWall = inShell(PitWallScreen)

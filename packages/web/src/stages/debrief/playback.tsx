import { Box, Button, Stack, Typography } from '@mui/material'
import { atStation, type Plan, placeAt, stationInLap } from '@ochote/core'
import { useEffect, useMemo, useRef } from 'react'
import { say } from '../../language/say.ts'
import type { LapClock } from '../../shared/drive/lap-clock.ts'
import { groundOffsetPath } from '../../shared/ground/ground-geometry.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import type { ChartLap } from './trace-columns.ts'

/** Both cars are shown where they were at the same place of the road, or after the same time of the lap. */
export type Match = 'place' | 'time'

const rates: readonly [number, string][] = [
  [0.25, '¼'],
  [0.5, '½'],
  [1, '1'],
  [2, '2'],
]
const STEP_S = 0.1

/** Plays a lap against another: the clock moves both cars and the shared cursor. */
export const PlaybackBar = ({
  clock,
  match,
  onMatch,
  name,
}: {
  clock: LapClock
  match: Match
  onMatch: (match: Match) => void
  name: string
}) => (
  <Stack
    direction="row"
    spacing={2}
    useFlexGap
    role="group"
    aria-label={say`Playback`}
    sx={{ flexWrap: 'wrap', alignItems: 'center', my: 2 }}
  >
    <Button size="small" variant="contained" onClick={() => clock.play(!clock.playing)}>
      {clock.playing ? say`Pause` : say`Play`}
    </Button>
    <Button size="small" variant="outlined" aria-label={say`0.1 s back`} onClick={() => clock.seek(clock.now() - STEP_S)}>
      −0.1 s
    </Button>
    <Button size="small" variant="outlined" aria-label={say`0.1 s forward`} onClick={() => clock.seek(clock.now() + STEP_S)}>
      +0.1 s
    </Button>
    {rates.map(([rate, words]) => (
      <Button
        key={rate}
        size="small"
        variant="outlined"
        aria-pressed={clock.rate === rate}
        aria-label={say`Speed ${words}`}
        sx={{ minWidth: 36, px: 1 }}
        onClick={() => clock.setRate(rate)}
      >
        {`×${words}`}
      </Button>
    ))}
    <Typography variant="text" sx={{ ml: 3 }}>{say`${name} at the same`}</Typography>
    {(['place', 'time'] as const).map((kind) => (
      <Button key={kind} size="small" variant="outlined" aria-pressed={match === kind} onClick={() => onMatch(kind)}>
        {kind}
      </Button>
    ))}
  </Stack>
)

/** While a lap plays the cursor follows this often (ms); the cars move with every frame. */
const CURSOR_MS = 120

/** Distance within which cursor and clock count as in sync (m). */
const SAME_M = 0.5

/** Ties the clock to the shared cursor: playing and stepping move the cursor, a cursor moved by hand moves the clock. */
export const useClockCursor = (clock: LapClock, plan: Plan, lap: ChartLap | null): void => {
  const { station_m, moveTo } = useLapSelection()
  const shownAt = useRef<number | null>(null)
  const cursor = useRef(station_m)
  cursor.current = station_m
  useEffect(() => {
    if (!lap) return
    let last = 0
    return clock.listen((time_s) => {
      const at = performance.now()
      if (clock.playing && at - last < CURSOR_MS) return
      last = at
      const here_m = stationInLap(plan.circuit, lap, time_s)
      // Before anybody moved anything the cursor is nowhere, and stays there.
      if (!clock.playing && (cursor.current === null || Math.abs(here_m - cursor.current) < SAME_M)) return
      shownAt.current = here_m
      moveTo(here_m)
    })
  }, [clock, plan, lap, moveTo])
  useEffect(() => {
    if (!lap || station_m === null || station_m === shownAt.current || clock.playing) return
    clock.seek(atStation(plan.circuit, lap.time_s, station_m))
  }, [station_m, clock, plan, lap])
}

const CAR_M = 4.2
/** Wheels stand this share of a car's width from its middle. */
const TRACK_SHARE = 0.42

/** Both cars on the ground view, and in a corner the paths of their wheels. Moved by frames; nothing is drawn anew. */
export const TwoCars = ({
  clock,
  plan,
  lap,
  reference,
  match,
  wheels,
  pixel,
}: {
  clock: LapClock
  plan: Plan
  lap: ChartLap
  reference: ChartLap
  match: Match
  wheels: boolean
  pixel: number
}) => {
  const { circuit, vehicle } = plan
  const ownCar = useRef<SVGGElement>(null)
  const other = useRef<SVGGElement>(null)
  useEffect(() => {
    const put = (node: SVGGElement | null, driven: ChartLap, s_m: number): void => {
      const at = placeAt(circuit, s_m, atStation(circuit, driven.offset_m, s_m))
      const ahead = placeAt(circuit, s_m + 2, atStation(circuit, driven.offset_m, s_m + 2))
      const turn = (-Math.atan2(ahead.y_m - at.y_m, ahead.x_m - at.x_m) * 180) / Math.PI
      node?.setAttribute('transform', `translate(${at.x_m.toFixed(2)} ${(-at.y_m).toFixed(2)}) rotate(${turn.toFixed(1)})`)
    }
    return clock.listen((time_s) => {
      const s_m = stationInLap(circuit, lap, time_s)
      put(ownCar.current, lap, s_m)
      put(
        other.current,
        reference,
        match === 'place' ? s_m : stationInLap(circuit, reference, Math.min(time_s, reference.lapTime_s - 0.01)),
      )
    })
  }, [clock, circuit, lap, reference, match])
  const paths = useMemo(() => {
    if (!wheels) return []
    const beside = (driven: ChartLap, side: 1 | -1) =>
      groundOffsetPath(
        circuit,
        driven.offset_m.map((n) => n + side * TRACK_SHARE * vehicle.width_m),
      )
    return [lap, reference].flatMap((driven) => [beside(driven, 1), beside(driven, -1)].map((d) => ({ d, own: driven === lap })))
  }, [wheels, circuit, vehicle, lap, reference])
  // Far out a car is smaller than a dot can be seen: it is drawn at least this long.
  const length = Math.max(CAR_M, 13 * pixel)
  const width = Math.max(vehicle.width_m, 6 * pixel)
  const body = <rect x={-length / 2} y={-width / 2} width={length} height={width} />
  return (
    <g pointerEvents="none">
      {paths.map((p) => (
        <path
          key={p.d}
          d={p.d}
          fill="none"
          stroke={p.own ? 'var(--drivenOnRoad)' : 'var(--plannedOnRoad)'}
          strokeWidth={1.1 * pixel}
          strokeDasharray={p.own ? undefined : `${5 * pixel} ${4 * pixel}`}
        />
      ))}
      <g
        ref={other}
        fill="var(--plannedOnRoad)"
        stroke="var(--ink)"
        strokeWidth={1.5 * pixel}
        strokeDasharray={`${3 * pixel} ${2 * pixel}`}
        data-car="reference"
      >
        {body}
      </g>
      <g ref={ownCar} fill="var(--drivenOnRoad)" stroke="var(--ink)" strokeWidth={1.5 * pixel} data-car="own">
        {body}
        <path d={`M${length / 2} 0 L${0.2 * length} ${-width / 2} V${width / 2} Z`} fill="var(--ink)" />
      </g>
    </g>
  )
}

/** Which car is which. */
export const CarsLegend = ({ lap, reference }: { lap: string; reference: string }) => (
  <Typography variant="text" color="text.secondary">
    <Box
      component="span"
      sx={{
        display: 'inline-block',
        width: 18,
        height: 9,
        backgroundColor: 'var(--drivenOnRoad)',
        border: 'hair',
        borderColor: 'text.primary',
        mr: 1,
      }}
    />
    {lap}
    <Box
      component="span"
      sx={{
        display: 'inline-block',
        width: 18,
        height: 9,
        backgroundColor: 'var(--plannedOnRoad)',
        border: 'hair',
        borderStyle: 'dashed',
        borderColor: 'text.primary',
        ml: 4,
        mr: 1,
      }}
    />
    {reference}
  </Typography>
)

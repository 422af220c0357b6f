import { Box, Button } from '@mui/material'
import { atStation, type Plan, signedDistance, stationInLap } from '@ochote/core'
import { type ReactNode, useMemo, useRef, useState } from 'react'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import type { LapClock } from '../../shared/drive/lap-clock.ts'
import { labelsOf } from '../../shared/seat/seat-labels.ts'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { useSeenMarks } from '../../shared/seat/use-seen-marks.ts'
import { visibilities } from '../../shared/seat/visibilities.ts'
import type { Match } from './playback.tsx'
import { StillBoard } from './still.tsx'
import type { ChartLap } from './trace-columns.ts'

/** The plan's line is there to compare with; marks stand at the road. */
const SHOWN = { line: true, marks: true, braking: false } as const
/** Debriefs know no cones: those of the day may lie elsewhere by now. */
const noCones: readonly never[] = []

/** A driven lap from its seat, with the other one as a car ahead or behind: at the same place of the road, or after the same time. */
export const LapsFromSeat = ({
  plan,
  clock,
  driven,
  reference,
  match,
  fallback,
  keep,
}: {
  plan: Plan
  clock: LapClock
  driven: ChartLap
  reference: ChartLap
  match: Match
  fallback: ReactNode
  /** Keeps a picture of the moment with a word; null where the page is only read. */
  keep: { runId: string; lap: number; onKept: (told: { station_m: number; text: string; pictureId: string }) => void } | null
}) => {
  const picture = useRef<(() => HTMLCanvasElement) | null>(null)
  const [still, setStill] = useState<{ canvas: HTMLCanvasElement; station_m: number } | null>(null)
  const { circuit } = plan
  const seen = useSeenMarks(plan)
  const labels = useMemo(() => labelsOf(plan, seen), [plan, seen])
  const at = useMemo(
    () => ({
      clock,
      driven,
      ghost: (own_m: number, time_s: number) => {
        const after = (s: number): number => stationInLap(circuit, reference, Math.min(s, reference.lapTime_s - 0.01))
        const station_m = match === 'time' ? after(time_s) : (own_m + AHEAD_M) % circuit.length_m
        // From within the other car nothing could be seen.
        const isBeside = Math.abs(signedDistance(own_m, station_m, circuit.length_m)) < BESIDE_M
        return isBeside ? null : { station_m, offset_m: atStation(circuit, reference.offset_m, station_m) }
      },
    }),
    [clock, driven, reference, match, circuit],
  )
  const take = (): void => {
    clock.play(false)
    if (picture.current) setStill({ canvas: picture.current(), station_m: stationInLap(circuit, driven, clock.now()) })
  }
  return (
    <Box>
      <SeatView
        picture={picture}
        plan={plan}
        cones={noCones}
        at={at}
        layers={SHOWN}
        visibility={visibilities.clear}
        labels={labels}
        height={340}
        label={
          match === 'time'
            ? say`${driven.name} from the seat; the other car is ${reference.name} after the same time`
            : say`${driven.name} from the seat; the car ahead drives where ${reference.name} drove`
        }
        fallback={fallback}
      />
      {keep && (
        <Button size="small" variant="outlined" onClick={take} sx={{ mt: 1 }}>
          {say`Draw on this picture`}
        </Button>
      )}
      {keep && still && (
        <StillBoard
          still={still.canvas}
          runId={keep.runId}
          place={say`Lap ${keep.lap}, ${metres(still.station_m)}`}
          onLeave={() => setStill(null)}
          onKept={(pictureId, text) => {
            keep.onKept({ station_m: still.station_m, text, pictureId })
            setStill(null)
          }}
        />
      )}
    </Box>
  )
}

/** Nearer than this both cars are in one place (m). */
const BESIDE_M = 5
/** At the same place the other car would be the own one: it is shown this far ahead (m), on its own path. */
const AHEAD_M = 12

import { Typography } from '@mui/material'
import { distanceAhead, gapsOnTrack, type Plan } from '@ochote/core'
import { type CarNow, type LiveDay, useLiveValue } from '../../data/live/live-store.ts'
import { say } from '../../language/say.ts'
import { cornerBehind } from './next-call.ts'

/** A car that comes up from behind: its number, the gap (s), and whether it goes quicker laps. */
export type ComingUp = { carNumber: string; gap_s: number; closing: boolean }

/** A car nearer than this is told (s). */
const TOLD_S = 8
/** Laps that differ by less are alike (s). */
const QUICKER_S = 0.5

/** The car that comes up behind a run's own, if one is near. */
export const comingUp = (plan: Plan, cars: ReadonlyMap<string, CarNow>, runId: string): ComingUp | null => {
  const onRoad = [...cars.values()].filter((car) => !car.inPits)
  const own = onRoad.find((car) => car.runId === runId)
  if (!own) return null
  const gap = gapsOnTrack(
    plan,
    onRoad.map(({ carNumber, station_m, lap, lapTime_s }) => ({ id: carNumber, station_m, lap, lapTime_s })),
  ).find((g) => g.aheadId === own.carNumber)
  const behind = gap && onRoad.find((car) => car.carNumber === gap.id)
  if (!gap || !behind || gap.gap_s > TOLD_S) return null
  return { carNumber: gap.id, gap_s: gap.gap_s, closing: behind.lapTime_s < own.lapTime_s - QUICKER_S }
}

/** The next place on which the venue lets cars pass, from a station on; null where it has none. */
export const nextPassing = (plan: Plan, station_m: number): { name: string; side: 'left' | 'right' | 'both' } | null => {
  const places = plan.ground.filter((g) => g.kind === 'passing')
  const ahead = (from_m: number): number => distanceAhead(station_m, from_m, plan.circuit.length_m)
  const next = [...places].sort((a, b) => ahead(a.from_m) - ahead(b.from_m))[0]
  if (!next) return null
  return { name: cornerBehind(plan, next.from_m)?.name ?? next.name, side: next.side }
}

/** Whole half seconds: tenths would flicker. */
const halves = (gap_s: number): number => Math.round(2 * gap_s) / 2

/** Who comes up behind, and where and on which side it may go by; takes no room where nobody does. */
export const ComesUp = ({ live, plan, runId, station_m }: { live: LiveDay; plan: Plan; runId: string; station_m: number | null }) => {
  const told = useLiveValue(live, (l) => {
    const car = comingUp(plan, l.cars(), runId)
    return car && `${car.carNumber}|${halves(car.gap_s)}|${car.closing}`
  })
  if (!told || station_m === null) return null
  const [carNumber, gap, closing] = told.split('|')
  const place = nextPassing(plan, station_m)
  const where = place
    ? place.side === 'both'
      ? say`may go by after ${place.name}`
      : place.side === 'left'
        ? say`may go by on the left after ${place.name}`
        : say`may go by on the right after ${place.name}`
    : say`the venue names no place to pass`
  return (
    <Typography role="status" aria-label={say`Behind you`} sx={{ fontSize: 'size.note', fontWeight: 650, color: 'warning.main' }}>
      {`${say`Behind you: car ${carNumber}, ${gap} s`}${closing === 'true' ? say`, quicker` : ''} · ${where}`}
    </Typography>
  )
}

import { Typography } from '@mui/material'
import { cornerName, distanceAhead } from '@ochote/core'
import { useLiveValue } from '../../data/live/live-store.ts'
import { say } from '../../language/say.ts'
import { metres } from '../../language/staff-units.ts'
import type { TrackDay } from './use-track-day.ts'

/** Where the leader brakes next, for whose brake lights are the lesson; nothing where the leader's car has no receiver. */
export const MyBrake = ({ track }: { track: TrackDay }) => {
  const leader = track.events.findLast((e) => e.kind === 'row')?.leader
  const told = useLiveValue(track.live, (l) => {
    const car = leader === undefined ? undefined : l.cars().get(leader)
    if (!car) return null
    const { circuit, marks, corners } = track.plan
    const ahead = marks
      .filter((m) => m.kind === 'brake' || m.kind === 'lift')
      .map((m) => ({ m, ahead_m: distanceAhead(car.station_m, m.station_m, circuit.length_m) }))
      .sort((a, b) => a.ahead_m - b.ahead_m)[0]
    if (!ahead) return null
    const where = say`${cornerName(corners, ahead.m.cornerId)} in ${metres(20 * Math.round(ahead.ahead_m / 20))}`
    return ahead.m.kind === 'brake' ? say`I brake for ${where}` : say`I lift for ${where}`
  })
  return told ? <Typography sx={{ fontSize: 'size.note', fontWeight: 650 }}>{told}</Typography> : null
}

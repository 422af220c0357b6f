import { Box, Stack, Typography } from '@mui/material'
import { cappedProfile, distanceAhead, lookFrom, markOf, planOnLine, stationAtTime } from '@ochote/core'
import { useEffect, useMemo } from 'react'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { figures } from '../../look/theme.tsx'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { DriveView } from '../../shared/drive/drive-view.tsx'
import { groundInView, isInView } from '../../shared/drive/in-view.ts'
import { useClockTime, useLapClock } from '../../shared/drive/lap-clock.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { groundWords } from '../../shared/marks/ground-words.ts'
import { type BriefingState, SIGHTING_PACE } from './use-briefing.ts'

const RATES = [1, 2, 4] as const
/** Grip alone would allow far more on a straight; at sighting pace nobody drives faster than this. */
const SIGHTING_TOP_MPS = 25

/** The lap at sighting pace on the projector: cones, the place for the eyes and hazards appear as they come. P plays, F drives faster. */
export const SightingLap = ({
  title,
  state: { plan: day, set, words },
}: {
  title: string
  state: Pick<BriefingState, 'plan' | 'set' | 'words'>
}) => {
  const plan = useMemo(() => {
    const sighting = planOnLine(day, day.vehicle, { ...day.settings, pace: SIGHTING_PACE }, day.line)
    return { ...sighting, profile: cappedProfile(sighting.profile, sighting.line, SIGHTING_TOP_MPS) }
  }, [day])
  const clock = useLapClock(plan.profile.lapTime_s)
  const time_s = useClockTime(clock)
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'p') clock.play(!clock.playing)
      else if (event.key === 'f') clock.setRate(RATES[(RATES.indexOf(clock.rate as 1) + 1) % RATES.length])
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [clock])
  const { circuit, corners } = plan
  const car_m = stationAtTime(plan, time_s)
  const ahead = (s_m: number): number => distanceAhead(car_m, s_m, circuit.length_m)
  const exitOf = (id: string): number => markOf(plan.marks, id, 'exit')?.station_m ?? markOf(plan.marks, id, 'apex')?.station_m ?? 0
  const corner = corners.reduce((best, c) => (ahead(exitOf(c.id)) < ahead(exitOf(best.id)) ? c : best), corners[0])
  const eyes = lookFrom(plan, car_m)
  const cones = set.cones.filter((c) => isInView(plan, car_m, c.station_m))
  const ground = groundInView(plan, car_m)
  const coming = [...cones].filter((c) => ahead(c.station_m) < 160).sort((a, b) => ahead(a.station_m) - ahead(b.station_m))
  const groups = coming.filter((c, i) => coming.findIndex((o) => o.groupId === c.groupId) === i).slice(0, 4)
  const speed_mps = plan.profile.speed_mps[Math.min(circuit.count - 1, Math.floor(car_m / circuit.step_m))]
  return (
    <Stack spacing={4}>
      <Typography component="h1" sx={{ fontSize: 'size.head', fontWeight: 680, fontStretch: '86%', lineHeight: 1.05 }}>
        {title}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '1.35fr 1fr' }, gap: 6 }}>
        <DriveView
          plan={plan}
          clock={clock}
          cones={cones}
          ground={ground}
          eyes_m={eyes.station_m}
          height={600}
          label={say`The road ahead, travel up`}
        />
        <Stack spacing={4}>
          <Box sx={{ fontSize: 'size.lead', fontWeight: 680, lineHeight: 1.1 }} role="status">
            {cornerLabel(corner)}
          </Box>
          <Box sx={{ fontSize: 'size.text', ...figures }}>{speedInWords(speed_mps)}</Box>
          {groups.map((c) => (
            <Stack key={c.groupId} direction="row" spacing={4} sx={{ alignItems: 'center', fontSize: 'size.note' }}>
              <ConeGlyph colour={c.colour} shape={c.shape} size={46} />
              <Box sx={{ flex: 1 }}>{words.marks[c.kind]}</Box>
              <Box sx={figures}>{metres(ahead(c.station_m))}</Box>
            </Stack>
          ))}
          {ground.slice(0, 3).map((g) => (
            <Box key={g.id} sx={{ fontSize: 'size.note', borderLeft: 'far', borderColor: 'warning.main', pl: 4, lineHeight: 1.2 }}>
              {g.name || groundWords[g.kind].name}
            </Box>
          ))}
          <Box sx={{ flex: 1 }} />
          <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>
            {say`${clock.playing ? say`P stops` : say`P drives`} · F: ×${clock.rate} · ${Math.round(100 * SIGHTING_PACE)}% of the grip`}
          </Box>
        </Stack>
      </Box>
    </Stack>
  )
}

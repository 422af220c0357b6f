import { Box, Stack, Typography } from '@mui/material'
import {
  cappedProfile,
  distanceAhead,
  lookFrom,
  markOf,
  type Plan,
  type PlanChoice,
  planOnLine,
  planTimeAt,
  stationAtTime,
  stationBefore,
} from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { useContext, useEffect, useLayoutEffect, useMemo, useState } from 'react'
import { circuitsQuery, vehiclesQuery } from '../../data/api/queries.ts'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { figures } from '../../look/theme.tsx'
import { cornerLabel } from '../../shared/corner-card/corner-words.ts'
import { DriveView } from '../../shared/drive/drive-view.tsx'
import { groundInView, isInView } from '../../shared/drive/in-view.ts'
import { type LapClock, reachedFrom, useClockTime, useLapClock } from '../../shared/drive/lap-clock.ts'
import { ConeGlyph } from '../../shared/marks/cone-glyph.tsx'
import { groundWords } from '../../shared/marks/ground-words.ts'
import { surfaceInside } from '../../shared/plan/setting-words.ts'
import { labelsOf } from '../../shared/seat/seat-labels.ts'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { cornerFromSeat } from '../../shared/seat/seat-words.ts'
import { useSeenMarks } from '../../shared/seat/use-seen-marks.ts'
import { visibilityOn } from '../../shared/seat/visibilities.ts'
import { InPreview, useTellCorner, useTypedNumber } from './presenting.ts'
import { type BriefingState, SIGHTING_PACE } from './use-briefing.ts'

const RATES = [1, 2, 4] as const
/** Grip alone would allow far more on a straight; at sighting pace nobody drives faster than this. */
const SIGHTING_TOP_MPS = 25

/** How long before a corner's first mark the lap stops, and begins after a jump (s). */
const BEFORE_CORNER_S = 3
/** What is drawn on the road for somebody who sees it for the first time. */
const SHOWN = { line: true, marks: true, braking: false } as const

/** Where each corner is shown from: some seconds before its first mark (station, m). */
const standsOf = (plan: Plan): { id: string; station_m: number }[] =>
  plan.corners.flatMap(({ id }) => {
    const first = markOf(plan.marks, id, 'brake') ?? markOf(plan.marks, id, 'turn-in') ?? markOf(plan.marks, id, 'apex')
    return first ? [{ id, station_m: stationBefore(plan, first.station_m, BEFORE_CORNER_S) }] : []
  })

const isLapKey = (key: string): key is 'v' | 's' | 'w' | 'c' | 'l' => 'vswcl'.includes(key)

/** The one after `id` among several, round and round. */
const nextOf = (ids: readonly string[], id: string): string => ids[(ids.indexOf(id) + 1) % Math.max(1, ids.length)] ?? id

/** The layouts of a layout's venue, itself among them, that are in use. */
const useLayouts = (circuitId: string) => {
  const circuits = useQuery(circuitsQuery)
  return useMemo(() => {
    const own = circuits.data?.find((c) => c.id === circuitId)
    return own?.venueId ? (circuits.data ?? []).filter((c) => c.venueId === own.venueId && c.archivedAt === null) : []
  }, [circuits.data, circuitId])
}

/**
 * Keys of the lap, heard before those that turn pages: space drives on or stops, digits jump to a corner, P plays, F drives faster, V looks
 * from the seat or from above, S stops at each corner or not, W wets the road, C changes the vehicle, L the layout of the venue.
 */
const useDriveKeys = (plan: Plan, clock: LapClock, onKeys: Readonly<Record<'v' | 's' | 'w' | 'c' | 'l', () => void>>): void => {
  const inPreview = useContext(InPreview)
  useTypedNumber((number) => {
    const stand = standsOf(plan).find(({ id }) => id === `T${number}`)
    if (!stand) return
    clock.play(false)
    clock.seek(planTimeAt(plan, stand.station_m))
  }, !inPreview)
  useLayoutEffect(() => {
    if (inPreview) return
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.metaKey || event.altKey) return
      if (event.key === ' ' || event.key === 'p') clock.play(!clock.playing)
      else if (event.key === 'f') clock.setRate(RATES[(RATES.indexOf(clock.rate as 1) + 1) % RATES.length])
      else if (isLapKey(event.key)) onKeys[event.key]()
      else return
      event.preventDefault()
      event.stopImmediatePropagation()
    }
    window.addEventListener('keydown', onKey, { capture: true })
    return () => window.removeEventListener('keydown', onKey, { capture: true })
  }, [clock, onKeys, inPreview])
}

/** Stops the clock where a corner is to be shown. */
const useStops = (plan: Plan, clock: LapClock, stops: boolean): void => {
  useEffect(() => {
    if (!stops || !clock.playing) return
    const times = standsOf(plan).map(({ station_m }) => planTimeAt(plan, station_m))
    const reachedAt = reachedFrom(times, clock.now(), plan.profile.lapTime_s)
    return clock.listen((time_s) => {
      const reached = reachedAt(time_s)
      if (reached === undefined) return
      clock.play(false)
      clock.seek(reached)
    })
  }, [plan, clock, stops])
}

/** The lap at sighting pace on the projector, from the seat or from above: cones, the place for the eyes and hazards appear as they come. */
export const SightingLap = ({
  title,
  state: { plan: ofDay, set: setOfDay, settings, words },
}: {
  title: string
  state: Pick<BriefingState, 'plan' | 'set' | 'settings' | 'words'>
}) => {
  const [wish, setWish] = useState<Partial<PlanChoice>>({})
  const vehicles = useQuery(vehiclesQuery)
  const layouts = useLayouts(settings.circuitId)
  const other = useMemo(() => ({ ...settings, ...wish }), [settings, wish])
  const asked = usePlan(other).plan
  const askedSet = useConeSet(asked, other, useNumbers(asked))
  // Until the other plan is there the day's goes on.
  const isOther = Object.keys(wish).length > 0 && asked !== undefined && askedSet !== undefined
  const day = isOther ? asked : ofDay
  const set = isOther ? askedSet : setOfDay
  const plan = useMemo(() => {
    const sighting = planOnLine(day, day.vehicle, { ...day.settings, pace: SIGHTING_PACE }, day.line)
    return { ...sighting, profile: cappedProfile(sighting.profile, sighting.line, SIGHTING_TOP_MPS) }
  }, [day])
  const clock = useLapClock(plan.profile.lapTime_s)
  const time_s = useClockTime(clock)
  const [seat, setSeat] = useState(true)
  const [stops, setStops] = useState(true)
  const onKeys = useMemo(
    () => ({
      v: () => setSeat((now) => !now),
      s: () => setStops((now) => !now),
      w: () => setWish((now) => ({ ...now, surface: (now.surface ?? settings.surface) === 'wet' ? 'dry' : 'wet' })),
      c: () =>
        setWish((now) => ({ ...now, vehicleId: nextOf(vehicles.data?.map((v) => v.id) ?? [], now.vehicleId ?? settings.vehicleId) })),
      l: () =>
        setWish((now) => {
          const ids = layouts.map((c) => c.id)
          return { ...now, circuitId: nextOf(ids, now.circuitId ?? settings.circuitId) }
        }),
    }),
    [settings, vehicles.data, layouts],
  )
  useDriveKeys(plan, clock, onKeys)
  useStops(plan, clock, stops)
  const inPreview = useContext(InPreview)
  const seen = useSeenMarks(plan, set.cones)
  const labels = useMemo(() => labelsOf(plan, seen), [plan, seen])
  const at = useMemo(() => ({ clock }), [clock])
  const { circuit, corners } = plan
  const car_m = stationAtTime(plan, time_s)
  const ahead = (s_m: number): number => distanceAhead(car_m, s_m, circuit.length_m)
  // The corner whose place to stop at was reached last: where the lap stops, it is the one that comes.
  const stand = standsOf(plan).reduce((best, s) =>
    distanceAhead(s.station_m, car_m + 1, circuit.length_m) < distanceAhead(best.station_m, car_m + 1, circuit.length_m) ? s : best,
  )
  const corner = corners.find(({ id }) => id === stand.id) ?? corners[0]
  // The presenter's questions are about the day's own layout.
  const isOtherLayout = isOther && other.circuitId !== settings.circuitId
  useTellCorner(isOtherLayout ? null : corner.id)
  const eyes = lookFrom(plan, car_m)
  const cones = set.cones.filter((c) => isInView(plan, car_m, c.station_m))
  const ground = groundInView(plan, car_m)
  const coming = [...cones].filter((c) => ahead(c.station_m) < 160).sort((a, b) => ahead(a.station_m) - ahead(b.station_m))
  const groups = coming.filter((c, i) => coming.findIndex((o) => o.groupId === c.groupId) === i).slice(0, 4)
  const speed_mps = plan.profile.speed_mps[Math.min(circuit.count - 1, Math.floor(car_m / circuit.step_m))]
  const fromAbove = (
    <DriveView
      plan={plan}
      clock={clock}
      cones={cones}
      ground={ground}
      eyes_m={eyes.station_m}
      height={600}
      label={say`The road ahead, travel up`}
    />
  )
  return (
    <Stack spacing={4}>
      <Typography component="h1" sx={{ fontSize: 'size.head', fontWeight: 680, fontStretch: '86%', lineHeight: 1.05 }}>
        {title}
      </Typography>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: '1.35fr 1fr' }, gap: 6 }}>
        {seat && !inPreview ? (
          <SeatView
            plan={plan}
            cones={set.cones}
            at={at}
            layers={SHOWN}
            visibility={visibilityOn(day.settings.surface)}
            labels={labels}
            height={600}
            label={say`The road from the seat. ${cornerFromSeat(plan, corner, seen)}`}
            fallback={fromAbove}
          />
        ) : (
          fromAbove
        )}
        <Stack spacing={4}>
          <Box sx={{ fontSize: 'size.lead', fontWeight: 680, lineHeight: 1.1 }} role="status">
            {cornerLabel(corner)}
          </Box>
          <Box sx={{ fontSize: 'size.text', ...figures }}>
            {[
              speedInWords(speed_mps),
              isOtherLayout && plan.circuit.name,
              isOther && say`${plan.vehicle.name}, ${surfaceInside(plan.settings.surface)}`,
            ]
              .filter(Boolean)
              .join(' · ')}
          </Box>
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
          {seat && (
            <Box sx={{ fontSize: 'size.note', lineHeight: 1.2 }} role="status" aria-label={say`What is seen`}>
              {cornerFromSeat(plan, corner, seen)}
            </Box>
          )}
          <Box sx={{ flex: 1 }} />
          <Box sx={{ fontSize: 'size.note', color: 'text.secondary' }}>
            {say`${clock.playing ? say`space stops` : say`space drives on`} · S: ${stops ? say`stops at corners` : say`drives through`} · V: ${seat ? say`from above` : say`from the seat`} · F: ×${clock.rate} · W: ${plan.settings.surface === 'wet' ? say`dry` : say`wet`} · C: ${say`another vehicle`}`}
            {layouts.length > 1 && say` · L: another layout`}
          </Box>
        </Stack>
      </Box>
    </Stack>
  )
}

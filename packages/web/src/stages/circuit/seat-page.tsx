import { Box, Button, Checkbox, FormControlLabel, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import {
  type Mark,
  type Plan,
  planTimeAt,
  type SeatSide,
  seatIn,
  signedDistance,
  stationAtTime,
  stationBefore,
  wrapStation,
} from '@ochote/core'
import { useEffect, useMemo, useState } from 'react'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { say } from '../../language/say.ts'
import { metres, speedInWords } from '../../language/staff-units.ts'
import { columns, restOfWindow } from '../../look/columns.ts'
import { figures } from '../../look/theme.tsx'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { useClockTime, useLapClock } from '../../shared/drive/lap-clock.ts'
import { GroundView } from '../../shared/ground/ground-view.tsx'
import { staffWords } from '../../shared/language/staff-words.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { WidthNote } from '../../shared/plan/width-note.tsx'
import { Caution, ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { labelsOf } from '../../shared/seat/seat-labels.ts'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { cornerFromSeat, marksToSee, unknownFromSeat } from '../../shared/seat/seat-words.ts'
import { useSeenMarks } from '../../shared/seat/use-seen-marks.ts'
import { visibilities } from '../../shared/seat/visibilities.ts'
import { useLapSelection } from '../../shared/selection/lap-selection.tsx'
import { useLapKeys } from '../../shared/selection/use-lap-keys.ts'
import { StageHead } from '../../shared/stage-head.tsx'
import { isTyping } from '../../shared/typing.ts'

/** Moments before a mark at which it is looked at (s). */
const MOMENTS = [3, 2, 1, 0] as const
/** A step on foot (m), and how far the head turns at a touch (rad). */
const STEP_M = 5
const TURN_RAD = Math.PI / 9

/** The lap from the seat: driven, stood at before a mark, or walked. */
export const SeatPage = () => {
  const { settings } = useDay()
  const { plan, error } = usePlan(settings ?? undefined)
  return (
    <Stack spacing={2}>
      <StageHead stage="Circuit" facts={plan && say`${plan.circuit.name} from the seat of the ${plan.vehicle.name}`} />
      <ProblemNote error={error} />
      {!plan && !error && <Reading what={say`Computing the lap …`} frame="lap" />}
      {plan && <FromSeat plan={plan} />}
    </Stack>
  )
}

/** Speed and gear of the plan at a station, as the driver has them there. */
const speedAndGear = ({ circuit, profile, vehicle }: Plan, station_m: number): string => {
  const i = Math.floor(station_m / circuit.step_m) % circuit.count
  const speed = speedInWords(profile.speed_mps[i])
  return vehicle.gears.length > 1 ? say`${speed} · gear ${profile.gear[i]}` : speed
}

type Way = 'drive' | 'stand' | 'walk'

const FromSeat = ({ plan }: { plan: Plan }) => {
  const { settings } = useDay()
  const set = useConeSet(plan, settings ?? undefined, useNumbers(plan))
  const { station_m: chosen_m, cornerId, moveTo, selectCorner } = useLapSelection()
  const [way, setWay] = useState<Way>('stand')
  const [before_s, setBefore] = useState<(typeof MOMENTS)[number]>(2)
  const [turned_rad, turn] = useState(0)
  const [chosen, setSide] = useState<SeatSide | null>(null)
  const side = chosen ?? seatIn(plan.vehicle)
  const [far, setFar] = useState<keyof typeof visibilities>(plan.settings.surface === 'wet' ? 'rain' : 'clear')
  const [layers, setLayers] = useState({ line: true, marks: true, braking: true, names: true, eyes: false })
  useLapKeys(plan)
  const clock = useLapClock(plan.profile.lapTime_s)
  const time_s = useClockTime(clock)
  const seen = useSeenMarks(plan, set?.cones)
  const labels = useMemo(() => (layers.names ? labelsOf(plan, seen) : []), [plan, seen, layers.names])
  const toSee = useMemo(() => marksToSee(plan), [plan])
  const [first] = toSee
  const target_m = chosen_m ?? first?.station_m ?? 0
  const station_m = way === 'walk' ? target_m : stationBefore(plan, target_m, before_s)
  const driven_m = way === 'drive' ? stationAtTime(plan, time_s) : station_m
  const at = useMemo(
    () => (way === 'drive' ? { clock } : { station_m, turned_rad: way === 'walk' ? turned_rad : 0, standing: way === 'walk' }),
    [way, clock, station_m, turned_rad],
  )
  const choose = (next: Way): void => {
    if (next === 'drive') clock.seek(planTimeAt(plan, station_m))
    clock.play(next === 'drive')
    turn(0)
    setWay(next)
  }
  useEffect(() => {
    if (way !== 'walk') return
    const onKey = (event: KeyboardEvent): void => {
      if (isTyping(event.target)) return
      if (event.key === 'ArrowUp') moveTo(wrapStation(target_m + STEP_M, plan.circuit.length_m))
      else if (event.key === 'ArrowDown') moveTo(wrapStation(target_m - STEP_M, plan.circuit.length_m))
      else if (event.key === 'a') turn((now) => now + TURN_RAD)
      else if (event.key === 'd') turn((now) => now - TURN_RAD)
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [way, target_m, moveTo, plan])
  const corner = plan.corners.find((c) => c.id === cornerId) ?? plan.corners.find((c) => c.id === first?.cornerId)
  const speed_mps = plan.profile.speed_mps[Math.floor(driven_m / plan.circuit.step_m) % plan.circuit.count]
  const mark = nearestMark(plan, toSee, target_m)
  const cones = set?.cones ?? []
  const says = corner ? cornerFromSeat(plan, corner, seen) : ''
  return (
    <>
      <WidthNote plan={plan} />
      <Box sx={columns('minmax(0, 2fr) minmax(0, 1fr)')}>
        <Box>
          <SeatView
            plan={plan}
            cones={cones}
            at={at}
            side={side}
            layers={layers}
            visibility={visibilities[far]}
            labels={labels}
            height={restOfWindow(400, 320)}
            label={say`The road from the seat. ${says}`}
            fallback={<GroundView plan={plan} layers={{ marks: plan.marks }} height={360} />}
            caption={way === 'walk' ? undefined : speedAndGear(plan, driven_m)}
          />
          <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap', py: 2 }}>
            <ToggleButtonGroup exclusive value={way} onChange={(_, next: Way | null) => next && choose(next)} aria-label={say`How to look`}>
              <ToggleButton value="stand">{say`Before a mark`}</ToggleButton>
              <ToggleButton value="drive">{say`Drive the lap`}</ToggleButton>
              <ToggleButton value="walk">{say`On foot`}</ToggleButton>
            </ToggleButtonGroup>
            {way === 'stand' && (
              <ToggleButtonGroup
                exclusive
                value={before_s}
                onChange={(_, next: (typeof MOMENTS)[number] | null) => next !== null && setBefore(next)}
                aria-label={say`How long before it`}
              >
                {MOMENTS.map((moment) => (
                  <ToggleButton key={moment} value={moment}>
                    {moment === 0 ? say`at it` : say`${moment} s before`}
                  </ToggleButton>
                ))}
              </ToggleButtonGroup>
            )}
            {way === 'drive' && (
              <Button variant="outlined" onClick={() => clock.play(!clock.playing)}>
                {clock.playing ? say`Stop` : say`Drive on`}
              </Button>
            )}
            {way === 'walk' && (
              <>
                <Button variant="outlined" onClick={() => turn(turned_rad + TURN_RAD)}>{say`Look left`}</Button>
                <Button variant="outlined" onClick={() => moveTo(wrapStation(target_m + STEP_M, plan.circuit.length_m))}>
                  {say`${metres(STEP_M)} on`}
                </Button>
                <Button variant="outlined" onClick={() => turn(turned_rad - TURN_RAD)}>{say`Look right`}</Button>
              </>
            )}
            <Typography role="status" sx={{ fontSize: 'size.note', ...figures }}>
              {way === 'walk' ? say`at ${metres(target_m)}, on foot` : say`at ${metres(driven_m)}, ${speedInWords(speed_mps)} in the plan`}
            </Typography>
          </Stack>
          <LapBand plan={plan} height={150} compact layers={{ marks: plan.marks, cones }} />
        </Box>
        <Stack spacing={3}>
          <Box>
            <Typography variant="head" component="h2">
              {mark ? `${staffWords.marks[mark.kind]}, ${corner?.name ?? ''}` : corner?.name}
            </Typography>
            <Typography role="status" aria-label={say`What is seen`} sx={{ maxWidth: '68ch' }}>
              {says}
            </Typography>
            <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: 'wrap', mt: 2 }}>
              {seen
                .filter((one) => one.mark.cornerId === corner?.id)
                .map(({ mark: m, sight }) => (
                  <Button
                    key={m.kind}
                    size="small"
                    variant="outlined"
                    aria-pressed={m === mark}
                    onClick={() => {
                      choose('stand')
                      selectCorner(m.cornerId)
                      moveTo(m.station_m)
                    }}
                  >
                    {sight.throughout ? staffWords.marks[m.kind] : say`${staffWords.marks[m.kind]}, from ${metres(sight.before_m)} on`}
                  </Button>
                ))}
            </Stack>
          </Box>
          <Stack direction="row" useFlexGap spacing={3} sx={{ flexWrap: 'wrap', alignItems: 'flex-end' }}>
            <PickField
              label={say`How far one sees`}
              value={far}
              options={[
                ['clear', say`a clear day`],
                ['rain', say`rain, some ${metres(visibilities.rain.far_m)}`],
                ['fog', say`fog, some ${metres(visibilities.fog.far_m)}`],
              ]}
              onPick={setFar}
              width={190}
            />
            {plan.vehicle.kind === 'car' && (
              <PickField
                label={say`Seat`}
                value={side}
                options={[
                  ['left', say`left`],
                  ['right', say`right`],
                  ['middle', say`middle`],
                ]}
                onPick={setSide}
                width={120}
              />
            )}
          </Stack>
          <Box role="group" aria-label={say`Drawn on the road`} sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 4 }}>
            {(
              [
                ['line', say`line`],
                ['marks', say`marks`],
                ['braking', say`braking`],
                ['names', say`names`],
                ['eyes', say`where to look`],
              ] as const
            ).map(([key, name]) => (
              <FormControlLabel
                key={key}
                control={<Checkbox size="small" checked={layers[key]} onChange={(_, on) => setLayers({ ...layers, [key]: on })} />}
                label={name}
              />
            ))}
          </Box>
          <Box
            component="ul"
            aria-label={say`Every corner from the seat`}
            sx={{ m: 0, pl: 4, maxHeight: '34dvh', overflow: 'auto' }}
            tabIndex={0}
          >
            {plan.corners.map((c) => (
              <Typography component="li" key={c.id} sx={{ fontSize: 'size.note', fontWeight: c.id === corner?.id ? 650 : 400 }}>
                {cornerFromSeat(plan, c, seen)}
              </Typography>
            ))}
          </Box>
          <Box>
            {unknownFromSeat(plan).map((text) => (
              <Typography key={text} color="text.secondary" sx={{ fontSize: 'size.note' }}>
                {text}
              </Typography>
            ))}
          </Box>
        </Stack>
      </Box>
      <Caution />
    </>
  )
}

/** The mark that is nearest to a station. */
const nearestMark = ({ circuit }: Plan, marks: readonly Mark[], station_m: number): Mark | null => {
  const away = (mark: Mark): number => Math.abs(signedDistance(mark.station_m, station_m, circuit.length_m))
  return marks.reduce<Mark | null>((best, mark) => (best && away(best) <= away(mark) ? best : mark), null)
}

import { Box, Button, Checkbox, FormControlLabel, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import {
  type Call,
  type CallsFor,
  cornerName,
  formatLapTime,
  type Intensity,
  judgePractice,
  type Plan,
  type PracticedCall,
  paces,
  seatIn,
  stationAtTime,
} from '@ochote/core'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { useConeSet } from '../../data/cones/use-cone-set.ts'
import { useDay } from '../../data/day/day-context.tsx'
import { useDayPart } from '../../data/day/use-day-part.ts'
import { useNumbers, usePlan } from '../../data/plan/use-plan.ts'
import { inside, say } from '../../language/say.ts'
import { speedInWords } from '../../language/staff-units.ts'
import { restOfWindow } from '../../look/columns.ts'
import { figures } from '../../look/theme.tsx'
import { LapBand } from '../../shared/band/lap-band.tsx'
import { callNames } from '../../shared/calls/call-words.ts'
import { spansOf, useCallSheet } from '../../shared/calls/use-call-sheet.ts'
import { type CalledKind, calledLaps, useCalledLap } from '../../shared/calls/use-called-lap.ts'
import { DriveView } from '../../shared/drive/drive-view.tsx'
import { isInView } from '../../shared/drive/in-view.ts'
import { type LapClock, useClockTime, useLapClock } from '../../shared/drive/lap-clock.ts'
import { PickField } from '../../shared/pick-field.tsx'
import { ProblemNote } from '../../shared/problem-note.tsx'
import { Reading } from '../../shared/reading.tsx'
import { SeatView } from '../../shared/seat/seat-view.tsx'
import { visibilityOn } from '../../shared/seat/visibilities.ts'
import { StageHead } from '../../shared/stage-head.tsx'
import { StudentChoice } from '../../shared/student-choice.tsx'
import { sayAloud, speechThere } from './speech.ts'

/** Practise calling: the lap plays, calls come up and are spoken, or the instructor presses a key where each belongs. */
export const RehearsePage = () => {
  const { settings, lookAt } = useDay()
  const { plan: planned, error } = usePlan(settings)
  const [kind, setKind] = useState<CalledKind>('coached')
  const { plan, lap } = useCalledLap(planned, settings, kind)
  const set = useConeSet(planned, settings, useNumbers(planned))
  const { value: work } = useDayPart('calls')
  const [studentId, setStudentId] = useState<string | null>(null)
  const [intensity, setIntensity] = useState<Intensity>('guided')
  const state = useCallSheet(plan, settings, { work, intensity, studentId, lap })
  if (!plan || !set || !state || !settings) return error ? <ProblemNote error={error} /> : <Reading what={say`Computing the calls …`} />
  return (
    <Stack spacing={2}>
      <StageHead stage="Brief">
        <ToggleButtonGroup
          size="small"
          exclusive
          aria-label={say`How much talk`}
          value={intensity}
          onChange={(_, v: Intensity | null) => v && setIntensity(v)}
        >
          <ToggleButton value="guided" sx={{ py: 0 }}>
            {say`Guided`}
          </ToggleButton>
          <ToggleButton value="driven" sx={{ py: 0 }}>
            {say`Driven`}
          </ToggleButton>
        </ToggleButtonGroup>
        <ToggleButtonGroup
          size="small"
          exclusive
          aria-label={say`Pace`}
          value={settings.pace}
          onChange={(_, pace: number | null) => pace && lookAt({ pace })}
        >
          {Object.entries(paces).map(([name, pace]) => (
            <ToggleButton key={name} value={pace} sx={{ py: 0 }}>
              {name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <PickField label={say`Which lap`} hideLabel value={kind} options={calledLaps} onPick={setKind} width={160} />
        <StudentChoice studentId={studentId} onChoose={(student) => setStudentId(student?.id ?? null)} />
      </StageHead>
      <Stage key={`${plan.profile.lapTime_s} ${intensity} ${studentId} ${kind}`} plan={plan} cones={set.cones} state={state} />
    </Stack>
  )
}

/** Marks and line are what is called; they are not drawn for whoever calls. */
const FROM_SEAT = { line: false, marks: false, braking: false } as const

/** Keys that count as calling. */
const isCallKey = (key: string): boolean => key === ' ' || key === 'Enter'

const Stage = ({ plan, cones, state }: { plan: Plan; cones: Parameters<typeof DriveView>[0]['cones']; state: CallsFor }) => {
  const { sheet, book } = state
  const [practising, setPractising] = useState(true)
  const [aloud, setAloud] = useState(speechThere())
  const [presses, setPresses] = useState<readonly number[]>([])
  const [judged, setJudged] = useState<{ calls: PracticedCall[]; extra: number } | null>(null)
  const taken = useRef(presses)
  taken.current = presses
  const onLap = useCallback(() => {
    if (!practising) return
    setJudged(judgePractice(sheet.calls, taken.current))
    setPresses([])
  }, [practising, sheet.calls])
  const clock = useLapClock(plan.profile.lapTime_s, onLap)
  const press = useCallback(() => {
    if (practising && clock.playing) setPresses((all) => [...all, clock.now()])
  }, [practising, clock])
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (
        event.repeat ||
        (event.target instanceof HTMLElement && event.target.matches('input, textarea, [role="combobox"], [role="option"]'))
      )
        return
      if (event.key === 'p') clock.play(!clock.playing)
      else if (isCallKey(event.key) && clock.playing && !(event.target instanceof HTMLButtonElement)) press()
      else return
      event.preventDefault()
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [clock, press])
  useSpoken(clock, sheet.calls, book.language, aloud && !practising)
  const finish = (): void => {
    clock.play(false)
    const until = clock.now()
    setJudged(
      judgePractice(
        sheet.calls.filter((c) => c.start_s <= until),
        presses,
      ),
    )
    setPresses([])
    clock.seek(0)
  }
  return (
    <>
      <Stack direction="row" useFlexGap spacing={3} sx={{ alignItems: 'center', flexWrap: 'wrap' }}>
        <Button
          variant="contained"
          size="small"
          onClick={(event) => {
            clock.play(!clock.playing)
            // Space is for calling now, not for this button.
            event.currentTarget.blur()
          }}
          sx={{ minWidth: 120 }}
        >
          {clock.playing ? say`Stop` : say`Play the lap`}
        </Button>
        <Button variant="outlined" size="small" disabled={presses.length === 0} onClick={finish}>
          {say`Finish and score`}
        </Button>
        <FormControlLabel
          control={<Checkbox checked={practising} onChange={(e) => setPractising(e.target.checked)} />}
          label={say`I call: space at the moment of each call`}
        />
        <FormControlLabel
          control={<Checkbox checked={aloud} disabled={practising || !speechThere()} onChange={(e) => setAloud(e.target.checked)} />}
          label={speechThere() ? say`Spoken by this browser` : say`This browser cannot speak: calls are shown`}
        />
        <ToggleButtonGroup
          size="small"
          exclusive
          aria-label={say`How fast it plays`}
          value={clock.rate}
          onChange={(_, v: number | null) => v && clock.setRate(v)}
        >
          {[1, 2, 4].map((rate) => (
            <ToggleButton key={rate} value={rate} sx={{ py: 0 }}>
              {`×${rate}`}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Stack>
      <Moving plan={plan} cones={cones} clock={clock} state={state} practising={practising} presses={presses.length} onPress={press} />
      {judged && <Judgement plan={plan} judged={judged} />}
    </>
  )
}

/** Speaks each call as its moment comes. */
const useSpoken = (clock: LapClock, calls: readonly Call[], language: string, on: boolean): void => {
  const spoken = useRef('')
  useEffect(() => {
    if (!on) return
    return clock.listen((time_s) => {
      const due = calls.find((c) => time_s >= c.start_s && time_s < c.start_s + 0.3)
      if (!due) return
      const key = due.key
      if (spoken.current === key) return
      spoken.current = key
      sayAloud(due.phrase, language, clock.rate)
    })
  }, [clock, calls, language, on])
}

const Moving = ({
  plan,
  cones,
  clock,
  state,
  practising,
  presses,
  onPress,
}: {
  plan: Plan
  cones: Parameters<typeof DriveView>[0]['cones']
  clock: LapClock
  state: CallsFor
  practising: boolean
  presses: number
  onPress: () => void
}) => {
  const time_s = useClockTime(clock, 100)
  const car_m = stationAtTime(plan, time_s)
  const seen = useMemo(() => cones.filter((c) => isInView(plan, car_m, c.station_m)), [cones, plan, car_m])
  const spans = useMemo(() => spansOf(plan, state), [plan, state])
  const layers = useMemo(() => ({ spans, car_m }), [spans, car_m])
  const lap_s = plan.profile.lapTime_s
  const now = state.sheet.calls.find((c) => time_s >= c.start_s && time_s <= c.end_s + 0.4)
  const next = [...state.sheet.calls].sort((a, b) => ((a.start_s - time_s + lap_s) % lap_s) - ((b.start_s - time_s + lap_s) % lap_s))[0]
  const nameOf = (id: string): string => cornerName(plan.corners, id)
  const [seat, setSeat] = useState(false)
  const at = useMemo(() => ({ clock }), [clock])
  const speed_mps = plan.profile.speed_mps[Math.floor(car_m / plan.circuit.step_m) % plan.circuit.count]
  const fromAbove = (
    <DriveView plan={plan} clock={clock} cones={seen} height={restOfWindow(560, 260)} metre_px={6} label={say`The road ahead, travel up`} />
  )
  return (
    <>
      <LapBand plan={plan} layers={layers} height={110} compact label={say`Where the car is on the lap`} />
      <ToggleButtonGroup
        size="small"
        exclusive
        aria-label={say`How to look`}
        value={seat}
        onChange={(_, on: boolean | null) => on !== null && setSeat(on)}
      >
        <ToggleButton value={false} sx={{ py: 0 }}>
          {say`From above`}
        </ToggleButton>
        <ToggleButton value={true} sx={{ py: 0 }}>
          {say`From the seat`}
        </ToggleButton>
      </ToggleButtonGroup>
      {seat ? (
        <SeatView
          plan={plan}
          cones={cones}
          at={at}
          side={state.book.seat ?? seatIn(plan.vehicle, 'beside')}
          layers={FROM_SEAT}
          visibility={visibilityOn(plan.settings.surface)}
          height={restOfWindow(560, 260)}
          label={say`The road ahead, from the seat`}
          caption={!practising && now ? now.phrase : speedInWords(speed_mps)}
          fallback={fromAbove}
        />
      ) : (
        fromAbove
      )}
      <Stack spacing={3}>
        <Box
          component="section"
          aria-label={say`Call now`}
          sx={{
            py: 2,
            borderLeft: 'call',
            borderColor: now && !practising ? 'primary.main' : 'text.primary',
            pl: 4,
            backgroundColor: now && !practising ? 'primary.main' : 'var(--sheet)',
            color: now && !practising ? 'primary.contrastText' : 'text.primary',
            display: 'flex',
            flexDirection: 'column',
            justifyContent: 'center',
          }}
        >
          <Box sx={{ fontSize: 'size.title', fontWeight: 700, fontStretch: '84%', lineHeight: 1.1 }}>
            {practising ? (next ? next.phrase : say`Nothing to call`) : now ? now.phrase : '…'}
          </Box>
          <Box sx={{ fontSize: 'size.head' }}>
            {practising
              ? next
                ? say`your next call, at ${nameOf(next.cornerId)}: ${inside(callNames[next.kind])}`
                : say`choose guided or driven`
              : next
                ? say`next: ${nameOf(next.cornerId)}, ${next.phrase}`
                : ''}
          </Box>
        </Box>
        <Stack direction="row" spacing={4} sx={{ alignItems: 'center' }}>
          <Box sx={{ fontSize: 'size.head', ...figures }}>{formatLapTime(time_s, 1)}</Box>
          <Typography color="text.secondary" role="status">
            {practising ? say`${presses} called on this lap` : say`spoken and shown at their moments`}
          </Typography>
        </Stack>
        {practising && (
          <Button
            variant="contained"
            fullWidth
            disabled={!clock.playing}
            onPointerDown={onPress}
            sx={{ minHeight: 'calc(2 * var(--target))' }}
          >
            {say`Call`}
          </Button>
        )}
        <Typography variant="text" color="text.secondary">
          {say`P drives and stops. Calls are scored at the end of the lap, or when you finish.`}
        </Typography>
      </Stack>
    </>
  )
}

/** Timing in tenths: `0.3 s late`. */
export const latenessInWords = (late_s: number | null): string => {
  if (late_s === null) return say`not called`
  const tenths = Math.round(Math.abs(late_s) * 10) / 10
  return tenths === 0 ? say`on time` : `${tenths.toFixed(1)} s ${late_s < 0 ? say`early` : say`late`}`
}

const Judgement = ({ plan, judged: { calls, extra } }: { plan: Plan; judged: { calls: PracticedCall[]; extra: number } }) => {
  const said = calls.flatMap((c) => (c.late_s === null ? [] : [c.late_s]))
  const mean = said.length > 0 ? said.reduce((a, b) => a + b, 0) / said.length : null
  return (
    <Box component="section" aria-label={say`How the lap was called`}>
      <Typography variant="head">
        {say`${said.length} of ${calls.length} called${mean === null ? '' : say`, on average ${latenessInWords(mean)}`}${extra > 0 ? say`, ${extra} between calls` : ''}`}
      </Typography>
      <Box sx={{ columnCount: 3, columnGap: 6, mt: 1 }}>
        {calls.map(({ call, late_s }) => (
          <Stack key={call.key} direction="row" spacing={2} sx={{ breakInside: 'avoid', fontSize: 'size.text', py: 0 }}>
            <Box sx={{ flex: 1 }}>{`${cornerName(plan.corners, call.cornerId)}, ${inside(callNames[call.kind])}`}</Box>
            <Box
              sx={{
                ...figures,
                fontWeight: late_s === null || Math.abs(late_s) > 0.5 ? 650 : 400,
                color: late_s === null ? 'warning.main' : 'text.primary',
              }}
            >
              {latenessInWords(late_s)}
            </Box>
          </Stack>
        ))}
      </Box>
    </Box>
  )
}

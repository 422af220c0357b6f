import { Box, Button, Stack, TextField, Typography } from '@mui/material'
import { api } from '@ochote/contract'
import { formatLapTime, planRelease, type Released, releaseConflict, seedOf } from '@ochote/core'
import { useQuery } from '@tanstack/react-query'
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react'
import { call } from '../../data/api/api-client.ts'
import { accountsQuery, sessionQuery } from '../../data/api/queries.ts'
import { logRunEvent } from '../../data/events/use-run-events.ts'
import { say } from '../../language/say.ts'
import { CountField } from '../../shared/count-field.tsx'
import { PickField } from '../../shared/pick-field.tsx'
import { WordHelp } from '../../shared/word-help.tsx'
import { ReleasePicture } from './release-picture.tsx'
import { type ExpectedLap, useExpectedLaps } from './use-expected-laps.ts'
import type { TrackDay, TrackRun } from './use-track-day.ts'

/** Before the first one goes there is time to say so (s). */
const LEAD_S = 5
/** Laps of a release, unless told otherwise. */
const USUAL_LAPS = 4
/** The out lap takes longer than the others by this share. */
const OUT_LAP = 1.15

const nameOf = ({ carNumber, run }: TrackRun): string => `${carNumber ? `${carNumber} · ` : ''}${run.studentName}`

/** Cars that wait in the pit lane, in the order and at the interval that keeps them apart; then the countdown. */
export const ReleasePanel = ({ track }: { track: TrackDay }) => {
  const waiting = useMemo(() => track.open.filter((r) => !r.state.programme), [track.open])
  const release = track.events.findLast((e) => e.kind === 'release')
  const isRunning = release !== undefined && waiting.some((r) => release.runIds.includes(r.run.id))
  const expected = useExpectedLaps(track, waiting)
  const [laps, setLaps] = useState(USUAL_LAPS)
  const session = useQuery(sessionQuery)
  // In a school of its own nothing made up drives unless somebody switched it on.
  const maySimulate = session.data?.simulated === true
  const [wished, setSimulated] = useState<boolean | null>(null)
  const simulated = maySimulate && (wished ?? session.data?.demo === true)
  if (isRunning && release) return <Countdown track={track} release={release} />
  if (waiting.length === 0) return null
  if (!expected) return <Typography role="status">{say`Computing the laps of those who wait …`}</Typography>
  return (
    <Box component="section" aria-label={say`Release`}>
      <Typography variant="head">{say`Release`}</Typography>
      <Waiting track={track} waiting={waiting} expected={expected} laps={laps} simulated={simulated} onLaps={setLaps}>
        {maySimulate && (
          <Button variant="outlined" color="secondary" aria-pressed={simulated} onClick={() => setSimulated(!simulated)}>
            {say`Simulated cars`}
          </Button>
        )}
      </Waiting>
    </Box>
  )
}

/** Laps that a release can have. */
const MOST_LAPS = 30

type WaitingProps = {
  track: TrackDay
  waiting: readonly TrackRun[]
  expected: readonly ExpectedLap[]
  laps: number
  simulated: boolean
  onLaps: (laps: number) => void
  children: ReactNode
}

/** Those who wait: their order with the laps they are expected to drive, the interval, and what comes of it. */
const Waiting = ({ track, waiting, expected, laps, simulated, onLaps, children }: WaitingProps) => {
  const [interval, setInterval_] = useState<number | null>(null)
  const [asPlanned, setAsPlanned] = useState(false)
  const [timed, setTimed] = useState(false)
  const { planned, order } = useMemo(() => {
    const cars = waiting.map((r, k): Released => {
      const { lap_s } = expected[k]
      return { id: r.run.id, lapTimes_s: [OUT_LAP * lap_s, ...Array.from({ length: laps - 1 }, () => lap_s)] }
    })
    const found = planRelease(cars)
    if (!asPlanned) return { planned: found, order: found.order.flatMap((id) => cars.filter((c) => c.id === id)) }
    // As the day's plan has them; what that closes is told all the same.
    const starts = new Map(track.day.plan.slots.map((slot, k) => [slot.id, `${slot.start} ${String(k).padStart(4, '0')}`]))
    const startOf = (id: string): string => starts.get(waiting.find((r) => r.run.id === id)?.run.slotId ?? '') ?? '99:99'
    const own = [...cars].sort((a, b) => startOf(a.id).localeCompare(startOf(b.id)))
    return { planned: { ...found, order: own.map((c) => c.id), conflict: releaseConflict(own, found.interval_s) }, order: own }
  }, [waiting, expected, laps, asPlanned, track.day.plan.slots])
  const { conflict } = planned
  const accounts = useQuery(accountsQuery)
  const instructorOf = (id: string): string => {
    const slotId = waiting.find((r) => r.run.id === id)?.run.slotId
    const instructorId = track.day.plan.slots.find((slot) => slot.id === slotId)?.instructorId
    const name = accounts.data?.find((a) => a.id === instructorId)?.name
    return name ? say`, with ${name}` : ''
  }
  const interval_s = interval ?? planned.interval_s
  const named = (id: string): string => {
    const run = waiting.find((r) => r.run.id === id)
    return run ? nameOf(run) : id
  }
  const restsOn = (drives: number): string =>
    drives === 0 ? say`expected, from the plan` : drives === 1 ? say`expected, from one drive` : say`expected, from ${drives} drives`
  return (
    <>
      <Box component="ol" className="figures" sx={{ m: 0, pl: 5 }}>
        {planned.order.map((id) => {
          const { lap_s, drives } = expected[waiting.findIndex((r) => r.run.id === id)]
          return (
            <li key={id}>
              {`${named(id)}${instructorOf(id)}: ${formatLapTime(lap_s, 1)} `}
              <Box component="span" sx={{ color: 'text.secondary' }}>
                {restsOn(drives)}
              </Box>
            </li>
          )
        })}
      </Box>
      <Stack direction="row" useFlexGap spacing={4} sx={{ alignItems: 'center', mt: 1, flexWrap: 'wrap' }}>
        <TextField
          label={say`Interval (s)`}
          type="number"
          value={interval_s}
          onChange={(e) => setInterval_(Math.max(5, Number(e.target.value) || 5))}
          sx={{ width: 90 }}
        />
        <WordHelp word="interval" />
        <Stack>
          <Typography component="span" sx={{ fontSize: 'size.note', color: 'text.secondary' }}>
            {say`Laps`}
          </Typography>
          <CountField key={laps} label={say`Laps of the release`} value={laps} min={1} max={MOST_LAPS} onChange={onLaps} />
        </Stack>
        <PickField
          label={say`Order`}
          value={asPlanned ? 'plan' : 'quick'}
          options={[['quick', say`quickest first`] as const, ['plan', say`as planned`] as const]}
          onPick={(order_) => setAsPlanned(order_ === 'plan')}
          width={140}
        />
        <PickField
          label={say`What for`}
          value={timed ? 'timed' : 'coached'}
          options={[['coached', say`coached laps`] as const, ['timed', say`out lap, timed laps, flag`] as const]}
          onPick={(what) => setTimed(what === 'timed')}
          width={190}
        />
        <Button
          variant="contained"
          disabled={track.stop !== null}
          onClick={() =>
            track.tell({
              kind: 'release',
              runIds: planned.order,
              interval_s,
              firstAt: new Date(Date.now() + 1000 * LEAD_S).toISOString(),
              laps,
              timed,
              simulated,
            })
          }
        >
          {say`Release ${waiting.length}`}
        </Button>
        {children}
        <Typography color={conflict || interval_s < planned.interval_s ? 'warning.main' : 'text.secondary'} sx={{ fontSize: 'size.text' }}>
          {conflict
            ? say`No interval keeps everyone apart: ${named(conflict.behindId)} catches ${named(conflict.aheadId)} on lap ${conflict.lap + 1}. Send fewer cars or fewer laps.`
            : interval_s < planned.interval_s
              ? say`Under ${planned.interval_s} s a gap closes within the run.`
              : say`Quickest first; no gap closes within the run at these paces.`}
        </Typography>
      </Stack>
      <ReleasePicture plan={track.plan} order={order} interval_s={interval_s} nameOf={named} />
    </>
  )
}

type ReleaseEvent = Extract<TrackDay['events'][number], { kind: 'release' }>

/** The programme of a release: so many coached laps, or an out lap and so many timed ones. */
const programmeOf = ({ laps = USUAL_LAPS, timed = false }: ReleaseEvent) =>
  timed ? { sighting: 0, coached: 0, timed: laps, coolDown: 1 } : { sighting: 0, coached: laps, coolDown: 1 }

/** The countdown, from what the server keeps of the release: another screen, or this one opened anew, goes on with it. */
const Countdown = ({ track, release }: { track: TrackDay; release: ReleaseEvent }) => {
  const { laps = USUAL_LAPS, simulated = false } = release
  const [now, setNow] = useState(Date.now)
  const sent = useRef(new Set<string>())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 200)
    return () => clearInterval(timer)
  }, [])
  const first = Date.parse(release.firstAt)
  const due = release.runIds.map((id, k) => ({ id, in_s: (first - now) / 1000 + k * release.interval_s }))
  useEffect(() => {
    if (track.stop) return
    for (const { id, in_s } of due) {
      const run = track.open.find((r) => r.run.id === id)
      if (in_s > 0 || !run || run.state.programme || sent.current.has(id)) continue
      sent.current.add(id)
      const program = programmeOf(release)
      void logRunEvent(id, { kind: 'sent-out', program })
      if (simulated)
        void call(api.simulateLogger, {
          params: { runId: id },
          body: { seed: seedOf(id), laps, coolDown: program.coolDown, speedFactor: 1 },
        }).catch(() => sent.current.delete(id))
    }
  })
  return (
    <Box component="section" aria-label={say`Release`}>
      <Typography variant="head">{track.stop ? say`Release is held: the session is stopped` : say`Release`}</Typography>
      <Stack direction="row" spacing={5} useFlexGap sx={{ flexWrap: 'wrap' }}>
        {due.map(({ id, in_s }) => {
          const run = track.open.find((r) => r.run.id === id)
          if (!run) return null
          const gone = run.state.programme !== null
          return (
            <Box key={id} sx={{ minWidth: 120, opacity: gone ? 0.55 : 1 }}>
              <Box className="figures" sx={{ fontSize: 'size.title', fontWeight: 720, lineHeight: 1 }}>
                {gone ? say`out` : track.stop ? say`held` : Math.max(0, Math.ceil(in_s))}
              </Box>
              <Box>{nameOf(run)}</Box>
            </Box>
          )
        })}
      </Stack>
    </Box>
  )
}
